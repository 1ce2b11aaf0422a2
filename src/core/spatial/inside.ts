/**
 * What lies inside of a closed mesh: where lines along X pass its triangles, counted with their direction, so that parts that
 * pass through each other count as one. Triangles are found by buckets over Y and Z.
 */
import { tick } from "../cancelling";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";

/** Triangles in a bucket, on average. */
const CROWD = 2;
const MOST_BUCKETS = 1024;
/** Words before the parts of a table. */
const HEAD = 16;

/** Where a line passes the surface; `turns` is 1 where it enters, −1 where it leaves. */
export interface Crossings {
  count: number;
  readonly x: Float64Array;
  readonly turns: Int8Array;
  /** Sum of all turns: anything but 0 says that the mesh has a hole there. */
  open: boolean;
}

export class Inside {
  private readonly xyz: readonly Float32Array[];
  private readonly points: Int32Array;
  private readonly side: readonly [number, number];
  private readonly low: readonly [number, number];
  private readonly size: readonly [number, number];
  private readonly starts: Int32Array;
  private readonly entries: Int32Array;
  private readonly found: Crossings;

  constructor(mesh: Mesh) {
    this.xyz = pointLanes(mesh);
    this.points = triangleCorners(mesh).map((corner) => mesh.cornerPoint[corner]);
    const triangles = this.points.length / 3;
    const [, y, z] = this.xyz;
    const [y0, y1] = range(y);
    const [z0, z1] = range(z);
    const n = Math.max(1, Math.min(MOST_BUCKETS, Math.floor(Math.sqrt(triangles / CROWD))));
    this.side = [n, n];
    this.low = [y0, z0];
    this.size = [Math.max((y1 - y0) / n, 1e-30), Math.max((z1 - z0) / n, 1e-30)];
    this.starts = new Int32Array(n * n + 1);
    const visit = (t: number, each: (bucket: number) => void) => {
      const [j0, j1] = this.bucketsOf(t, 0, y);
      const [k0, k1] = this.bucketsOf(t, 1, z);
      for (let j = j0; j <= j1; j++) for (let k = k0; k <= k1; k++) each(j * n + k);
    };
    for (let t = 0; t < triangles; t++) {
      tick();
      visit(t, (b) => {
        this.starts[b + 1]++;
      });
    }
    for (let b = 0; b < n * n; b++) this.starts[b + 1] += this.starts[b];
    this.entries = new Int32Array(this.starts[n * n]);
    const next = this.starts.slice(0, n * n);
    for (let t = 0; t < triangles; t++) {
      tick();
      visit(t, (b) => {
        this.entries[next[b]++] = t;
      });
    }
    let most = 0;
    for (let b = 0; b < n * n; b++) most = Math.max(most, this.starts[b + 1] - this.starts[b]);
    this.found = { count: 0, x: new Float64Array(most), turns: new Int8Array(most), open: false };
  }

  /** What the last call of `crossings` found. */
  get last(): Crossings {
    return this.found;
  }

  /** All crossings of the line along X through (y, z), ascending. The result is used again by the next call. */
  crossings(y: number, z: number): Crossings {
    const { found } = this;
    found.count = 0;
    let sum = 0;
    const b = this.bucket(y, z);
    if (b >= 0) {
      tick(this.starts[b + 1] - this.starts[b]);
      for (let e = this.starts[b]; e < this.starts[b + 1]; e++) sum += this.cross(this.entries[e], y, z);
      sort(found);
    }
    found.open = sum !== 0;
    return found;
  }

  /** All of it in one table, for kernels/assembly/inside.ts. */
  table(): Float32Array {
    const parts = [this.starts, this.entries, this.points, ...this.xyz];
    const words = new Int32Array(HEAD + parts.reduce((sum, part) => sum + part.length, 0));
    let at = HEAD;
    const begins = parts.map((part) => {
      const begin = at;
      if (part instanceof Float32Array) new Float32Array(words.buffer).set(part, at);
      else words.set(part, at);
      at += part.length;
      return begin;
    });
    words.set([this.side[0], ...begins.slice(1)]);
    new Float64Array(words.buffer, 32, 4).set([...this.low, ...this.size]);
    return new Float32Array(words.buffer);
  }

