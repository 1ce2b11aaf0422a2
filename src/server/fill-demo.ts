/** Adds the demo pieces and their assets to the database, once; pieces that are there are left alone. */

import { writeValue } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { storeAsset } from "./assets";
import { fillCapsules, shippedVersions } from "./capsules";
import type { Db } from "./database";
import { demoAssets, demoNames, readDemo, shippedCapsules } from "./demo";
import { createPiece, saveThumbnail } from "./pieces";
import { SHIPPED_FRAMES, shippedPicture } from "./shipped-pictures";

export function fillDemo(db: Db): number {
  for (const { file, bytes } of demoAssets().values()) storeAsset(db, file, bytes);
  const known = db.prepare("SELECT 1 FROM pieces WHERE demo = ?");
  const missing = demoNames().filter((name) => !known.get(name));
  const begun = Date.now();
  const shipped = shippedCapsules();
  fillCapsules(db, shipped);
  db.transaction(() => {
    // The first demo is touched last, so that the shelf shows it first.
    missing.forEach((name, i) => {
      const document = readDemo(name);
      const { id, revision } = createPiece(
        db,
        fromLibrary(db, document, shipped),
        name,
        new Date(begun - i * 1000).toISOString(),
      );
      const bytes = shippedPicture(name, document);
      if (bytes) saveThumbnail(db, id, revision, { type: "image/webp", frames: SHIPPED_FRAMES, bytes });
    });
  })();
  return missing.length;
}

/** The piece with those of its capsules that ship told where they are in the library. */
function fromLibrary(
  db: Db,
  document: PieceDocument,
  shipped: ReadonlyMap<string, PieceDocument>,
): PieceDocument {
  const known = new Map(shippedVersions(db).map(({ shipped: name, id, version }) => [name, { id, version }]));
  const capsules = Object.entries(document.capsules).map(([name, capsule]) => {
    const library = known.get(name);
    const same = writeValue(shipped.get(name)?.capsules[name]) === writeValue(capsule);
    return [name, library && same ? { ...capsule, library } : capsule];
  });
  return { ...document, capsules: Object.fromEntries(capsules) };
}
