/** How a node is declared. Everything that knows nodes is derived from these declarations. */

import type { Value } from "../fields/expression";
import type { Domain, Lane } from "../geometry/column";
import type { Repeat } from "../keys/repeat";
import type { Library } from "../library";
import type { State, Stepping } from "../simulate/state";
import type { Input, Output, Setting } from "./ports";

export const FAMILIES = [
  "make",
  "layout",
  "clone",
  "drive",
  "adjust",
  "simulate",
  "form",
  "dress",
  "route",
  "capsule",
] as const;
export type Family = (typeof FAMILIES)[number];

export const FAMILY_TITLES: Readonly<Record<Family, string>> = {
  make: "Make",
  layout: "Lay out",
  clone: "Clone",
  drive: "Drive",
  adjust: "Adjust",
  simulate: "Simulate",
  form: "Form",
  dress: "Dress",
  route: "Route",
  capsule: "Capsules",
};

/** A change of inputs that would mend a problem; offered as a button. */
export interface Repair {
  readonly label: string;
  readonly input: string;
  readonly value: Setting;
  readonly also?: readonly { readonly input: string; readonly value: Setting }[];
}

export type Remedy =
  | Repair
  /** The node is passed by. */
  | { readonly label: string; readonly bypass: true }
  /** A node of a type is put after an output. */
  | { readonly label: string; readonly insert: string; readonly port: string };

export interface Problem {
  /** A note tells what came of it; nothing is wrong. */
  readonly level: "error" | "warning" | "note";
  readonly what: string;
  readonly input?: string;
  readonly repair?: Repair;
}

/** Something that is not wrong but would surprise. */
export interface Hint extends Omit<Problem, "repair"> {
  readonly repair?: Remedy;
}

/** Stops a node with a message for the designer. Any other error from a node is a fault of ours. */
export class NodeError extends Error {
  constructor(
    what: string,
    readonly input?: string,
    readonly repair?: Repair,
  ) {
    super(what);
  }
}

/** What a node would use, worked out before it runs. */
export interface Cost {
  sites?: number;
  points?: number;
  faces?: number;
  /** Columns and meshes that it makes; guessed from sites and points when missing. */
  bytes?: number;
  /** Milliseconds on a slow machine, where a node does much for each element. */
  milliseconds?: number;
}

export interface FrameTime {
  /** Frame number; may be fractional. */
  readonly frame: number;
  readonly first: number;
  readonly last: number;
  readonly framesPerSecond: number;
}

/** What a Step loop gave at the step before. */
export interface Before {
  /** Null at the beginning. */
  readonly state: State | null;
  /** Length of this step. */
  readonly seconds: number;
  /** Steps from the beginning up to this one. */
  readonly number: number;
}

/** A value over time, as keys give it. */
export interface Keyed {
  /** Frames of the keys, ascending; at least one. */
  readonly frames: readonly number[];
  /** What comes before and after them. */
  readonly before: Repeat;
  readonly after: Repeat;
  /** The same text for the same curve. */
  readonly mark: string;
  at(frame: number): Setting;
}

export interface NodeContext {
  /** Reading it makes the node run again on every frame. */
  readonly time: FrameTime;
  /** The node's id in the document. */
  readonly node: string;
  /** The piece's seed. */
  readonly seed: number;
  warn(what: string, details?: { input?: string; repair?: Repair }): void;
  /** Tells the designer something about the result. */
  note(what: string): void;
  /**
   * Something costly that the node makes and its next run may use up: `make` gets what the last run left, or null. It
   * must not change results, only what they cost. Memory of this evaluation that it reads is kept with it when `lanes` name it.
   */
  reuse<T>(make: (before: T | null) => T, lanes?: (made: T) => readonly Lane[]): T;
  /**
   * One Float32Array of `domain.count` per value. Numbers that are not finite become 0 with a warning;
   * attributes the elements lack are reported.
   */
  run(values: readonly Value[], domain: Domain): Float32Array[];
  /**
   * Reads the node's inputs as they are at another frame; what arrives may be used only within `read`. For nodes that declare
   * `otherFrames`.
   * @throws NodeError when it cannot be worked out at that frame
   */
  at<I, T>(frame: number, read: (inputs: I) => T): T;
  /** Whether all that arrives is the same at every frame, so that there is no need to look at others. For the same nodes. */
  isStill(): boolean;
  /** The keys of one of the node's own inputs; null when it has none. For nodes that declare `ownKeys`. */
  keysOf(input: string): Keyed | null;
  /** What the Step loop that the node is in gave at the step before, for nodes that declare `readsBefore`. */
  before(substeps: number): Before;
  /** The state at this frame, for nodes that declare `stepping`. Reading it makes the node run again on every frame. */
  carried<S extends State>(): S;
}

// biome-ignore lint/suspicious/noExplicitAny: the list of nodes holds every combination of port types
export type AnyInput = Input<any>;
// biome-ignore lint/suspicious/noExplicitAny: as above
export type AnyOutput = Output<any>;

export type Resolved<P> = {
  readonly [K in keyof P]: P[K] extends { readonly resolved?: infer T } ? Exclude<T, undefined> : never;
};

export interface NodeDefinition<
  I extends Readonly<Record<string, AnyInput>> = Readonly<Record<string, AnyInput>>,
  O extends Readonly<Record<string, AnyOutput>> = Readonly<Record<string, AnyOutput>>,
> {
  readonly type: string;
  readonly family: Family;
  readonly title: string;
  /** One sentence in plain words. */
  readonly about: string;
  /** Other words and needs under which it should be found. */
  readonly synonyms: readonly string[];
  /** Tells definitions of one type apart that were made from documents. */
  readonly variant?: string;
  readonly inputs: I;
  readonly outputs: O;
  /** One line for the card, from the settings of inputs that are not linked. */
  readonly summary?: (settings: Readonly<Record<string, Setting>>) => string;
  readonly cost?: (inputs: Resolved<I>) => Cost;
  /** Attributes that it sets whatever they were. Field inputs are given as their numbers at one element. */
  readonly overrides?: (at: Readonly<Record<string, unknown>>) => readonly string[];
  /** What has to be loaded before it can run. */
  readonly needs?: readonly Library[];
  /** It asks for its inputs at other frames, so it depends on all that they depend on. */
  readonly otherFrames?: true;
  /** What it carries from frame to frame; it then depends on all that its inputs depend on at any frame. */
  // biome-ignore lint/suspicious/noExplicitAny: each node has a state of its own
  readonly stepping?: Stepping<Resolved<I>, any>;
  /** It reads what a Step loop gave at the step before. */
  readonly readsBefore?: true;
  /** It takes curves with their handles (curves/beziers.ts) and hands them on; to others they come bent. */
  readonly keepsHandles?: true;
  /** It reads the keys of its own inputs at frames of its choosing. */
  readonly ownKeys?: true;
  /** A range among its inputs that can be fitted to numbers that arrive at an input, or that an output measures. */
  readonly fits?: {
    readonly port: string;
    readonly side: "input" | "output";
    readonly low: string;
    readonly high: string;
  };
  readonly evaluate: (inputs: Resolved<I>, context: NodeContext) => Resolved<O>;
}

/** Declares a node; only there so that `evaluate` knows the types of its inputs and outputs. */
export function defineNode<
  const I extends Readonly<Record<string, AnyInput>>,
  const O extends Readonly<Record<string, AnyOutput>>,
>(definition: NodeDefinition<I, O>): NodeDefinition<I, O> {
  return definition;
}

// biome-ignore lint/suspicious/noExplicitAny: as above
export type AnyNode = NodeDefinition<any, any>;
