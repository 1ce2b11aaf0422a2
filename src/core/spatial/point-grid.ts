/**
 * Points in the cells of an even grid over their bounds, sorted by cell: who is nearest, who is within a distance. Built in
 * linear time; searching is quick when points are spread, not when most of them share a few cells.
 */
import { tick } from "../cancelling";
import type { Lane } from "../geometry/column";
import { addressOf, floatsInMemory, integersInMemory } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt, ownAt } from "../kernels/job";
import { engine, type Scratch, withScratch } from "../kernels/kernels";
import { Plan } from "../kernels/plan";
import { rangeOf } from "../kernels/statistics";
import { cubeRoot } from "../maths/exact";

type Lanes = readonly ArrayLike<number>[];

/** Points in a cell, on average. */
const CROWD = 0.8;
/** Cells along an axis at most; the kernels' limit is a million. */
const MOST_CELLS = 4096;
/** Elements a kernel does between two looks at whether it is still wanted. */
const STRETCH = 8192;
/** Words of a grid's table, of a block of four points, and points that are read past the last block (see kernels/assembly). */
const TABLE_WORDS = 16;
const BLOCK_WORDS = 16;
const BLOCK_BYTES = BLOCK_WORDS * 4;
const PAST_END = 8;

export interface Nearest {
  /** `k` a place, ascending; infinite where there are no more points. */
  readonly distances: Float32Array;
  /** `k` a place; −1 where there are no more points. Equally near ones come in the order of their numbers. */
  readonly numbers: Int32Array;
}

export interface Within {
  /** Place i has numbers[starts[i]] … numbers[starts[i + 1] − 1]. */
  readonly starts: Int32Array;
  readonly numbers: Int32Array;
}

export interface NearestOptions {
  /** Points found for each place; 1 when missing. */
  readonly k?: number;
  /** Place i is point i itself, which is left out. */
  readonly own?: boolean;
  /** Greatest distance; none when missing. */
  readonly most?: number;
}

/** Searches for `n` places whose x, y, z and numbers stand at addresses; `rank` says which they are. */
type Search = (scratch: Scratch, n: number, place: readonly number[], rank: (i: number) => number) => void;

export class PointGrid {
  readonly count: number;
  /** What the grid stands in: to be kept for as long as it is used. */
  readonly lanes: readonly Lane[];
  private readonly table: Int32Array;
  /** The points by cell, in blocks of four: x, y and z, as bits of floats, and their numbers. */
  private readonly blocks: Int32Array;
  private readonly layout: { readonly side: number; readonly cells: readonly number[] };

  /**
   * Made in the current arena.
   * @param points x, y, z @param findable whether kernels go from a point's number to where it is (gridPick)
   * @param leastSide units that cells are wide at least
   */
  constructor(points: Lanes, { findable = false, leastSide = 0 } = {}) {
    this.count = points[0].length;
    const { least, side, cells } = layOut(points, this.count, leastSide);
    this.layout = { side, cells };
    const total = cells[0] * cells[1] * cells[2];
    this.table = integersInMemory(TABLE_WORDS);
    // A layer and a row of cells more are read (see own-distances.ts).
    const starts = integersInMemory(total + cells[0] * (cells[1] + 1) + 4).fill(0);
    this.blocks = integersInMemory((this.padded >> 2) * BLOCK_WORDS);
    const places = findable ? [integersInMemory(this.count)] : [];
    this.lanes = [this.table, starts, this.blocks, ...places];
    new Float32Array(this.table.buffer, this.table.byteOffset, 4).set([...least, side]);
    this.table.set([...cells, this.count], 4);
    this.table.set([starts.byteOffset, this.blocks.byteOffset, places[0]?.byteOffset ?? 0], 8);
    // From the last point's block on; points come over it.
    const { buffer, byteOffset, length } = this.blocks;
    new Float32Array(buffer, byteOffset, length).fill(Infinity, (this.count >> 2) * BLOCK_WORDS);
    withScratch((scratch) => this.sort(scratch, points, starts, total));
  }

  /** Points in whole blocks, and those past the end. */
  private get padded(): number {
    return ((this.count + 3) & ~3) + PAST_END;
  }

  /** Address of the table that kernels take. */
  get address(): number {
    return this.table.byteOffset;
  }

