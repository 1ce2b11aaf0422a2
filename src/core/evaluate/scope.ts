import type { PieceDocument } from "../document/schema";
import { runValues } from "../fields/run";
import type { Domain } from "../geometry/column";
import type { Following, FrameTime, NodeContext, Problem, Repair } from "../nodes/define";

/** How a node gets at other frames. */
export type Elsewhen = Pick<NodeContext, "at" | "follow">;

/** What a node sees of the evaluation, and what it leaves behind. */
export class NodeScope implements NodeContext {
  readonly problems: Problem[] = [];
  readonly domains: Domain[] = [];
  readTime = false;
  /** For the node's next run. */
  left: unknown = null;

  constructor(
    readonly node: string,
    private readonly document: Pick<PieceDocument, "settings">,
    private readonly frame: number,
    private readonly leftBefore: unknown,
    /** Missing for nodes that do not ask for other frames. */
    private readonly elsewhen: Elsewhen | null = null,
  ) {}

  at<I, T>(frame: number, read: (inputs: I) => T): T {
    if (!this.elsewhen) throw new Error(`"${this.node}" does not declare that it asks for other frames.`);
    return this.elsewhen.at(frame, read);
  }

  follow<I, S>(following: Following<I, S>): S {
    if (!this.elsewhen) throw new Error(`"${this.node}" does not declare that it asks for other frames.`);
    this.readTime = true;
    return this.elsewhen.follow(following);
  }

  reuse<T>(make: (before: T | null) => T): T {
    const made = make(this.leftBefore as T | null);
    this.left = made;
    return made;
  }

  get time(): FrameTime {
    this.readTime = true;
    const { first, last, fps } = this.document.settings;
    return { frame: this.frame, first, last, framesPerSecond: fps };
  }

  get seed(): number {
    return this.document.settings.seed;
  }

  warn(what: string, details: { input?: string; repair?: Repair } = {}): void {
    this.problems.push({ level: "warning", what, ...details });
  }

  note(what: string): void {
    this.problems.push({ level: "note", what });
  }

  run(values: Parameters<typeof runValues>[0], domain: Domain): Float32Array[] {
    this.domains.push(domain);
    const { lanes, report } = runValues(values, domain, { onlyFinite: true });
    for (const name of report.missing) {
      this.warn(`No attribute "${name}" arrives; its default is used instead.`);
    }
    const { notFinite } = report;
    if (notFinite > 0)
      this.warn(`${notFinite} of ${lanes.length * domain.count} numbers were not finite and became 0.`);
    return lanes;
  }
}
