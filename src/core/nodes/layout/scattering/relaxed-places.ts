/**
 * A number of places as far from each other as they can be, chosen from many (C. Yuksel, "Sample Elimination for Generating
 * Poisson Disk Sample Sets", 2015): those that are most crowded by others are left out, one after the other.
 */
import { tick } from "../../../cancelling";
import { countUp } from "../../../geometry/column";
import { power } from "../../../maths/exact";
import { PointGrid } from "../../../spatial/point-grid";

/** Places thrown for each one that stays, as in the paper's section 4. */
export const THROWN_FOR_ONE = 5;
/** Of the shortest distance that counts (the paper's β and γ). */
const [BETA, GAMMA] = [0.65, 1.5];

/**
 * The greatest least distance that so many places could have: as close as discs, or balls, can lie (section 3).
 * @param room area on a surface, volume inside of one
 */
export const greatestDistance = (count: number, room: number, flat: boolean): number =>
  flat ? 2 * Math.sqrt(room / (2 * Math.sqrt(3) * count)) : 2 * power(room / (4 * Math.SQRT2 * count), 1 / 3);

/** Numbers of the `count` places that stay, ascending. @param lanes x, y, z of those that were thrown */
export function relaxedPlaces(lanes: readonly Float32Array[], count: number, widest: number): Int32Array {
  const thrown = lanes[0].length;
  if (thrown <= count || !(widest > 0)) return countUp(Math.min(thrown, count));
  const { starts, numbers } = new PointGrid(lanes).within(lanes, widest, true);
  const share = count / thrown;
  // Nearer than this all count alike, so that single close pairs do not decide.
  const least = widest * (1 - power(share, GAMMA)) * BETA;
  const weightOf = (squared: number): number => {
    const far = 1 - Math.max(least, Math.sqrt(squared)) / widest;
    // The paper's α is 8.
    const second = far * far;
    const fourth = second * second;
    return far > 0 ? fourth * fourth : 0;
  };
  const weightBetween = (i: number, j: number): number => {
    const [x, y, z] = [lanes[0][i] - lanes[0][j], lanes[1][i] - lanes[1][j], lanes[2][i] - lanes[2][j]];
    return weightOf(x * x + y * y + z * z);
  };
  const crowd = new Float64Array(thrown);
  for (let i = 0; i < thrown; i++) {
    tick(16);
    for (let n = starts[i]; n < starts[i + 1]; n++) crowd[i] += weightBetween(i, numbers[n]);
  }
  const heap = new Crowded(crowd);
  for (let left = thrown; left > count; left--) {
    tick(32);
    const i = heap.take();
    for (let n = starts[i]; n < starts[i + 1]; n++)
      if (heap.has(numbers[n])) heap.lessen(numbers[n], weightBetween(i, numbers[n]));
  }
  return heap.left();
}

/** A binary heap of elements, the most crowded one first; of equal ones that with the greater number. */
class Crowded {
  private readonly heap: Int32Array;
  private readonly where: Int32Array;
  private count: number;

  constructor(private readonly crowd: Float64Array) {
    this.count = crowd.length;
    this.heap = Int32Array.from(crowd, (_, i) => i);
    this.where = this.heap.slice();
    for (let at = (this.count >> 1) - 1; at >= 0; at--) this.sink(at);
  }

  has(i: number): boolean {
    return this.where[i] >= 0;
  }

  take(): number {
    const first = this.heap[0];
    this.where[first] = -1;
    const last = this.heap[--this.count];
    if (this.count > 0) {
      this.heap[0] = last;
      this.where[last] = 0;
      this.sink(0);
    }
    return first;
  }

  /** Takes away from how crowded an element is. */
  lessen(i: number, by: number): void {
    this.crowd[i] -= by;
    this.sink(this.where[i]);
  }

  left(): Int32Array {
    return this.heap.slice(0, this.count).sort();
  }

  private before(a: number, b: number): boolean {
    return this.crowd[a] > this.crowd[b] || (this.crowd[a] === this.crowd[b] && a > b);
  }

  private sink(from: number): void {
    const { heap, where, count } = this;
    const i = heap[from];
    let at = from;
    for (let child = 2 * at + 1; child < count; child = 2 * at + 1) {
      if (child + 1 < count && this.before(heap[child + 1], heap[child])) child++;
      if (!this.before(heap[child], i)) break;
      heap[at] = heap[child];
      where[heap[at]] = at;
      at = child;
    }
    heap[at] = i;
    where[i] = at;
  }
}