  nearest(
    places: Lanes,
    { k = 1, own = false, most = Number.POSITIVE_INFINITY }: NearestOptions = {},
  ): Nearest {
    const count = places[0].length;
    const distances = new Float32Array(count * k);
    const numbers = new Int32Array(count * k);
    const find: Search = (scratch, n, place, rank) => {
      const [d, found] = [scratch.room(n * k * 4), scratch.room(n * k * 4)];
      const leftOut = own ? 2 : 0;
      scratch.engine.kernels.kernel("gridNearest")(
        ...[n, d, found, ...place, this.address, k, leftOut, most * most],
      );
      const { buffer } = scratch.engine.memory.memory;
      const squared = new Float32Array(buffer, d, n * k);
      const names = new Int32Array(buffer, found, n * k);
      for (let i = 0; i < n; i++) {
        const to = rank(i) * k;
        for (let j = 0; j < k; j++) {
          distances[to + j] = Math.sqrt(squared[i * k + j]);
          numbers[to + j] = names[i * k + j];
        }
      }
    };
    // Its own points in its own order: those that are near each other ask for the same cells.
    if (own) {
      this.inStretches((from, n) => {
        const first = this.blocks.byteOffset + (from >> 2) * BLOCK_BYTES;
        const place = [0, 16, 32, 48].map((lane) => first + lane);
        withScratch((scratch) => find(scratch, n, place, (i) => this.numberAt(from + i)));
      });
    } else {
      this.over(places, (place, from, n, scratch) => find(scratch, n, place, (i) => from + i));
    }
    return { distances, numbers };
  }

  /** How far each point is from its nearest other one, units; infinite where there is none. A lane of the current arena. */
  ownDistances(): Float32Array {
    const distances = floatsInMemory(this.count);
    withScratch((scratch) => {
      const { kernels } = scratch.engine;
      const [best, spare] = [scratch.room(this.padded * 4), scratch.room(96)];
      kernels.floats.fill(Infinity, best / 4, best / 4 + this.padded);
      this.inStretches((from, n) =>
        kernels.kernel("gridOwnDistances")(from, n, distances.byteOffset, best, this.address, spare),
      );
    });
    return distances;
  }

  /** A lane of the points, which stands in the memory, in the order of the cells; a few more at the end are read with whole blocks. */
  ordered(lane: Lane): Float32Array {
    const sorted = floatsInMemory(this.count + PAST_END).fill(0, this.count);
    this.order(lane.byteOffset, sorted.byteOffset);
    return sorted;
  }

  /**
   * Runs a kernel over the points in the order of the cells, on all threads. It takes the number of the first point of a block, the lanes
   * as a whole (0 for none), the grid's table and `spare` bytes of its thread's own.
   */
  inOrder(kernel: string, lanes: readonly (Lane | 0)[], spare: number, numbers: readonly number[]): void {
    const plan = new Plan();
    const operands = lanes.map((lane) => fixedAt(lane === 0 ? 0 : lane.byteOffset));
    plan.calls.push({
      kernel,
      operands: [FIRST_ELEMENT, ...operands, fixedAt(this.address), ownAt(plan.own(spare))],
      numbers,
    });
    plan.run(this.count);
  }

  private order(lane: number, to: number): void {
    const ordered = engine().kernels.kernel("gridOrdered");
    this.inStretches((from, n) => ordered(from, n, to, lane, this.address));
  }

  /**
   * Moves points away from those that they overlap, each by its share of what is missing between them.
   * @param places the points again, in the kernels' memory: they are moved
   * @param room how far each reaches @param held 1 for those that stay @param widest the most of `room`
   * @param strength of what each has to give way
   * @returns how many overlap
   */
  push(
    places: readonly Float32Array[],
    room: Float32Array,
    held: Float32Array,
    widest: number,
    strength: number,
  ): number {
    const { side, cells } = this.layout;
    const ring = Math.min(Math.max(...cells), Math.ceil((2 * widest) / side));
    const rows = Math.min(2 * ring + 1, cells[1]) * Math.min(2 * ring + 1, cells[2]);
    let overlapping = 0;
    withScratch((scratch) => {
      const kernel = (name: string) => engine().kernels.kernel(name);
      const [sortedRoom, sortedHeld] = [room, held].map((lane) => {
        const sorted = scratch.room((this.count + PAST_END) * 4);
        this.order(inMemory(scratch, lane), sorted);
        return sorted;
      });
      const spans = scratch.room((rows + 1) * 8);
      const [x, y, z] = places.map((lane) => lane.byteOffset);
      const fixed = [x, y, z, this.address, sortedRoom, sortedHeld, ring, strength, spans] as const;
      this.inStretches((from, n) => {
        overlapping += kernel("gridPush")(from, n, ...fixed) ?? 0;
      });
    });
    return overlapping;
  }

