/** Places in cells found by hashing, to which one after the other is added (M. Teschner et al., 2003). */
import { widened } from "../geometry/column";

export class GrowingGrid {
  /** Numbers of the places that were gathered last: the first `gathered` of them. */
  private near = new Int32Array(64);
  private gathered = 0;
  /** x y z of each place. */
  private xyz = new Float64Array(0);
  private mask = 0;
  private heads = new Int32Array(0);
  private next = new Int32Array(0);
  private count = 0;

  /** @param cell side of a cell, units, above 0: twice the distance that is asked for serves best */
  constructor(private readonly cell: number) {
    this.widen(1024);
  }

  add(x: number, y: number, z: number): void {
    if (this.count === this.next.length) this.widen(this.count * 2);
    this.xyz[this.count * 3] = x;
    this.xyz[this.count * 3 + 1] = y;
    this.xyz[this.count * 3 + 2] = z;
    this.hang(this.count++);
  }

  /** Whether one of the places is nearer than `distance`. */
  isNear(x: number, y: number, z: number, distance: number): boolean {
    return this.visit(x, y, z, distance, false);
  }

  /** Finds all places nearer than `distance`. */
  gather(x: number, y: number, z: number, distance: number): void {
    this.gathered = 0;
    this.visit(x, y, z, distance, true);
  }

  /** Adds a place, also to those that were gathered. */
  addGathered(x: number, y: number, z: number): void {
    this.keep(this.count);
    this.add(x, y, z);
  }

  /** Whether one of those that were gathered is nearer than √`squared` to a place. */
  isNearOne(x: number, y: number, z: number, squared: number): boolean {
    for (let n = 0; n < this.gathered; n++) if (this.squaredTo(this.near[n], x, y, z) < squared) return true;
    return false;
  }

  /** Whether one of those that were gathered is nearer than √`squared` to all three corners of a triangle, x y z each. */
  isCovered(corners: Float64Array, squared: number): boolean {
    for (let n = 0; n < this.gathered; n++) {
      const p = this.near[n];
      if (
        this.squaredTo(p, corners[0], corners[1], corners[2]) < squared &&
        this.squaredTo(p, corners[3], corners[4], corners[5]) < squared &&
        this.squaredTo(p, corners[6], corners[7], corners[8]) < squared
      )
        return true;
    }
    return false;
  }

  private squaredTo(p: number, x: number, y: number, z: number): number {
    const { xyz } = this;
    const dx = xyz[p * 3] - x;
    const dy = xyz[p * 3 + 1] - y;
    const dz = xyz[p * 3 + 2] - z;
    return dx * dx + dy * dy + dz * dz;
  }

  /** Goes through the places nearer than `distance`: keeps all of them, or ends with the first. */
  private visit(x: number, y: number, z: number, distance: number, all: boolean): boolean {
    const { cell, heads, next, mask, xyz } = this;
    const squared = distance * distance;
    const iEnd = Math.floor((x + distance) / cell) | 0;
    const jStart = Math.floor((y - distance) / cell) | 0;
    const jEnd = Math.floor((y + distance) / cell) | 0;
    const kStart = Math.floor((z - distance) / cell) | 0;
    const kEnd = Math.floor((z + distance) / cell) | 0;
    for (let i = Math.floor((x - distance) / cell) | 0; i <= iEnd; i++)
      for (let j = jStart; j <= jEnd; j++)
        for (let k = kStart; k <= kEnd; k++)
          for (let p = heads[hashed(i, j, k) & mask]; p >= 0; p = next[p]) {
            const dx = xyz[p * 3] - x;
            const dy = xyz[p * 3 + 1] - y;
            const dz = xyz[p * 3 + 2] - z;
            if (dx * dx + dy * dy + dz * dz >= squared) continue;
            if (!all) return true;
            // Cells that share a bucket would give what is in it twice.
            if (this.isIn(p, i, j, k)) this.keep(p);
          }
    return false;
  }

  private isIn(p: number, i: number, j: number, k: number): boolean {
    const { xyz, cell } = this;
    return (
      Math.floor(xyz[p * 3] / cell) === i &&
      Math.floor(xyz[p * 3 + 1] / cell) === j &&
      Math.floor(xyz[p * 3 + 2] / cell) === k
    );
  }

  private keep(p: number): void {
    if (this.gathered === this.near.length) this.near = widened(this.near, this.gathered * 2);
    this.near[this.gathered++] = p;
  }

  private widen(most: number): void {
    this.xyz = widened(this.xyz, most * 3);
    this.next = widened(this.next, most);
    this.heads = new Int32Array(2 * most).fill(-1);
    this.mask = 2 * most - 1;
    for (let p = 0; p < this.count; p++) this.hang(p);
  }

  private hang(p: number): void {
    const { xyz, cell } = this;
    const at = (axis: number) => Math.floor(xyz[p * 3 + axis] / cell);
    const b = hashed(at(0), at(1), at(2)) & this.mask;
    this.next[p] = this.heads[b];
    this.heads[b] = p;
  }
}

const hashed = (i: number, j: number, k: number): number =>
  Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791);
