import type { Domain } from "../geometry/column";
import type { Problem } from "../nodes/define";

/** What is remembered of a node. */
export interface Remembered {
  readonly key: string;
  readonly version: string;
  /** The frame it was worked out for, when it depends on time. */
  readonly frame: number | undefined;
  readonly inputs: Readonly<Record<string, unknown>>;
  readonly outputs: Readonly<Record<string, unknown>>;
  readonly problems: readonly Problem[];
  readonly ms: number;
  /** Domains on which it ran fields. */
  readonly domains: readonly Domain[];
}
