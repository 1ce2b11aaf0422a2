/** Frames that were worked out while a piece plays, so that playing it again only draws them. */
import type { PieceDocument } from "../core/document/schema";
import { MemoryTally } from "../core/evaluate/budget";
import type { Evaluation, Evaluator } from "../core/evaluate/evaluator";

/** Bytes of the columns and meshes of all frames together. */
const MOST_BYTES = 512 * 2 ** 20;

export class FrameBuffer {
  private document: PieceDocument | null = null;
  private readonly frames = new Map<number, { readonly result: Evaluation; readonly release: () => void }>();
  private held = new MemoryTally(Number.POSITIVE_INFINITY);

  constructor(
    private readonly evaluator: Evaluator,
    private readonly most = MOST_BYTES,
  ) {}

  /** The result at a frame; undefined when it is not there, or is of another document. */
  get(document: PieceDocument, frame: number): Evaluation | undefined {
    return document === this.document ? this.frames.get(frame)?.result : undefined;
  }

  /** Keeps a result while there is room. The first one of a document only empties the buffer: a drag changes it every time. */
  put(document: PieceDocument, frame: number, result: Evaluation): void {
    if (document !== this.document) {
      this.clear();
      this.document = document;
      return;
    }
    const { shape, report } = result;
    if (!shape || !report.complete || this.frames.has(frame) || this.held.bytes > this.most) return;
    this.held.add(shape);
    this.frames.set(frame, { result, release: this.evaluator.keep(shape) });
  }

  private clear(): void {
    for (const { release } of this.frames.values()) release();
    this.frames.clear();
    this.held = new MemoryTally(Number.POSITIVE_INFINITY);
  }
}
