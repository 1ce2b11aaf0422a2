/**
 * A tree of boxes over pieces of three points each, in the kernels' memory (kernels/assembly/surface-table.ts): triangles of a surface, and
 * parts of curves, whose second and third point are the same. All threads ask it. When only positions have moved the tree is kept,
 * and its boxes are fitted to where they are.
 */
import { tick } from "../cancelling";
import type { Lane } from "../geometry/column";
import { floatsInMemory, inMemory, integersInMemory } from "../kernels/arena";
import { engine } from "../kernels/kernels";

/** Pieces of a leaf. */
const LEAF = 4;
const TABLE_WORDS = 16;
/** Words of an inner node's boxes, and of a leaf's pieces. */
const BOX_WORDS = 24;
const LEAF_WORDS = 36;

/** What stays while the pieces have the same points. */
export interface BoxTree {
  /** Points of every piece, three each. */
  readonly points: Int32Array;
  /** Numbers of the pieces of each leaf. */
  readonly slots: Int32Array;
  readonly leaves: number;
  readonly firstLeaf: number;
}

/** A tree as it lies at some places of its points. */
export interface FittedTree {
  /** Address of the table that kernels take. */
  readonly address: number;
  /** What the table stands in: to be kept for as long as it is used. */
  readonly lanes: readonly Lane[];
}

/** @param places three lanes of the points @param corners what else the pieces have numbers of, three each */
export function fitted(tree: BoxTree, places: readonly Float32Array[], corners = tree.points): FittedTree {
  const { leaves, firstLeaf, points, slots } = tree;
  const boxes = floatsInMemory(Math.max(1, firstLeaf) * BOX_WORDS);
  const pieces = floatsInMemory(leaves * LEAF_WORDS);
  const table = integersInMemory(TABLE_WORDS);
  const parts = [boxes, pieces, slots, points, corners, ...places.map(inMemory)];
  table.set([leaves, firstLeaf, ...parts.map(({ byteOffset }) => byteOffset)]);
  tick(Number.POSITIVE_INFINITY);
  engine().kernels.kernel("fitSurface")(table.byteOffset);
  return { address: table.byteOffset, lanes: [table, ...parts] };
}

export function integersPlaced(values: ArrayLike<number>): Int32Array {
  const placed = integersInMemory(values.length);
  placed.set(values);
  return placed;
}

/**
 * Pieces near to each other beside each other, in leaves of a whole tree of four branches a node: halves along the axis in which
 * their middles lie furthest apart, and halves of those. Made in the current arena.
 */
export function boxTree(places: readonly Float32Array[], points: Int32Array): BoxTree {
  const count = points.length / 3;
  // Halves of halves; where their number is no power of four the tree has empty places at its end.
  let leaves = 1;
  while (leaves * LEAF < count) leaves *= 2;
  let whole = 1;
  while (whole < leaves) whole *= 4;
  const order = new Int32Array(count);
  for (let t = 0; t < count; t++) order[t] = t;
  const halving = new Halving(order, middles(places, points));
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
  return { points: integersPlaced(points), slots: integersPlaced(slots), leaves, firstLeaf: (whole - 1) / 3 };
}

/** Middles of pieces, three lanes. */
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
