import type { PieceDocument } from "../document/schema";
import { runValues } from "../fields/run";
import type { Domain } from "../geometry/column";
import type { FrameTime, NodeContext, Problem, Repair } from "../nodes/define";

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
  ) {}

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
