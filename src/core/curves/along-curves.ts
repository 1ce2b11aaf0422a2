/** Places along curves by the part of their length. */

import { type Curves, curveLengths, isClosedCurve } from "../geometry/curves";
import { lengthOf } from "../maths/exact";

/** For each curve the length travelled up to each of its points; a closed one has its end once more. */
export class AlongCurves {
  /** Functions cannot be sent: a field with this in it fails to cross to another thread at once. */
  readonly staysHere = (): true => true;
  private readonly travelled: readonly Float64Array[];
  readonly lengths: Float64Array;

  constructor(private readonly curves: Curves) {
    this.lengths = curveLengths(curves);
    const [x, y, z] = curves.points.columns.position.lanes;
    this.travelled = Array.from(this.lengths, (_, k) => {
      const first = curves.curveStarts[k];
      const count = curves.curveStarts[k + 1] - first;
      const sums = new Float64Array(count + (isClosedCurve(curves, k) && count > 2 ? 1 : 0));
      for (let p = 1; p < sums.length; p++) {
        const [a, b] = [first + p - 1, first + (p % count)];
        sums[p] = sums[p - 1] + lengthOf(x[b] - x[a], y[b] - y[a], z[b] - z[a]);
      }
      return sums;
    });
  }

  get count(): number {
    return this.travelled.length;
  }

  /** A closed curve of three points and more has its end once more, where it begins. */
  isRound(k: number): boolean {
    return this.travelled[k].length > this.curves.curveStarts[k + 1] - this.curves.curveStarts[k];
  }

  /** The part of its curve's length at which each point of curve k lies. */
  partsOfPoints(k: number): number[] {
    const count = this.curves.curveStarts[k + 1] - this.curves.curveStarts[k];
    const whole = this.lengths[k] || 1;
    return Array.from({ length: count }, (_, i) => this.travelled[k][i] / whole);
  }

  /**
   * Between which points of curve k a part of its length lies, and how far. Parts beyond 0 and 1 go round a closed curve and stop at
   * the ends of an open one.
   */
  at(k: number, part: number): { readonly p: number; readonly q: number; readonly t: number } {
    const sums = this.travelled[k];
    const first = this.curves.curveStarts[k];
    const count = this.curves.curveStarts[k + 1] - first;
    const isRound = this.isRound(k);
    const inside = isRound ? part - Math.floor(part) : Math.min(1, Math.max(0, part));
    const wanted = inside * this.lengths[k];
    let low = 0;
    let high = Math.max(0, sums.length - 2);
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (sums[middle] <= wanted) low = middle;
      else high = middle - 1;
    }
    const span = (sums[low + 1] ?? sums[low]) - sums[low];
    const q = low + 1 < count ? low + 1 : isRound ? 0 : low;
    return { p: first + low, q: first + q, t: span > 0 ? Math.min(1, (wanted - sums[low]) / span) : 0 };
  }
}
