/** What is carried from one frame to the next, and how a node says what it carries. */
import type { Domain, Lane } from "../geometry/column";
import { lanesIn } from "../geometry/column";
import { arraysOf } from "../geometry/domains";
import type { Shape } from "../geometry/shape";

/** Never changed, only replaced. States share lanes with each other and with what arrived, so what stays costs nothing. */
export interface State {
  readonly numbers?: Readonly<Record<string, readonly number[]>>;
  readonly domains?: Readonly<Record<string, Domain>>;
  readonly shapes?: Readonly<Record<string, Shape>>;
  /** As documents store them. */
  readonly settings?: Readonly<Record<string, unknown>>;
}

/** Bytes that are counted for a state beside its lanes. */
export const STATE_BYTES = 256;

export function* lanesOfState({ domains, shapes }: State): Generator<Lane> {
  for (const domain of Object.values(domains ?? {})) yield* lanesIn(domain);
  for (const shape of Object.values(shapes ?? {})) yield* arraysOf(shape);
}

/** One step of time. */
export interface Step {
  /** Its length. */
  readonly seconds: number;
  /** The piece's seed. */
  readonly seed: number;
  /** The frame that it leads to. */
  readonly frame: number;
  readonly fps: number;
}

/**
 * How a node is stepped from frame to frame.
 * @typeParam I its resolved inputs
 */
export interface Stepping<I, S extends State = State> {
  /** The input that says how many frames before the piece's first one it begins. */
  readonly runUp?: string;
  /** Its state is read by another node at the step that follows. */
  readonly comesBack?: true;
  /** The state at rest, of what arrives at the beginning. */
  start(inputs: I, at: Omit<Step, "seconds">): S;
  /** The state a step later, of what then arrives; the same object when nothing has changed. */
  step(before: S, inputs: I, step: Step): S;
}
