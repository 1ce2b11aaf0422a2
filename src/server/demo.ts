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

/** Names of the demo pieces in order. */
export const demoNames = (): string[] =>
  readdirSync(DEMO_FOLDER)
    .filter((file) => file.endsWith(ENDING))
    .map((file) => file.slice(0, -ENDING.length))
    .sort();

/** @throws Error naming the piece and its faults */
export function readDemo(name: string): PieceDocument {
  if (!demoNames().includes(name))
    throw new Error(`There is no demo piece "${name}". There are: ${demoNames().join(", ")}.`);
  const read = readDocument(readFileSync(join(DEMO_FOLDER, name + ENDING), "utf8"));
  if (!read.ok) throw new Error(`The demo piece "${name}" is damaged: ${faultsText(read.faults)}`);
  return read.document;
}

/** The capsules that ship with the application, by name. @throws Error naming the one that is damaged */
export const shippedCapsules = (): Map<string, PieceDocument> => shipped("capsules");

/** The recipes that ship, likewise. */
export const shippedRecipes = (): Map<string, PieceDocument> => shipped("recipes");

/** What a new piece may begin with, in order, likewise. */
export const shippedStarters = (): Map<string, PieceDocument> => shipped("starters");

function shipped(kind: "capsules" | "recipes" | "starters"): Map<string, PieceDocument> {
  const folder = join(DEMO_FOLDER, kind);
  const files = readdirSync(folder)
    .filter((file) => file.endsWith(ENDING))
    .sort();
  return new Map(
    files.map((file) => {
      const read = readDocument(readFileSync(join(folder, file), "utf8"));
      if (!read.ok) throw new Error(`"${kind}/${file}" is damaged: ${faultsText(read.faults.slice(0, 1))}`);
      return [file.slice(0, -ENDING.length), read.document];
    }),
  );
}

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
