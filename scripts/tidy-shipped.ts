/** Lays out the graphs of the demo pieces, capsules and recipes, or of the files that are named, as Tidy does. */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Elk from "elkjs/lib/elk.bundled.js";
import { applyEdit, openCapsule } from "../src/core/document/edits";
import { readDocument, writeDocument } from "../src/core/document/read";
import type { PieceDocument } from "../src/core/document/schema";
import { DEMO_FOLDER } from "../src/server/files";
import { tidyEdit } from "../src/studio/graph/layout/tidy";

/** Width to height of the graph's area in a studio of 1280 × 800. */
const SHAPE = 0.85;

const elk = new Elk();

const shipped = (): string[] =>
  [".", "capsules", "recipes", "starters"].flatMap((folder) =>
    readdirSync(join(DEMO_FOLDER, folder))
      .filter((file) => file.endsWith(".glemmo.json"))
      .map((file) => join(DEMO_FOLDER, folder, file)),
  );

async function tidied(document: PieceDocument): Promise<PieceDocument> {
  const edit = await tidyEdit(elk, document, new Set(), new Map(), SHAPE);
  return edit ? applyEdit(document, edit).document : document;
}

const named = process.argv.slice(2);
for (const file of named.length > 0 ? named : shipped()) {
  const read = readDocument(readFileSync(file, "utf8"));
  if (!read.ok) throw new Error(`${file}: ${read.faults[0]?.what}`);
  const document = await tidied(read.document);
  const capsules = { ...document.capsules };
  for (const name of Object.keys(capsules))
    capsules[name] = { ...capsules[name], graph: (await tidied(openCapsule(document, name))).graph };
  writeFileSync(file, writeDocument({ ...document, capsules }));
}
