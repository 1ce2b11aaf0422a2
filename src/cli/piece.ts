/** Reading a piece and working it out, shared by the commands. */
import { readFileSync } from "node:fs";
import { dirname, resolve } from "node:path";
import { readDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { AssetShelf, openWith } from "../core/evaluate/asset-shelf";
import { type Evaluation, Evaluator } from "../core/evaluate/evaluator";
import { prepareLibraries } from "../core/evaluate/libraries";
import type { EvaluateOptions } from "../core/evaluate/options";
import type { EvaluationReport } from "../core/evaluate/report";
import { asTakenAway } from "../core/evaluate/taken-away";
import { setHelpers } from "../core/kernels/helpers";
import { DiskCache, markOf } from "../core/simulate/disk-cache";
import { demoAssets, demoNames, readDemo, sha256 } from "../server/demo";
import { openFileDisk } from "../server/file-disk";
import { helpersOnDemand } from "../server/threads/start-helpers";
import { PieceError, WrongCall } from "./faults";

export interface OpenPiece {
  readonly document: PieceDocument;
  evaluate(frame: number, options?: EvaluateOptions): Evaluation;
}

/** Opens `demo:NAME` or a file, as the stage shows it or as it is taken away; its assets come from the demo set or from beside the file. */
export async function openPiece(
  file: string,
  { takenAway = false }: { readonly takenAway?: boolean } = {},
): Promise<OpenPiece> {
  const read = file.startsWith("demo:") ? demoPiece(file.slice(5)) : filePiece(file);
  const document = takenAway ? asTakenAway(read) : read;
  const demo = demoAssets();
  const folder = file.startsWith("demo:") ? "." : dirname(resolve(file));
  const shelf = new AssetShelf(
    openWith(async (hash) => demo.get(hash)?.bytes ?? besideFile(document, folder, hash)),
  );
  await Promise.all([shelf.prepare(document), prepareLibraries(document)]);
  const evaluator = new Evaluator();
  const disk = openFileDisk(`${markOf(resolve(file))}.states`);
  if (disk) evaluator.simulation.disk = new DiskCache(disk);
  // Before the file is given back to other processes.
  process.prependOnceListener("exit", () => evaluator.simulation.flush());
  setHelpers(helpersOnDemand());
  return {
    document,
    evaluate: (frame, options) =>
      evaluator.evaluate(document, frame, { assets: shelf.lookup(document), ...options }),
  };
}

function demoPiece(name: string): PieceDocument {
  if (!demoNames().includes(name))
    throw new WrongCall(`There is no demo piece "${name}". There are: ${demoNames().join(", ")}.`);
  return readDemo(name);
}

function filePiece(file: string): PieceDocument {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch {
    throw new WrongCall(`"${file}" cannot be read.`);
  }
  const read = readDocument(text);
  if (!read.ok) throw new PieceError(read.faults.map((f) => `${f.where || file}: ${f.what}`).join("\n"));
  return read.document;
}

function besideFile(document: PieceDocument, folder: string, hash: string): Uint8Array {
  const entry = Object.values(document.assets).find((asset) => asset.hash === hash);
  const path = resolve(folder, entry?.file ?? "");
  let bytes: Uint8Array;
  try {
    bytes = new Uint8Array(readFileSync(path));
  } catch {
    throw new Error(`"${entry?.file}" is not beside the piece.`);
  }
  if (sha256(bytes) !== hash)
    throw new Error(`"${entry?.file}" beside the piece is not the file it was made with.`);
  return bytes;
}

/** Lets threads that have started meanwhile say that they are ready. */
export const betweenFrames = (): Promise<void> => new Promise((done) => setImmediate(done));

/** Every error of a report, one a line: node, port, what, repair. */
export function errorLines(report: EvaluationReport): string[] {
  const lines = report.problems.filter((p) => p.level === "error").map((p) => p.what);
  for (const [node, { problems }] of Object.entries(report.nodes)) {
    for (const p of problems) {
      if (p.level === "error")
        lines.push([node, p.input, p.what, p.repair?.label].filter(Boolean).join(": "));
    }
  }
  return lines;
}

export function parseFrame(text: string | undefined, fallback: number): number {
  if (text === undefined) return fallback;
  const frame = Number(text);
  if (text === "" || !Number.isFinite(frame)) throw new WrongCall(`"${text}" is no frame number.`);
  return frame;
}

/** `A..B`, both included, or one number. */
export function parseFrames(
  text: string | undefined,
  fallback: readonly [number, number],
): readonly [number, number] {
  if (text === undefined) return fallback;
  const found = /^(-?\d+)(?:\.\.(-?\d+))?$/.exec(text);
  if (!found) throw new WrongCall(`"${text}" is no range of frames; write 0..99 or 12.`);
  const first = Number(found[1]);
  const last = found[2] === undefined ? first : Number(found[2]);
  if (last < first) throw new WrongCall(`The range ${text} runs backwards.`);
  return [first, last];
}

/**
 * One of n ranges, as equal as can be, that follow each other: `2/4` is the second of four. Empty when there are more parts than
 * frames. @throws WrongCall
 */
export function partOf([first, last]: readonly [number, number], part: string | undefined): [number, number] {
  if (part === undefined) return [first, last];
  const [, i, n] = /^(\d+)\/(\d+)$/.exec(part)?.map(Number) ?? [];
  if (!(n >= 1 && i >= 1 && i <= n)) throw new WrongCall("--part is i/n, such as 1/4 for the first of four.");
  const count = last - first + 1;
  const begin = (k: number) => first + Math.floor((count * k) / n);
  return [begin(i - 1), begin(i) - 1];
}
