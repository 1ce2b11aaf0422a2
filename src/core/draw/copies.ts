/** Copies of something on sites: matrices and colours, composed when they are first asked for. */
import { tick } from "../cancelling";
import { type Bounds, siteMatricesAndBounds } from "../geometry/bounds";
import type { Domain, Lane } from "../geometry/column";
import { hasLook, writeLooks } from "../geometry/looks-of";
import { lanesOf } from "../geometry/shape";
import { LOOK_NAMES, LOOK_WIDTH, saidOr, UNSAID } from "../geometry/surface-look";
import { ROUNDNESS, THICKNESS } from "../geometry/thickness";
import { addressOf } from "../kernels/arena";
import { gatherInto } from "../kernels/gathering";
import { interleave } from "../kernels/placing";
import { MOST_SITES } from "../limits";
import { multiplyMatrix } from "../maths/matrix";
import { type DrawArrays, ORDINARY } from "./draw-memory";

/** More than can be drawn, `MOST_SITES` copies at most: the stage says so instead of stopping. */
export class TooManyCopies extends Error {
  constructor(
    readonly copies: number,
    what = "copies",
    limit = MOST_SITES,
  ) {
    super(`This draws ${copies} ${what}; the limit is ${limit}. Clone onto fewer sites.`);
  }
}

export interface Copies {
  readonly count: number;
  readonly matrices: Float32Array;
  readonly colors: Float32Array;
  /** What each is made of (geometry/surface-look.ts), LOOK_WIDTH numbers; null where none says anything. */
  readonly looks: Float32Array | null;
}

const ONE: Copies = {
  count: 1,
  matrices: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
  colors: Float32Array.of(1, 1, 1, 1),
  looks: null,
};

/** Copies that may still be uncomposed. */
export interface Part {
  readonly count: number;
  readonly copies: () => Copies;
  /** The sites that are the copies, when nothing else is to them. */
  readonly sites?: Domain;
}

/** Sites of some numbers, their columns gathered when they are first asked for. */
export function onSome(sites: Domain, numbers: Int32Array, taken: Taken): Part {
  let gathered: Part | null = null;
  const part = () => {
    gathered ??= onSites(gatheredSites(sites, numbers, taken));
    return gathered;
  };
  return {
    count: numbers.length,
    get sites() {
      return part().sites;
    },
    copies: () => part().copies(),
  };
}

/** What is drawn of sites, of some of them. */
function gatheredSites({ columns }: Domain, numbers: Int32Array, taken: Taken): Domain {
  const picked = taken.integers(numbers);
  // Lanes that are one stay one.
  const made = new Map<Lane, Float32Array>();
  const gather = (lane: Lane) => {
    let out = made.get(lane);
    if (!out) {
      made.set(lane, (out = taken.floats(numbers.length)));
      gatherInto(out, lane, picked);
    }
    return out;
  };
  const drawn = ["position", "rotation", "scale", "color", THICKNESS, ROUNDNESS, ...LOOK_NAMES];
  return {
    count: numbers.length,
    columns: Object.fromEntries(
      drawn.flatMap((name) => {
        const column = columns[name];
        return column ? [[name, { kind: column.kind, lanes: column.lanes.map(gather) }]] : [];
      }),
    ),
  };
}

/** Arrays that a drawing needs only while it is made. */
export class Taken {
  private readonly all: Float32Array[] = [];
  constructor(private readonly arrays: DrawArrays) {}

  floats(count: number): Float32Array {
    const array = this.arrays.take(count);
    this.all.push(array);
    return array;
  }

  integers(values: Int32Array): Int32Array {
    const { buffer, byteOffset } = this.floats(values.length);
    const array = new Int32Array(buffer, byteOffset, values.length);
    array.set(values);
    return array;
  }

  /** A lane of the memory with the same numbers, where arrays are taken from there. */
  placed(lane: Lane): Lane {
    if (addressOf(lane) !== null) return lane;
    const copy = this.floats(lane.length);
    copy.set(lane);
    return copy;
  }

  giveBack(): void {
    for (const array of this.all) this.arrays.give(array);
  }
}

export const ONE_COPY: Part = { count: 1, copies: () => ONE };

export const partOf = (copies: Copies): Part => ({ count: copies.count, copies: () => copies });

/** Copies on all sites, composed when they are first asked for. */
export function onSites(sites: Domain): Part {
  let composed: Copies | null = null;
  return {
    count: sites.count,
    sites,
    copies: () => {
      composed ??= {
        count: sites.count,
        matrices: composeMatrices(sites, ORDINARY, null).matrices,
        colors: composeColors(sites, ORDINARY),
        looks: composeLooks(sites, ORDINARY),
      };
      return composed;
    },
  };
}

export function composeMatrices(
  sites: Domain,
  arrays: DrawArrays,
  own: Bounds | null,
): { matrices: Float32Array; bounds: Bounds | null } {
  const matrices = arrays.take(sites.count * 16);
  return { matrices, bounds: siteMatricesAndBounds(sites, matrices, own) };
}

export function composeColors(sites: Domain, arrays: DrawArrays): Float32Array {
  const { lanes } = lanesOf(sites, "color", "color");
  const colors = arrays.take(sites.count * 4);
  return lanes ? interleave("interleave4", lanes, 4, colors) : colors.fill(1);
}

export const composeLooks = (sites: Domain, arrays: DrawArrays): Float32Array | null =>
  hasLook(sites) ? writeLooks(sites, arrays.take(sites.count * LOOK_WIDTH)) : null;

/** Every outer copy with every inner one; colours multiply, and what an inner one is made of counts where it says so. */
export function multiplyCopies(outer: Copies, inner: Copies): Copies {
  const count = outer.count * inner.count;
  if (count > MOST_SITES) throw new TooManyCopies(count);
  const matrices = new Float32Array(count * 16);
  const colors = new Float32Array(count * 4);
  const looks = outer.looks || inner.looks ? new Float32Array(count * LOOK_WIDTH) : null;
  let at = 0;
  for (let o = 0; o < outer.count; o++) {
    for (let i = 0; i < inner.count; i++) {
      tick();
      multiplyMatrix(matrices, at * 16, outer.matrices, o * 16, inner.matrices, i * 16);
      for (let k = 0; k < 4; k++) colors[at * 4 + k] = outer.colors[o * 4 + k] * inner.colors[i * 4 + k];
      for (let k = 0; looks && k < LOOK_WIDTH; k++)
        looks[at * LOOK_WIDTH + k] = saidOr(
          inner.looks?.[i * LOOK_WIDTH + k] ?? UNSAID,
          outer.looks?.[o * LOOK_WIDTH + k] ?? UNSAID,
        );
      at++;
    }
  }
  return { count, matrices, colors, looks };
}

export function join(parts: readonly Part[]): Copies {
  if (parts.length === 1) return parts[0].copies();
  const count = parts.reduce((sum, part) => sum + part.count, 0);
  if (count > MOST_SITES) throw new TooManyCopies(count);
  const matrices = new Float32Array(count * 16);
  const colors = new Float32Array(count * 4);
  const all = parts.map((part) => part.copies());
  const looks = all.some((copies) => copies.looks) ? new Float32Array(count * LOOK_WIDTH).fill(UNSAID) : null;
  let at = 0;
  for (const copies of all) {
    matrices.set(copies.matrices, at * 16);
    colors.set(copies.colors, at * 4);
    if (copies.looks) looks?.set(copies.looks, at * LOOK_WIDTH);
    at += copies.count;
  }
  return { count, matrices, colors, looks };
}
