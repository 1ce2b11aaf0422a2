/** What one evaluation says of every node. Plain data, so that it can be sent between threads. */
import type { Tally } from "../geometry/shape";
import type { Hint, Problem } from "../nodes/define";

/** `waiting`: something upstream failed. `unused`: nothing that reaches the stage needs it. */
export type NodeState = "ran" | "reused" | "failed" | "waiting" | "unused" | "bypassed" | "unknown";

/** What an output carried: its range where it was used. */
export interface ValueSummary {
  /** The value, one number per component, when it is the same for all. */
  readonly plain?: readonly number[];
  /** Elements looked at, and per component the least and greatest value and counts in equal bins between. */
  readonly count?: number;
  readonly ranges?: readonly {
    readonly min: number;
    readonly max: number;
    readonly bins: readonly number[];
  }[];
}

export interface NodeReport {
  readonly state: NodeState;
  /** Milliseconds that it took in this evaluation; 0 when nothing had to be done. */
  readonly ms: number;
  /** Milliseconds of the run that made its present result. */
  readonly lastMs?: number;
  /** Why it ran, or why it did not. */
  readonly why: string;
  /** It sums up the nodes of a capsule's instance. */
  readonly instance?: boolean;
  readonly tally?: Tally;
  /** What its results hold that no node before it holds already. */
  readonly bytes?: number;
  /** Bytes of the states of other frames that are kept to step it from. */
  readonly carried?: number;
  readonly problems: readonly Problem[];
  /** What is not wrong but would surprise; only when asked to inspect. */
  readonly hints?: readonly Hint[];
  /** Per output; only when asked to inspect. */
  readonly values?: Readonly<Record<string, ValueSummary>>;
}

export interface EvaluationReport {
  readonly frame: number;
  /** Milliseconds for the whole evaluation, drawing data included. */
  readonly ms: number;
  readonly nodes: Readonly<Record<string, NodeReport>>;
  /** Problems of the piece that belong to no node. */
  readonly problems: readonly Problem[];
  /** What all results together hold, and the states that are kept to step from. */
  readonly bytes: number;
  /** What reached the stage. */
  readonly tally: Tally;
  /** False when a node failed, so that there is no new result. */
  readonly complete: boolean;
  /** True when the time limit ended it. */
  readonly stopped?: boolean;
}
