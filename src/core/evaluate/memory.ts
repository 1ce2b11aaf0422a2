import type { Domain, Lane } from "../geometry/column";
import { lanesIn } from "../geometry/column";
import type { AnyNode, Problem } from "../nodes/define";
import { lanesOfValues } from "../values/kinds";
import type { Left } from "./scope";

/** What is remembered of a node. */
export interface Remembered {
  /** How the node is declared: the kinds of its inputs and outputs. */
  readonly definition: AnyNode;
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
  readonly left: Left | null;
  /** It keeps something for its next run, which does not cross to another thread. */
  readonly keeps: boolean;
}

/** What holds results of other frames. */
interface OtherFrames {
  readonly memory: ResultMemory;
  sort(): void;
  dispose(): void;
}

/** The last result of every node, by id. */
export class ResultMemory {
  private readonly results = new Map<string, Remembered>();
  private readonly timeCaches = new Map<string, OtherFrames>();
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

  /** Room in which a node looks at other frames; `make` is called when it has not asked yet. */
  timeCacheOf<T extends OtherFrames>(node: string, make: () => T): T {
    let cache = this.timeCaches.get(node) as T | undefined;
    if (!cache) this.timeCaches.set(node, (cache = make()));
    return cache;
  }

  /** Forgets all nodes for which there is no such key. */
  keepOnly(nodes: ReadonlyMap<string, unknown>): void {
    for (const id of this.results.keys()) if (!nodes.has(id)) this.delete(id);
    for (const [id, cache] of this.timeCaches)
      if (!nodes.has(id)) {
        cache.dispose();
        this.timeCaches.delete(id);
      }
  }

  /** Gives back what is left of other frames and nobody may read any more. */
  sortTimeCaches(): void {
    for (const cache of this.timeCaches.values()) {
      cache.sort();
      cache.memory.sortTimeCaches();
    }
  }

  /** Every lane that a later evaluation or an inspection may read, at other frames too. */
  *lanes(): Generator<Lane> {
    this.changed = false;
    for (const { definition, inputs, outputs, domains, left } of this.results.values()) {
      yield* lanesOfValues(definition.inputs, inputs);
      yield* lanesOfValues(definition.outputs, outputs);
      for (const domain of domains) yield* lanesIn(domain);
      if (left) yield* left.lanes();
    }
    for (const { memory } of this.timeCaches.values()) yield* memory.lanes();
  }
}