  contains(x: number, y: number, z: number): boolean {
    const { count, x: at, turns } = this.crossings(y, z);
    let winding = 0;
    for (let i = 0; i < count && at[i] <= x; i++) winding += turns[i];
    return winding !== 0;
  }

  /** Adds where a triangle is passed; gives its turn, 0 when it is not. */
  private cross(t: number, y: number, z: number): number {
    const [a, b, c] = [this.points[t * 3], this.points[t * 3 + 1], this.points[t * 3 + 2]];
    // Where its edges pass the height: one on the way up, one on the way down.
    const above = [this.xyz[1][a] > y, this.xyz[1][b] > y, this.xyz[1][c] > y];
    if (above[0] === above[1] && above[1] === above[2]) return 0;
    const ends = [a, b, c];
    let up = 0;
    let down = 0;
    for (let e = 0; e < 3; e++) {
      const next = (e + 1) % 3;
      if (above[e] === above[next]) continue;
      if (above[next]) up = e;
      else down = e;
    }
    const [ux, uz] = this.edgeAt(ends[up], ends[(up + 1) % 3], y);
    const [dx, dz] = this.edgeAt(ends[down], ends[(down + 1) % 3], y);
    if (uz > z === dz > z) return 0;
    const { found } = this;
    // Seen from outside the way up is at the right: the surface looks along X, and the line leaves.
    const turn = uz < dz ? -1 : 1;
    found.x[found.count] = ux + ((z - uz) / (dz - uz)) * (dx - ux);
    found.turns[found.count] = turn;
    found.count++;
    return turn;
  }

  /** X and Z of an edge at a height; the same bits from both of its triangles. */
  private edgeAt(p: number, q: number, y: number): readonly [number, number] {
    const [low, high] = p < q ? [p, q] : [q, p];
    const [xs, ys, zs] = this.xyz;
    const t = (y - ys[low]) / (ys[high] - ys[low]);
    return [xs[low] + t * (xs[high] - xs[low]), zs[low] + t * (zs[high] - zs[low])];
  }

  private bucketsOf(t: number, axis: 0 | 1, lane: Float32Array): readonly [number, number] {
    const [a, b, c] = [lane[this.points[t * 3]], lane[this.points[t * 3 + 1]], lane[this.points[t * 3 + 2]]];
    return [this.cell(axis, Math.min(a, b, c)), this.cell(axis, Math.max(a, b, c))];
  }

  private cell(axis: 0 | 1, at: number): number {
    const cell = Math.floor((at - this.low[axis]) / this.size[axis]);
    return Math.min(this.side[axis] - 1, Math.max(0, cell));
  }

  private bucket(y: number, z: number): number {
    const j = (y - this.low[0]) / this.size[0];
    const k = (z - this.low[1]) / this.size[1];
    const [rows, columns] = this.side;
    if (!(j >= 0 && k >= 0 && j <= rows && k <= columns)) return -1;
    return this.cell(0, y) * columns + this.cell(1, z);
  }
}

/** Made when it is first asked: most fields that could ask never do. */
export class LazyInside {
  /** Functions cannot be sent: a field with this in it fails to cross to another thread at once. */
  readonly staysHere = (): true => true;
  private made: Inside | null = null;
  private words: Float32Array | null = null;

  constructor(private readonly mesh: Mesh) {}

  contains(x: number, y: number, z: number): boolean {
    return this.inside().contains(x, y, z);
  }

  table(): Float32Array {
    return (this.words ??= this.inside().table());
  }

  private inside(): Inside {
    return (this.made ??= new Inside(this.mesh));
  }
}

function range(lane: Float32Array): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const v of lane) {
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return [low, high];
}

/** By insertion: a line passes few triangles. */
function sort({ count, x, turns }: Crossings): void {
  for (let i = 1; i < count; i++) {
    const [at, turn] = [x[i], turns[i]];
    let j = i;
    for (; j > 0 && x[j - 1] > at; j--) {
      x[j] = x[j - 1];
      turns[j] = turns[j - 1];
    }
    x[j] = at;
    turns[j] = turn;
  }
}
