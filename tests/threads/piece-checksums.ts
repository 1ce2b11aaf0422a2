/** A checksum of everything that frames of a piece are made of; core only, so that it runs in Node and in a page. */
import { definitionOf } from "../../src/core/capsules/definitions";
import type { PieceDocument } from "../../src/core/document/schema";
import { drawingOf } from "../../src/core/draw/drawing";
import { AssetShelf, openWith } from "../../src/core/evaluate/asset-shelf";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { prepareLibraries } from "../../src/core/evaluate/libraries";
import { arraysOf } from "../../src/core/geometry/domains";
import { arenaRules } from "../../src/core/kernels/arena";
import { mixSigned } from "../../src/core/maths/random";

/** Frames of each piece, spread over its range; over its first two seconds where each follows from those before. */
export const FRAMES = 20;
const SECONDS = 2;
/** How many of them are enough where all have been looked at in another way. */
export const FIRST_FRAMES = 4;

export interface Piece {
  readonly name: string;
  readonly document: PieceDocument;
}

/** Two 32-bit hashes over the bits of all arrays in order. */
class Checksum {
  private a = 1;
  private b = 2;

  add(array: ArrayBufferView): void {
    const words = new Uint32Array(array.buffer, array.byteOffset, array.byteLength >> 2);
    for (const word of words) {
      this.a = mixSigned(this.a ^ word);
      this.b = (Math.imul(this.b, 0x01000193) ^ word) | 0;
    }
  }

  toString(): string {
    return [this.a, this.b].map((n) => (n >>> 0).toString(16).padStart(8, "0")).join("");
  }
}

/** Of each frame, by name. @param bytesOf bytes of an asset by its hash @param frames how many of the first of `FRAMES` */
export async function pieceChecksums(
  pieces: readonly Piece[],
  bytesOf: (hash: string) => Uint8Array,
  frames: number,
): Promise<Record<string, readonly string[]>> {
  // Short lanes in the kernels' memory too, so that other threads may take part.
  arenaRules({ shortest: 256, poison: null });
  const sums: Record<string, readonly string[]> = {};
  for (const { name, document } of pieces) {
    const shelf = new AssetShelf(openWith(async (hash) => bytesOf(hash)));
    await Promise.all([shelf.prepare(document), prepareLibraries(document)]);
    const evaluator = new Evaluator();
    const ofFrames: string[] = [];
    const { first, last, fps } = document.settings;
    const isStepped = document.graph.nodes.some(({ type }) => definitionOf(document, type)?.stepping);
    const range = isStepped ? Math.min(last - first + 1, SECONDS * fps) : last - first + 1;
    for (let i = 0; i < frames; i++) {
      const sum = new Checksum();
      const frame = first + Math.floor((i * range) / FRAMES);
      const { shape } = evaluator.evaluate(document, frame, { assets: shelf.lookup(document) });
      if (!shape) throw new Error(`${name} fails at frame ${frame}.`);
      for (const array of arraysOf(shape)) sum.add(array);
      const { batches, bounds } = drawingOf(shape);
      for (const { matrices, colors } of batches) {
        sum.add(matrices);
        sum.add(colors);
      }
      if (bounds) sum.add(Float64Array.from([...bounds.min, ...bounds.max]));
      ofFrames.push(sum.toString());
    }
    sums[name] = ofFrames;
  }
  return sums;
}
