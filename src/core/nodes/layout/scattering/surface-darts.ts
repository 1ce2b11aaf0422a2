/**
 * Places on a surface of which no two are nearer than a distance, until there is room for no more (after D. Cline et al., "Dart
 * throwing on surfaces", 2009). While much of the surface is free, all of it is thrown at. Then it is gone over triangle by
 * triangle: what is not covered is kept as pieces, one of which is thrown at, is cut in two when that was in vain, and is done
 * with when all of it lies within the distance of one place.
 */
import { tick } from "../../../cancelling";
import { widened } from "../../../geometry/column";
import { hash3, unit24 } from "../../../maths/random";
import { GrowingGrid } from "../../../spatial/growing-grid";
import type { PlaceList } from "./place-list";
import { byChance, surfacePlaces } from "./scatter-places";
import type { WeightedSurface } from "./weighted-surface";

/** Throws at the whole surface between two looks at how many of them are still of use, and the part that must be. */
const THROWS = 4096;
const OF_USE = 0.1;

/** How far a block of pieces reaches from its middle at most, in distances: one question to the grid serves all of them. */
const BLOCK = 1.5;
/** Pieces of shorter edges, in distances, are not cut: no room in them is worth a place. */
const SHORTEST = 1e-3;
/** A triangle is halved so often at most to come to blocks. */
const DEPTH = 128;

/** Corners of a piece as shares of its triangle's second and third point, two each. */
const SHARES = 6;
const WHOLE = Float64Array.of(0, 0, 1, 0, 0, 1);

/** Channels of chance: what is thrown at pieces, and the order of what is found so. */
const [DARTS, ORDER] = [5, 6];

export class SurfaceDarts {
  private readonly grid: GrowingGrid;
  private readonly squared: number;
  /** Numbers drawn so far. */
  private drawn = 0;
  /** The piece at hand, where its corners are, and its halves. */
  private readonly piece = new Float64Array(SHARES);
  private readonly at = new Float64Array(9);
  private readonly halves = [new Float64Array(SHARES), new Float64Array(SHARES)] as const;
  /** Pieces of the block that may have room. */
  private readonly pool = new Pool();

  /** @param least distance, units, above 0 */
  constructor(
    private readonly surface: WeightedSurface,
    private readonly least: number,
    private readonly seed: number,
  ) {
    this.squared = least * least;
    this.grid = new GrowingGrid(2.5 * least);
  }

  /** So many places or, when there is room for fewer, all. A greater count adds to those of a lesser one. */
  places(count: number, list: PlaceList): PlaceList {
    this.throwAtAll(list, count);
    const before = list.count;
    if (before >= count) return list;
    this.goOver(list);
    // They were found one beside the other; any first part of them is to be spread over all.
    const order = Array.from({ length: list.count - before }, (_, i) => before + i);
    const rank = (i: number) => hash3(this.seed, i, ORDER);
    order.sort((a, b) => rank(a) - rank(b) || a - b);
    const kept = Math.min(count, list.count);
    return list.chosen(Int32Array.from({ length: kept }, (_, i) => (i < before ? i : order[i - before])));
  }

  private throwAtAll(list: PlaceList, count: number): void {
    const { grid, least } = this;
    const throwOne = surfacePlaces(this.surface, byChance(this.seed));
    let before = 0;
    for (let i = 0; list.count < count; i++) {
      tick(16);
      if (i > 0 && i % THROWS === 0) {
        if (list.count - before < THROWS * OF_USE) return;
        before = list.count;
      }
      throwOne(i, list);
      const { x, y, z, count: at } = list;
      if (grid.isNear(x[at], y[at], z[at], least)) continue;
      grid.add(x[at], y[at], z[at]);
      list.count++;
    }
  }

  /** Cuts every triangle into blocks and fills each. */
  private goOver(list: PlaceList): void {
    const { sums } = this.surface;
    const waiting = new Pool();
    for (let t = 0; t < sums.length; t++) {
      waiting.put(sums[t] - (t > 0 ? sums[t - 1] : 0), WHOLE);
      while (waiting.count > 0) {
        tick(32);
        const weight = waiting.take(waiting.count - 1, this.piece);
        this.place(t, this.piece);
        const reach = this.reach();
        if (reach > BLOCK * this.least && waiting.count < DEPTH) this.cut(t, weight, waiting);
        else this.fillBlock(t, weight, reach, list);
      }
    }
  }

  private fillBlock(triangle: number, weight: number, reach: number, list: PlaceList): void {
    const { piece, at, pool, grid, squared } = this;
    // A hair more, for rounding.
    grid.gather(middle(at, 0), middle(at, 1), middle(at, 2), (this.least + reach) * (1 + 1e-9));
    if (grid.isCovered(at, squared)) return;
    pool.put(weight, piece);
    while (pool.count > 0) {
      tick(16);
      const taken = pool.take(pool.choice(this.draw()), piece);
      this.place(triangle, piece);
      if (this.hit(list, triangle)) {
        const last = list.count - 1;
        if (farthest(at, list.x[last], list.y[last], list.z[last]) >= squared) pool.put(taken, piece);
      } else if (longestEdge(at) >= SHORTEST * SHORTEST * squared) this.cut(triangle, taken, pool);
    }
  }

  private draw(): number {
    return unit24(hash3(this.seed, this.drawn++, DARTS));
  }

