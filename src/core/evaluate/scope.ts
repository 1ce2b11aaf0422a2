import type { PieceDocument } from "../document/schema";
import { runValues } from "../fields/run";
import type { Domain, Lane } from "../geometry/column";
import type { Before, FrameTime, Keyed, NodeContext, Problem, Repair } from "../nodes/define";
import type { State } from "../simulate/state";

/** How a node gets at other frames, and at its own keys; only what it declares. */
export type Declared = Partial<Pick<NodeContext, "at" | "before" | "carried" | "isStill" | "keysOf">>;

/** What a node left for its next run, and the memory of the evaluation that it reads. */
export interface Left {
  readonly value: unknown;
  readonly lanes: () => readonly Lane[];
}

/** What a node sees of the evaluation, and what it leaves behind. */
export class NodeScope implements NodeContext {
  readonly problems: Problem[] = [];
  readonly domains: Domain[] = [];
  readTime = false;
  /** For the node's next run. */
  left: Left | null = null;

  constructor(
    readonly node: string,
    private readonly document: Pick<PieceDocument, "settings">,
    private readonly frame: number,
    private readonly leftBefore: Left | null,
    private readonly declared: Declared = {},
  ) {}

  at<I, T>(frame: number, read: (inputs: I) => T): T {
    if (!this.declared.at) throw this.undeclared("otherFrames");
    return this.declared.at(frame, read);
  }

  isStill(): boolean {
    if (!this.declared.isStill) throw this.undeclared("otherFrames");
    return this.declared.isStill();
  }

  before(substeps: number): Before {
    if (!this.declared.before) throw this.undeclared("readsBefore");
    this.readTime = true;
    return this.declared.before(substeps);
  }

  carried<S extends State>(): S {
    if (!this.declared.carried) throw this.undeclared("stepping");
    this.readTime = true;
    return this.declared.carried();
  }

  keysOf(input: string): Keyed | null {
    if (!this.declared.keysOf) throw this.undeclared("ownKeys");
    return this.declared.keysOf(input);
  }

  private undeclared(what: string): Error {
    return new Error(`"${this.node}" does not declare "${what}".`);
  }

  reuse<T>(make: (before: T | null) => T, lanes: (made: T) => readonly Lane[] = () => []): T {
    const made = make((this.leftBefore?.value ?? null) as T | null);
    // More may be added to it while the node runs.
    this.left = { value: made, lanes: () => lanes(made) };
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
    if (notFinite > 0) {
      // Lanes that are the same are counted once.
      const all = new Set(lanes).size * domain.count;
      this.warn(`${notFinite} of ${all} numbers were not finite and became 0.`);
    }
    return lanes;
  }
}
