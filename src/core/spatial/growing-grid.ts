/** Places in cells found by hashing, to which one after the other is added (M. Teschner et al., 2003). */

export class GrowingGrid {
  private readonly mask: number;
  private readonly heads: Int32Array;
  private readonly next: Int32Array;
  private readonly lanes: readonly Float64Array[];
  private count = 0;

  /**
   * @param cell side of a cell, units, above 0: no less than any distance that is asked for
   * @param most places at most
   */
  constructor(
    private readonly cell: number,
    most: number,
  ) {
    const buckets = 2 ** Math.max(4, 32 - Math.clz32(most));
    this.mask = buckets - 1;
    this.heads = new Int32Array(buckets).fill(-1);
    this.next = new Int32Array(most);
    this.lanes = [0, 1, 2].map(() => new Float64Array(most));
  }

  add(x: number, y: number, z: number): void {
    const b = this.bucket(this.at(x), this.at(y), this.at(z));
    this.lanes[0][this.count] = x;
    this.lanes[1][this.count] = y;
    this.lanes[2][this.count] = z;
    this.next[this.count] = this.heads[b];
    this.heads[b] = this.count++;
  }

  /** Whether one of the places is nearer than `distance`. */
  isNear(x: number, y: number, z: number, distance: number): boolean {
    const [xs, ys, zs] = this.lanes;
    const limit = distance * distance;
    const [i, j, k] = [this.at(x), this.at(y), this.at(z)];
    for (let a = i - 1; a <= i + 1; a++)
      for (let b = j - 1; b <= j + 1; b++)
        for (let c = k - 1; c <= k + 1; c++)
          for (let p = this.heads[this.bucket(a, b, c)]; p >= 0; p = this.next[p]) {
            const [dx, dy, dz] = [xs[p] - x, ys[p] - y, zs[p] - z];
            if (dx * dx + dy * dy + dz * dz < limit) return true;
          }
    return false;
  }

  private at(v: number): number {
    return Math.floor(v / this.cell);
  }

  private bucket(i: number, j: number, k: number): number {
    return (Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791)) & this.mask;
  }
}