  /** Points no further than `radius`; the order within a place is that of the grid's cells. */
  within(places: Lanes, radius: number, own = false): Within {
    const count = places[0].length;
    const starts = new Int32Array(count + 1);
    const parts: Int32Array[] = [];
    this.over(places, ([x, y, z, self], from, n, scratch) => {
      const kernel = (name: string) => scratch.engine.kernels.kernel(name);
      const counts = scratch.room((n + 1) * 4);
      const shared = [x, y, z, self, this.address, own ? 1 : 0, radius] as const;
      kernel("gridWithin")(n, counts, ...shared, 0);
      const { buffer } = engine().memory.memory;
      const offsets = new Int32Array(buffer, counts, n + 1);
      let sum = 0;
      for (let i = 0; i < n; i++) {
        const found = offsets[i];
        offsets[i] = sum;
        sum += found;
        starts[from + i + 1] = starts[from] + sum;
      }
      const list = scratch.room(sum * 4);
      kernel("gridWithin")(n, counts, ...shared, list);
      parts.push(new Int32Array(engine().memory.memory.buffer, list, sum).slice());
    });
    const numbers = new Int32Array(starts[count]);
    let at = 0;
    for (const part of parts) {
      numbers.set(part, at);
      at += part.length;
    }
    return { starts, numbers };
  }

  private inStretches(work: (from: number, count: number) => void): void {
    for (let from = 0; from < this.count; from += STRETCH) {
      tick(STRETCH * 2);
      work(from, Math.min(STRETCH, this.count - from));
    }
  }

  private sort(scratch: Scratch, points: Lanes, starts: Int32Array, total: number): void {
    const { kernels } = scratch.engine;
    const { count } = this;
    const [cellOf, order] = [scratch.room(count * 4), scratch.room(count * 4)];
    const lanes = points.map((lane) => inMemory(scratch, lane));
    this.inStretches((from, n) => {
      const [x, y, z] = lanes.map((lane) => lane + from * 4);
      kernels.kernel("gridCells")(n, cellOf + from * 4, x, y, z, this.address);
    });
    kernels.kernel("gridStarts")(total, starts.byteOffset);
    starts.fill(count, total + 1);
    this.inStretches((from, n) =>
      kernels.kernel("gridOrder")(n, from, cellOf + from * 4, order, this.address),
    );
    const [x, y, z] = lanes;
    this.inStretches((from, n) => kernels.kernel("gridBlocks")(from, n, order, x, y, z, this.address));
  }

  private numberAt(sorted: number): number {
    return this.blocks[(sorted >> 2) * BLOCK_WORDS + 12 + (sorted & 3)];
  }

  /** Runs `work` over stretches of places; the last address is that of their numbers, as floats. */
  private over(
    places: Lanes,
    work: (place: readonly number[], from: number, count: number, scratch: Scratch) => void,
  ): void {
    const count = places[0].length;
    for (let from = 0; from < count; from += STRETCH) {
      tick(STRETCH * 8);
      const n = Math.min(STRETCH, count - from);
      withScratch((scratch) => {
        const part = places.map((lane) => scratch.place((lane as Float32Array).subarray(from, from + n)));
        const self = scratch.room(n * 4);
        scratch.engine.kernels.kernel("countUp")(n, self, from);
        work([...part, self], from, n, scratch);
      });
    }
  }
}

/** Address of the numbers, copied when they stand elsewhere. */
const inMemory = (scratch: Scratch, lane: ArrayLike<number>): number =>
  addressOf(lane) ?? scratch.place(lane);

/** Cells of one size along all axes that have any extent, CROWD points in each if they are spread evenly and no least is asked for. */
function layOut(
  points: Lanes,
  count: number,
  leastSide: number,
): { least: number[]; side: number; cells: number[] } {
  const ranges = points.map((lane) => rangeOf(lane) ?? { min: 0, max: 0 });
  const extents = ranges.map(({ min, max }) => max - min);
  const wide = Math.max(...extents);
  // An axis that is next to nothing is one cell wide and does not count.
  const counted = extents.filter((extent) => extent > wide * 1e-3);
  const room = counted.reduce((product, extent) => product * (extent / wide), 1);
  const wanted = Math.max(1, count / CROWD);
  const share = room / wanted;
  const part = counted.length === 3 ? cubeRoot(share) : counted.length === 2 ? Math.sqrt(share) : share;
  // As a float32 it must not be less than what was asked for.
  const side = Math.fround(
    Math.max(wide > 0 ? wide * Math.max(part, 1 / MOST_CELLS) : 1, leastSide * (1 + 1e-6)),
  );
  return {
    least: ranges.map(({ min }) => min),
    side,
    cells: extents.map((extent) => Math.max(1, Math.min(MOST_CELLS, Math.ceil(extent / side)))),
  };
}
