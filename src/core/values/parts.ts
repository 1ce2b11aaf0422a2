/** What one node hands to another to work with: shapes, fields and settings under names that both know. */
import type { Value } from "../fields/expression";
import type { Shape } from "../geometry/shape";

export interface Parts {
  /** Tells kinds of them apart: "push", "drag". */
  readonly what: string;
  /** The title of the node that made it. */
  readonly title: string;
  readonly shapes: Readonly<Record<string, Shape>>;
  /** One value a component. */
  readonly fields: Readonly<Record<string, readonly Value[]>>;
  /** Plain data. */
  readonly settings: Readonly<Record<string, unknown>>;
}

/** What a node hands on that is passed by. */
export const NO_PARTS: Parts = { what: "nothing", title: "", shapes: {}, fields: {}, settings: {} };
