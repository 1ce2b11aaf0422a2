/** Frames that were worked out while a piece plays, so that playing it again only draws them. */
import type { PieceDocument } from "../core/document/schema";
import { workText } from "../core/document/work-text";
import { MemoryTally } from "../core/evaluate/budget";
import type { Evaluation, Evaluator } from "../core/evaluate/evaluator";
import { type FrameRanges, rangesOf } from "./frame-ranges";

/** Bytes of the columns and meshes of all frames together. */
const MOST_BYTES = 512 * 2 ** 20;

export class FrameBuffer {
  /** What the frames are of, see workText. */
  private work: string | null = null;
  private readonly results = new Map<number, { readonly result: Evaluation; readonly release: () => void }>();
  private held = new MemoryTally(Number.POSITIVE_INFINITY);
  /** Frames that were there before the last change. */
  private readonly staleFrames = new Set<number>();

  constructor(
    private readonly evaluator: Evaluator,
    private readonly most = MOST_BYTES,
    /** Whether the engine's memory has room for frames ahead. */
    private readonly hasRoom: () => boolean = () => true,
  ) {}

  get bytes(): number {
    return this.held.bytes;
  }

  /** The result at a frame; undefined when it is not there, or is of a document that comes to something else. */
  get(document: PieceDocument, frame: number): Evaluation | undefined {
    return workText(document) === this.work ? this.results.get(frame)?.result : undefined;
  }

  /** Frames that need only be drawn, and those that were before the last change. */
  get frames(): { readonly ready: FrameRanges; readonly stale: FrameRanges } {
    return { ready: rangesOf(this.results.keys()), stale: rangesOf(this.staleFrames) };
  }

  /** Whether a result would be kept: there is room, and it is not there. */
  wants(document: PieceDocument, frame: number): boolean {
    return workText(document) !== this.work || (!this.results.has(frame) && this.isOpen);
  }

  /** Empties the buffer when what is worked out has changed. */
  turnTo(document: PieceDocument): boolean {
    const work = workText(document);
    if (work === this.work) return false;
    this.clear();
    this.work = work;
    return true;
  }

  /** Keeps a result while there is room. The first one of other work only empties the buffer: a drag changes it every time. */
  put(document: PieceDocument, frame: number, result: Evaluation): void {
    if (this.turnTo(document)) return;
    const { shape, report } = result;
    if (!shape || !report.complete || this.results.has(frame) || !this.isOpen) return;
    this.held.add(shape);
    this.staleFrames.delete(frame);
    this.results.set(frame, { result, release: this.evaluator.keep(shape) });
  }

  private get isOpen(): boolean {
    return this.held.bytes <= this.most && this.hasRoom();
  }

  /** Gives all frames up. */
  clear(): void {
    for (const [frame, { release }] of this.results) {
      release();
      this.staleFrames.add(frame);
    }
    this.results.clear();
    this.held = new MemoryTally(Number.POSITIVE_INFINITY);
  }
}
