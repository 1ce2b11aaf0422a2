/** The demo pieces that ship with the application: documents and their assets. */
import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { faultsText } from "../core/document/fault";
import { readDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { DEMO_FOLDER } from "./files";

const ENDING = ".glemmo.json";

export const sha256 = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** Folders of documents that ship; demo pieces lie above the others. */
type Kind = "." | "capsules" | "recipes" | "starters";

const namesIn = (kind: Kind): string[] =>
  readdirSync(join(DEMO_FOLDER, kind))
    .filter((file) => file.endsWith(ENDING))
    .map((file) => file.slice(0, -ENDING.length))
    .sort();

/** @param what it is, for the message @throws Error saying that it is damaged, and where */
function readShipped(kind: Kind, name: string, what: string): PieceDocument {
  const read = readDocument(readFileSync(join(DEMO_FOLDER, kind, name + ENDING), "utf8"));
  if (!read.ok) throw new Error(`${what} is damaged: ${faultsText(read.faults)}`);
  return read.document;
}

const shipped = (kind: Kind): Map<string, PieceDocument> =>
  new Map(namesIn(kind).map((name) => [name, readShipped(kind, name, `"${kind}/${name}${ENDING}"`)]));

/** Names of the demo pieces in order. */
export const demoNames = (): string[] => namesIn(".");

/** @throws Error naming the piece and its faults */
export function readDemo(name: string): PieceDocument {
  if (!demoNames().includes(name))
    throw new Error(`There is no demo piece "${name}". There are: ${demoNames().join(", ")}.`);
  return readShipped(".", name, `The demo piece "${name}"`);
}

/** The capsules that ship with the application, by name. @throws Error naming the one that is damaged */
export const shippedCapsules = (): Map<string, PieceDocument> => shipped("capsules");

/** The recipes that ship, likewise. */
export const shippedRecipes = (): Map<string, PieceDocument> => shipped("recipes");

/** What a new piece may begin with, in order, likewise. */
export const shippedStarters = (): Map<string, PieceDocument> => shipped("starters");

/** One of them; undefined when there is none of that name. */
export const shippedStarter = (name: string): PieceDocument | undefined =>
  namesIn("starters").includes(name) ? readShipped("starters", name, `The starter "${name}"`) : undefined;

/** Bytes of all demo assets by hash. */
export function demoAssets(): Map<string, { file: string; bytes: Uint8Array }> {
  const folder = join(DEMO_FOLDER, "assets");
  return new Map(
    readdirSync(folder).map((file) => {
      const bytes = readFileSync(join(folder, file));
      return [sha256(bytes), { file, bytes: new Uint8Array(bytes) }];
    }),
  );
}