  /** Throws at the piece; whether a place was found, which then counts and is among those that were gathered. */
  private hit(list: PlaceList, triangle: number): boolean {
    const { piece, surface, grid } = this;
    const root = Math.sqrt(this.draw());
    const v = this.draw();
    const [a, b, c] = [1 - root, root * (1 - v), root * v];
    const second = piece[0] * a + piece[2] * b + piece[4] * c;
    const third = piece[1] * a + piece[3] * b + piece[5] * c;
    const most = Math.max(
      surface.weightAt(triangle, piece[0], piece[1]),
      surface.weightAt(triangle, piece[2], piece[3]),
      surface.weightAt(triangle, piece[4], piece[5]),
    );
    if (this.draw() * most > surface.weightAt(triangle, second, third)) return false;
    surface.put(list, triangle, 1 - second - third, second, third);
    // As it is stored, so that what is compared is what is given.
    const [x, y, z] = [list.x[list.count], list.y[list.count], list.z[list.count]];
    if (grid.isNearOne(x, y, z, this.squared)) return false;
    grid.addGathered(x, y, z);
    list.count++;
    return true;
  }

  /** Puts the halves of the piece to others, cut across its longest edge: those that no place covers. */
  private cut(triangle: number, weight: number, to: Pool): void {
    const { piece, at, halves, grid, squared } = this;
    const [first, second, third] = [edge(at, 0), edge(at, 1), edge(at, 2)];
    const longest = first >= second && first >= third ? 0 : second >= third ? 1 : 2;
    const [from, until] = [longest * 2, ((longest + 1) % 3) * 2];
    halves[0].set(piece);
    halves[1].set(piece);
    for (let n = 0; n < 2; n++) {
      const middle = (piece[from + n] + piece[until + n]) / 2;
      halves[0][from + n] = middle;
      halves[1][until + n] = middle;
    }
    const whole = this.sumOfWeights(triangle, piece);
    for (const half of halves) {
      // Half of the area, and the mean weight of its corners.
      const share = whole > 0 ? ((weight / 2) * this.sumOfWeights(triangle, half)) / whole : 0;
      this.place(triangle, half);
      if (to !== this.pool || !grid.isCovered(at, squared)) to.put(share, half);
    }
  }

  private sumOfWeights(triangle: number, piece: Float64Array): number {
    const { surface } = this;
    const sum =
      surface.weightAt(triangle, piece[0], piece[1]) +
      surface.weightAt(triangle, piece[2], piece[3]) +
      surface.weightAt(triangle, piece[4], piece[5]);
    return Math.max(0, sum);
  }

  /** Works out where the corners of a piece are. */
  private place(triangle: number, piece: Float64Array): void {
    const { at } = this;
    const { points, lanes } = this.surface;
    for (let axis = 0; axis < 3; axis++) {
      const lane = lanes[axis];
      const a = lane[points[triangle * 3]];
      const u = lane[points[triangle * 3 + 1]] - a;
      const v = lane[points[triangle * 3 + 2]] - a;
      for (let k = 0; k < 3; k++) at[k * 3 + axis] = a + u * piece[k * 2] + v * piece[k * 2 + 1];
    }
  }

  /** From the middle of the corners to the furthest of them. */
  private reach(): number {
    const { at } = this;
    return Math.sqrt(farthest(at, middle(at, 0), middle(at, 1), middle(at, 2)));
  }
}

/** Pieces with their weights. */
class Pool {
  count = 0;
  private weights = new Float64Array(64);
  private shares = new Float64Array(64 * SHARES);

  /** What weighs nothing is not kept. */
  put(weight: number, piece: Float64Array): void {
    if (!(weight > 0)) return;
    if (this.count === this.weights.length) this.widen();
    this.weights[this.count] = weight;
    this.shares.set(piece, this.count * SHARES);
    this.count++;
  }

  /** The number of one of them, each as likely as it weighs. @param chance 0 to 1 */
  choice(chance: number): number {
    let whole = 0;
    for (let i = 0; i < this.count; i++) whole += this.weights[i];
    let left = chance * whole;
    for (let i = 0; i < this.count; i++) {
      left -= this.weights[i];
      if (left < 0) return i;
    }
    return this.count - 1;
  }

  /** Takes one out, its shares into `to`; gives its weight. */
  take(i: number, to: Float64Array): number {
    const weight = this.weights[i];
    for (let n = 0; n < SHARES; n++) to[n] = this.shares[i * SHARES + n];
    const last = --this.count;
    this.weights[i] = this.weights[last];
    this.shares.copyWithin(i * SHARES, last * SHARES, (last + 1) * SHARES);
    return weight;
  }

  private widen(): void {
    this.weights = widened(this.weights, this.weights.length * 2);
    this.shares = widened(this.shares, this.shares.length * 2);
  }
}

/** The middle of the corners along an axis. */
const middle = (at: Float64Array, axis: number): number => (at[axis] + at[3 + axis] + at[6 + axis]) / 3;

/** Squared distance of the furthest corner from a place. */
const farthest = (at: Float64Array, x: number, y: number, z: number): number =>
  Math.max(squaredFrom(at, 0, x, y, z), squaredFrom(at, 3, x, y, z), squaredFrom(at, 6, x, y, z));

/** From a corner, whose x stands at `k`, to a place. */
function squaredFrom(at: Float64Array, k: number, x: number, y: number, z: number): number {
  const dx = at[k] - x;
  const dy = at[k + 1] - y;
  const dz = at[k + 2] - z;
  return dx * dx + dy * dy + dz * dz;
}

/** Squared length of the edge from corner k to the next one. */
function edge(at: Float64Array, k: number): number {
  const b = ((k + 1) % 3) * 3;
  return squaredFrom(at, k * 3, at[b], at[b + 1], at[b + 2]);
}

const longestEdge = (at: Float64Array): number => Math.max(edge(at, 0), edge(at, 1), edge(at, 2));
