/**
 * Points in cubic cells that are found by hashing (M. Teschner et al., "Optimized spatial hashing for collision
 * detection of deformable objects", 2003), sorted by cell in two passes. Built in linear time; no limits of space.
 */
import { tick } from "../cancelling";

type Lanes = readonly ArrayLike<number>[];

/** For those that ask for no distance at all: what lies on one place is still found. */
export const SMALLEST_CELL = 1e-6;

export class HashGrid {
  /** Functions cannot be sent: a field with a grid fails to cross to another thread at once. */
  readonly staysHere = (): true => true;
  private readonly mask: number;
  /** Bucket b holds entries[starts[b]] … entries[starts[b + 1] − 1], ascending. */
  private readonly starts: Int32Array;
  private readonly entries: Int32Array;

  /**
   * @param lanes x, y, z of the points, finite
   * @param cell side of a cell, units, above 0; about the distance that is asked for serves best
   */
  constructor(
    private readonly lanes: Lanes,
    private readonly cell: number,
  ) {
    const count = lanes[0].length;
    const buckets = 2 ** Math.max(4, 32 - Math.clz32(count));
    this.mask = buckets - 1;
    this.starts = new Int32Array(buckets + 1);
    this.entries = new Int32Array(count);
    const bucketOf = new Int32Array(count);
    const [x, y, z] = lanes;
    for (let i = 0; i < count; i++) {
      tick();
      const b = this.bucket(Math.floor(x[i] / cell), Math.floor(y[i] / cell), Math.floor(z[i] / cell));
      bucketOf[i] = b;
      this.starts[b + 1]++;
    }
    for (let b = 0; b < buckets; b++) this.starts[b + 1] += this.starts[b];
    const next = this.starts.slice(0, buckets);
    for (let i = 0; i < count; i++) {
      tick();
      this.entries[next[bucketOf[i]]++] = i;
    }
  }

  /** Visits every point no further than `radius` from a place; `visit` may return true to stop. */
  within(
    px: number,
    py: number,
    pz: number,
    radius: number,
    visit: (point: number, squaredDistance: number) => boolean | undefined,
  ): void {
    const [x, y, z] = this.lanes;
    const { cell } = this;
    const limit = radius * radius;
    for (let i = Math.floor((px - radius) / cell); i <= Math.floor((px + radius) / cell); i++) {
      for (let j = Math.floor((py - radius) / cell); j <= Math.floor((py + radius) / cell); j++) {
        for (let k = Math.floor((pz - radius) / cell); k <= Math.floor((pz + radius) / cell); k++) {
          const b = this.bucket(i, j, k);
          for (let e = this.starts[b]; e < this.starts[b + 1]; e++) {
            const p = this.entries[e];
            // Other cells share the bucket; those points come up in their own cell.
            if (
              Math.floor(x[p] / cell) !== i ||
              Math.floor(y[p] / cell) !== j ||
              Math.floor(z[p] / cell) !== k
            )
              continue;
            const [dx, dy, dz] = [x[p] - px, y[p] - py, z[p] - pz];
            const d = dx * dx + dy * dy + dz * dz;
            if (d <= limit && visit(p, d)) return;
          }
        }
      }
    }
  }

  private bucket(i: number, j: number, k: number): number {
    return (Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791)) & this.mask;
  }
}
