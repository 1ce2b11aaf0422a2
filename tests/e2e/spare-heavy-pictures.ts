/**
 * Gives the demo pieces of many clones a plain picture, so that software rendering does not spend the tests' time on
 * their thumbnails; the others are drawn as always.
 */
import { database } from "../../src/server/database";
import { listPieces, saveThumbnail } from "../../src/server/pieces";
import { HEAVY } from "./heavy-pieces";

/** One transparent pixel (PNG). */
const PIXEL = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
  "base64",
);

const db = database();
for (const { id, name, revision } of listPieces(db))
  if (HEAVY.includes(name)) saveThumbnail(db, id, revision, { type: "image/png", frames: 12, bytes: PIXEL });
