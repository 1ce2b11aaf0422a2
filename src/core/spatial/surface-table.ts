/**
 * A surface as a table in the kernels' memory, for the closest place on it (kernels/assembly/surface.ts): all threads ask it. When only
 * positions have moved its tree is kept, and fitted to where they are.
 */
import { tick } from "../cancelling";
import type { Lane } from "../geometry/column";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { addressOf, floatsInMemory, integersInMemory } from "../kernels/arena";
import { engine } from "../kernels/kernels";

/** Triangles of a leaf. */
const LEAF = 4;
const TABLE_WORDS = 16;
/** Words of an inner node's boxes, and of a leaf's triangles. */
const BOX_WORDS = 24;
const LEAF_WORDS = 36;
/** What stays while the faces stay; shared by the tables of a mesh at other moments. */
interface Topology {
  readonly cornerPoint: Int32Array;
  readonly faceStarts: Int32Array;
  /** The mesh's corners of every triangle, and their points, three each. */
  readonly corners: Int32Array;
  readonly points: Int32Array;
  /** Numbers of the triangles of each leaf. */
  readonly slots: Int32Array;
  readonly leaves: number;
  readonly firstLeaf: number;
}

export class SurfaceTable {
  private readonly table: Int32Array;
  /** What the table stands in: to be kept for as long as it is used. */
  readonly lanes: readonly Lane[];

  private constructor(
    readonly topology: Topology,
    mesh: Mesh,
  ) {
    const { leaves, firstLeaf, corners, points, slots } = topology;
    const places = pointLanes(mesh).map(inMemory);
    const boxes = floatsInMemory(Math.max(1, firstLeaf) * BOX_WORDS);
    const triangles = floatsInMemory(leaves * LEAF_WORDS);
    this.table = integersInMemory(TABLE_WORDS);
    const parts = [boxes, triangles, slots, points, corners, ...places];
    this.table.set([leaves, firstLeaf, ...parts.map(({ byteOffset }) => byteOffset)]);
    this.lanes = [this.table, ...parts];
    tick(Number.POSITIVE_INFINITY);
    engine().kernels.kernel("fitSurface")(this.address);
  }

  /** Made in the current arena. @param before of the same faces, perhaps @returns null for a mesh without triangles */
  static of(mesh: Mesh, before: SurfaceTable | null = null): SurfaceTable | null {
    const corners = triangleCorners(mesh);
    if (corners.length === 0) return null;
    const known = before?.topology;
    const same =
      known?.cornerPoint === mesh.cornerPoint &&
      known.faceStarts === mesh.faceStarts &&
      // Faces of more than three corners may be cut otherwise where they have become concave.
      corners.every((corner, i) => corner === known.corners[i]);
    return new SurfaceTable(same && known ? known : sorted(mesh, corners), mesh);
  }

  /** Address of the table that kernels take. */
  get address(): number {
    return this.table.byteOffset;
  }
}

function inMemory(lane: Float32Array): Float32Array {
  if (addressOf(lane) !== null) return lane;
  const placed = floatsInMemory(lane.length);
  placed.set(lane);
  return placed;
}

function integers(values: ArrayLike<number>): Int32Array {
  const placed = integersInMemory(values.length);
  placed.set(values);
  return placed;
}

/**
 * Triangles near to each other beside each other, in leaves of a whole tree of four branches a node: halves along the axis in
 * which their middles lie furthest apart, and halves of those.
 */
function sorted(mesh: Mesh, corners: Int32Array): Topology {
  const { cornerPoint, faceStarts } = mesh;
  const points = corners.map((corner) => cornerPoint[corner]);
  const count = corners.length / 3;
  // Halves of halves; where their number is no power of four the tree has empty places at its end.
  let leaves = 1;
  while (leaves * LEAF < count) leaves *= 2;
  let whole = 1;
  while (whole < leaves) whole *= 4;
  const order = new Int32Array(count);
  for (let t = 0; t < count; t++) order[t] = t;
  const halving = new Halving(order, middles(pointLanes(mesh), points));
  const begin = (leaf: number) => Math.floor((leaf * count) / leaves);
  const halve = (from: number, until: number): void => {
    if (until - from < 2) return;
    const middle = (from + until) / 2;
    halving.at(begin(from), begin(middle), begin(until));
    halve(from, middle);
    halve(middle, until);
  };
  halve(0, leaves);
  const slots = new Int32Array(leaves * LEAF);
  for (let leaf = 0; leaf < leaves; leaf++) {
    const from = begin(leaf);
    const size = Math.max(1, begin(leaf + 1) - from);
    // A leaf with room to spare has its last one again.
    for (let slot = 0; slot < LEAF; slot++)
      slots[leaf * LEAF + slot] = order[Math.min(count - 1, from + Math.min(slot, size - 1))];
  }
  return {
    cornerPoint,
    faceStarts,
    corners: integers(corners),
    points: integers(points),
    slots: integers(slots),
    leaves,
    firstLeaf: (whole - 1) / 3,
  };
}

/** Middles of triangles, three lanes. */
const middles = (lanes: readonly Float32Array[], points: Int32Array): readonly Float32Array[] =>
  lanes.map((lane) => {
    const out = new Float32Array(points.length / 3);
    for (let t = 0; t < out.length; t++) {
      tick(0.25);
      out[t] = (lane[points[t * 3]] + lane[points[t * 3 + 1]] + lane[points[t * 3 + 2]]) / 3;
    }
    return out;
  });

/** Parts an order of elements about a place in it (C. A. R. Hoare, "Find", 1961). */
class Halving {
  constructor(
    private readonly order: Int32Array,
    private readonly lanes: readonly Float32Array[],
  ) {}

  /** Of those from `from` to before `until`, the ones before `middle` lie no further along the widest axis than the others. */
  at(from: number, middle: number, until: number): void {
    tick(until - from);
    if (middle <= from || middle >= until) return;
    const lane = this.widest(from, until);
    const { order } = this;
    let [low, high] = [from, until - 1];
    while (low < high) {
      const pivot = lane[order[(low + high) >> 1]];
      let [i, j] = [low, high];
      while (i <= j) {
        while (lane[order[i]] < pivot) i++;
        while (lane[order[j]] > pivot) j--;
        if (i > j) break;
        const swapped = order[i];
        order[i++] = order[j];
        order[j--] = swapped;
      }
      if (middle <= j) high = j;
      else if (middle >= i) low = i;
      else return;
    }
  }

  private widest(from: number, until: number): Float32Array {
    let [found, most] = [this.lanes[0], -1];
    for (const lane of this.lanes) {
      let [least, greatest] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
      for (let i = from; i < until; i++) {
        const value = lane[this.order[i]];
        if (value < least) least = value;
        if (value > greatest) greatest = value;
      }
      if (greatest - least > most) [found, most] = [lane, greatest - least];
    }
    return found;
  }
}
