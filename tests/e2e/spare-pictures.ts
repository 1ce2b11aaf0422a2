/**
 * Gives the demo pieces that are not to be drawn a plain picture, which stays when they are changed: a shelf that draws ten
 * thousand drops anew holds the next page up for half a minute.
 */
import { database } from "../../src/server/database";
import { listPieces, saveThumbnail } from "../../src/server/pieces";
import { DRAWN } from "./drawn-pieces";

/** One transparent pixel (PNG). */
const PIXEL = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
  "base64",
);

const db = database();
for (const { id, name, revision } of listPieces(db))
  if (!DRAWN.includes(name)) saveThumbnail(db, id, revision, { type: "image/png", frames: 12, bytes: PIXEL });
db.exec(`
  CREATE TABLE plain_pictures AS SELECT piece FROM thumbnails;
  CREATE TRIGGER plain_pictures_stay AFTER UPDATE OF revision ON pieces
  WHEN NEW.id IN (SELECT piece FROM plain_pictures)
  BEGIN
    UPDATE thumbnails SET revision = NEW.revision WHERE piece = NEW.id;
  END;
`);
