import { isValue, lanesHeldBy } from "../fields/expression";
import type { Domain, Lane } from "../geometry/column";
import { lanesIn } from "../geometry/column";
import { arraysOf, type Shape } from "../geometry/shape";
import type { Problem } from "../nodes/define";

/** What is remembered of a node. */
export interface Remembered {
  /** Everything that it depends on but the time. */
  readonly key: string;
  /** Frame, rate and range that it was worked out for, when it depends on time. */
  readonly moment: string | undefined;
  readonly inputs: Readonly<Record<string, unknown>>;
  readonly outputs: Readonly<Record<string, unknown>>;
  readonly problems: readonly Problem[];
  readonly ms: number;
  /** Domains on which it ran fields. */
  readonly domains: readonly Domain[];
  /** What the node left for its next run. */
  readonly left: unknown;
}

export const isShape = (value: unknown): value is Shape =>
  typeof value === "object" && value !== null && !Array.isArray(value) && !("step" in value);

/** The last result of every node, by id. */
export class ResultMemory {
  private readonly results = new Map<string, Remembered>();
  private readonly pasts = new Map<string, { dispose(): void }>();
  /** Something was remembered or forgotten since `lanes` were last asked for. */
  changed = false;

  get(node: string): Remembered | undefined {
    return this.results.get(node);
  }

  set(node: string, result: Remembered): void {
    this.results.set(node, result);
    this.changed = true;
  }

  delete(node: string): void {
    if (this.results.delete(node)) this.changed = true;
  }

  /** What a node knows of other frames; `make` is called when it has not asked yet. */
  pastOf<T extends { dispose(): void }>(node: string, make: () => T): T {
    let past = this.pasts.get(node) as T | undefined;
    if (!past) this.pasts.set(node, (past = make()));
    return past;
  }

  /** Forgets all nodes for which there is no such key. */
  keepOnly(nodes: ReadonlyMap<string, unknown>): void {
    for (const id of this.results.keys()) if (!nodes.has(id)) this.delete(id);
    for (const [id, past] of this.pasts)
      if (!nodes.has(id)) {
        past.dispose();
        this.pasts.delete(id);
      }
  }

  /** Every lane that a later evaluation or an inspection may read. */
  *lanes(): Generator<Lane> {
    this.changed = false;
    for (const { inputs, outputs, domains } of this.results.values()) {
      for (const values of [inputs, outputs])
        for (const value of Object.values(values).flat()) {
          if (isShape(value)) yield* arraysOf(value);
          else if (isValue(value)) yield* lanesHeldBy(value);
        }
      for (const domain of domains) yield* lanesIn(domain);
    }
  }
}
