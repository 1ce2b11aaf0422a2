import type { Shape } from "../geometry/shape";
import type { Budget } from "./budget";

/** Thrown through `checkCancelled`; the evaluation leaves no trace. */
export class Cancelled extends Error {}

/** Assets of a document, read beforehand; the message says why one cannot be had. */
export type AssetLookup = (
  name: string,
) =>
  | { readonly ok: true; readonly shape: Shape; readonly version: string }
  | { readonly ok: false; readonly message: string };

export interface EvaluateOptions {
  readonly assets?: AssetLookup;
  readonly budget?: Budget;
  /** Throws `Cancelled` when the result is no longer wanted. */
  readonly checkCancelled?: () => void;
  /** Also work out ranges and histograms of every field output. */
  readonly inspect?: boolean;
  /** Milliseconds from any fixed moment. */
  readonly now?: () => number;
  /** Work this node out instead of the stage. */
  readonly target?: string;
}
