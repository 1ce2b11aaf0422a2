import type { AssetContent } from "../formats/read/asset";
import type { Budget } from "./budget";

/** Thrown through `checkCancelled`; the evaluation leaves no trace. */
export class Cancelled extends Error {}

/** The evaluation passed its time limit. */
export class TookTooLong extends Error {
  constructor(readonly milliseconds: number) {
    super(`Working it out was stopped after ${Math.round(milliseconds / 100) / 10} s.`);
  }
}

/** Assets of a document, read beforehand; the message says why one cannot be had. */
export type AssetLookup = (
  name: string,
) =>
  | { readonly ok: true; readonly content: AssetContent; readonly version: string }
  | { readonly ok: false; readonly message: string };

/** What stands for a file in the keys of results: its version, or why it cannot be had. */
export function assetMark(lookup: AssetLookup, name: string): string {
  const asset = lookup(name);
  return asset.ok ? asset.version : asset.message;
}

export interface EvaluateOptions {
  readonly assets?: AssetLookup;
  readonly budget?: Budget;
  /** Milliseconds after which the evaluation stops by itself; none when missing. */
  readonly timeLimit?: number;
  /** Throws `Cancelled` when the result is no longer wanted; asked every few milliseconds. */
  readonly checkCancelled?: () => void;
  /** Milliseconds from which a node counts as heavy: others that are ready then run beside it on helpers; 4 when missing. */
  readonly heavyFrom?: number;
  /** Also work out ranges and histograms of every field output. */
  readonly inspect?: boolean;
  /** Milliseconds from any fixed moment. */
  readonly now?: () => number;
  /** Told at every frame that something is stepped through on the way to the one that is wanted. */
  readonly stepped?: (frame: number, until: number) => void;
  /** Work this node out instead of the stage. */
  readonly target?: string;
}
