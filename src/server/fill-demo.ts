/** Adds the demo pieces and their assets to the database, once; pieces that are there are left alone. */
import { storeAsset } from "./assets";
import { fillCapsules } from "./capsules";
import { DatabaseDamaged, type Db, database } from "./database";
import { demoAssets, demoNames, readDemo, shippedCapsules } from "./demo";
import { createPiece, forgetDeleted } from "./pieces";

export function fillDemo(db: Db): number {
  for (const { file, bytes } of demoAssets().values()) storeAsset(db, file, bytes);
  const known = db.prepare("SELECT 1 FROM pieces WHERE demo = ?");
  const missing = demoNames().filter((name) => !known.get(name));
  const begun = Date.now();
  db.transaction(() => {
    // The first demo is touched last, so that the shelf shows it first.
    missing.forEach((name, i) => {
      createPiece(db, readDemo(name), name, new Date(begun - i * 1000).toISOString());
    });
  })();
  fillCapsules(db, shippedCapsules());
  return missing.length;
}

function main(): void {
  const db = database();
  forgetDeleted(db);
  const added = fillDemo(db);
  console.log(added > 0 ? `Added ${added} demo pieces.` : "The demo pieces are there.");
}

if (process.argv[1]?.endsWith("fill-demo.ts")) {
  try {
    main();
  } catch (error) {
    if (!(error instanceof DatabaseDamaged)) throw error;
    console.error(error.message);
    process.exitCode = 1;
  }
}
