/** More points for a curve, all of its own among them. */
import { tick } from "../cancelling";
import type { Curves } from "../geometry/curves";
import type { AlongCurves } from "./along-curves";
import type { Sample } from "./sampled-curves";

/**
 * So many samples of curve k: its own points, and others shared out over its pieces by their length. Where it has more points than that
 * they are spread evenly by length, and its own are lost.
 */
export function evenSamples(curves: Curves, along: AlongCurves, k: number, count: number): Sample[] {
  const own = curves.curveStarts[k + 1] - curves.curveStarts[k];
  const round = along.isRound(k);
  const marks = own <= count ? along.partsOfPoints(k) : [0];
  if (round || own > count) marks.push(1);
  return samplesBetween(along, k, round ? count : count - 1, marks, round);
}

/** So many pieces between marks, ascending parts of the length: each part between two has at least one. */
export function samplesBetween(
  along: AlongCurves,
  k: number,
  pieces: number,
  marks: readonly number[],
  closed: boolean,
): Sample[] {
  const samples: Sample[] = [];
  const shares = sharedOut(
    pieces,
    marks.slice(1).map((mark, i) => mark - marks[i]),
  );
  for (const [i, n] of shares.entries())
    for (let s = 0; s < n; s++) {
      tick();
      samples.push(along.at(k, marks[i] + ((marks[i + 1] - marks[i]) * s) / n));
    }
  if (!closed) samples.push(along.at(k, 1));
  return samples;
}

/** A whole number shared out by weights, at least 1 each: the largest remainders get what is left (A. Hamilton, 1792). */
function sharedOut(whole: number, weights: readonly number[]): number[] {
  const sum = weights.reduce((a, b) => a + b, 0) || 1;
  const exact = weights.map((weight) => (weight / sum) * whole);
  const shares = exact.map((share) => Math.max(1, Math.floor(share)));
  const order = exact.map((share, i) => [share - Math.floor(share), i] as const).sort((a, b) => b[0] - a[0]);
  let left = whole - shares.reduce((a, b) => a + b, 0);
  for (const [, i] of order) if (left-- > 0) shares[i]++;
  return shares;
}
