/** Frames that were worked out while a piece plays, so that playing it again only draws them. */
import type { PieceDocument } from "../core/document/schema";
import { workText } from "../core/document/work-text";
import { MemoryTally } from "../core/evaluate/budget";
import type { Evaluation, Evaluator } from "../core/evaluate/evaluator";

/** Bytes of the columns and meshes of all frames together. */
const MOST_BYTES = 512 * 2 ** 20;

export class FrameBuffer {
  /** What the frames are of, see workText. */
  private work: string | null = null;
  private readonly frames = new Map<number, { readonly result: Evaluation; readonly release: () => void }>();
  private held = new MemoryTally(Number.POSITIVE_INFINITY);

  constructor(
    private readonly evaluator: Evaluator,
    private readonly most = MOST_BYTES,
  ) {}

  /** The result at a frame; undefined when it is not there, or is of a document that comes to something else. */
  get(document: PieceDocument, frame: number): Evaluation | undefined {
    return workText(document) === this.work ? this.frames.get(frame)?.result : undefined;
  }

  /** Keeps a result while there is room. The first one of other work only empties the buffer: a drag changes it every time. */
  put(document: PieceDocument, frame: number, result: Evaluation): void {
    const work = workText(document);
    if (work !== this.work) {
      this.clear();
      this.work = work;
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
