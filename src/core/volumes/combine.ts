/**
 * Two volumes as one: union, intersection and difference of what is inside (A. Ricci, "A constructive geometry for computer graphics", 1973), each
 * also melted over a radius by the quadratic smooth minimum. Only tiles where both have something to say are worked out; others are passed on.
 */
import { tick } from "../cancelling";
import { type Column, defaultOf, LANES, makeColumn, makeLanes } from "../geometry/column";
import { beyond, INSIDE, OUTSIDE, TILE_VOXELS, tileState, type Volume } from "../geometry/volume";
import type { Vec3 } from "../maths/vector";
import { resampledTo } from "./resample";
import { TileBox } from "./tiles";

export const COMBINATIONS = ["union", "intersection", "difference"] as const;
export type Combination = (typeof COMBINATIONS)[number];

/** What is left of a distance, and how much of the other's columns counts. */
interface Mixed {
  value: number;
  share: number;
}

const mixed: Mixed = { value: 0, share: 0 };

/** The lesser of two, rounded where they are nearer to each other than `soft`; `share` is 1 where all of it is of the second. */
function softMinimum(a: number, b: number, soft: number): Mixed {
  const h = soft > 0 ? Math.max(soft - Math.abs(a - b), 0) / soft : 0;
  mixed.value = Math.min(a, b) - (h * h * soft) / 4;
  mixed.share = soft > 0 ? Math.min(1, Math.max(0, 0.5 + (a - b) / (2 * soft))) : b < a ? 1 : 0;
  return mixed;
}

/** Distances of A with those of B. */
function combined(how: Combination, a: number, b: number, soft: number): Mixed {
  if (how === "union") return softMinimum(a, b, soft);
  const other = how === "intersection" ? -b : b;
  softMinimum(-a, other, soft);
  mixed.value = -mixed.value;
  return mixed;
}

/** What a tile is of which neither has anything to say but its side; null where voxels are to be worked out. */
function plain(how: Combination, a: number, b: number): number | "a" | "b" | null {
  const otherIn = how === "difference" ? OUTSIDE : INSIDE;
  const otherOut = how === "difference" ? INSIDE : OUTSIDE;
  if (how === "union") {
    if (a === INSIDE || b === INSIDE) return INSIDE;
    if (a === OUTSIDE) return b < 0 ? b : "b";
    return b === OUTSIDE ? "a" : null;
  }
  if (a === OUTSIDE || b === otherOut) return OUTSIDE;
  if (b === otherIn) return a < 0 ? a : "a";
  return a === INSIDE && how === "intersection" ? (b < 0 ? b : "b") : null;
}

/**
 * Both are distances. What B has besides is mixed into what A has where they melt.
 * @param soft units: radius over which they melt; no more than the bands tell
 * @throws TooFine
 */
export function combine(how: Combination, a: Volume, other: Volume, soft: number): Volume {
  const b = other.voxel === a.voxel ? other : resampledTo(other, a.voxel);
  const band = Math.min(a.band, b.band);
  const reach = Math.min(soft, band);
  const box = how === "union" ? joined(a, b) : new TileBox(a.voxel, a.first, a.tiles);
  const names = [...new Set([...Object.keys(a.voxels.columns), ...Object.keys(b.voxels.columns)])];
  const work: { at: number; x: number; y: number; z: number; from: "a" | "b" | null }[] = [];
  let at = 0;
  for (let z = box.first[2]; z < box.first[2] + box.tiles[2]; z++)
    for (let y = box.first[1]; y < box.first[1] + box.tiles[1]; y++)
      for (let x = box.first[0]; x < box.first[0] + box.tiles[0]; x++, at++) {
        const made = plain(how, tileState(a, x, y, z), tileState(b, x, y, z));
        if (typeof made === "number") box.table[at] = made;
        else {
          box.add(at);
          work.push({ at, x, y, z, from: made });
        }
      }
  const made = new Map<string, Column>();
  for (const name of names) {
    const { kind } = a.voxels.columns[name] ?? b.voxels.columns[name];
    made.set(name, makeColumn(kind, makeLanes(kind, box.voxels)));
  }
  const pair = { a, b, how, reach, band };
  for (const { at, x, y, z, from } of work) {
    tick(TILE_VOXELS);
    const states = [tileState(a, x, y, z), tileState(b, x, y, z)] as const;
    writeTile(made, box.table[at] * TILE_VOXELS, pair, states, from);
  }
  return box.volume(band, Object.fromEntries(made));
}

interface Pair {
  readonly a: Volume;
  readonly b: Volume;
  readonly how: Combination;
  readonly reach: number;
  readonly band: number;
}

/** How much of each voxel's other columns is of the second volume, of the tile that is written. */
const shares = new Float32Array(TILE_VOXELS);

/** Writes one tile of all columns. @param from the one of the two that all of it is of; null where both have a say */
function writeTile(
  made: ReadonlyMap<string, Column>,
  to: number,
  pair: Pair,
  [stateA, stateB]: readonly [number, number],
  from: "a" | "b" | null,
): void {
  const laneOf = (name: string, kind: Column["kind"], l: number) =>
    [tileOf(pair.a, stateA, name, kind, l), tileOf(pair.b, stateB, name, kind, l)] as const;
  if (from) shares.fill(from === "a" ? 0 : 1);
  else {
    const [a, b] = laneOf("distance", "number", 0);
    const lane = made.get("distance")?.lanes[0] as Float32Array;
    for (let v = 0; v < TILE_VOXELS; v++) {
      const { value, share } = combined(pair.how, a[v], b[v], pair.reach);
      lane[to + v] = Math.max(-pair.band, Math.min(pair.band, value));
      shares[v] = share;
    }
  }
  for (const [name, { lanes, kind }] of made) {
    if (!from && name === "distance") continue;
    for (const [l, lane] of (lanes as Float32Array[]).entries()) {
      const [a, b] = laneOf(name, kind, l);
      for (let v = 0; v < TILE_VOXELS; v++) lane[to + v] = a[v] + (b[v] - a[v]) * shares[v];
    }
  }
}

/** Around both. */
function joined(a: Volume, b: Volume): TileBox {
  const first = a.first.map((v, i) => Math.min(v, b.first[i])) as unknown as Vec3;
  const tiles = a.first.map(
    (v, i) => Math.max(v + a.tiles[i], b.first[i] + b.tiles[i]) - first[i],
  ) as unknown as Vec3;
  return new TileBox(a.voxel, first, tiles);
}

/** A lane of a column over one tile; where no tile stands, what is there. */
function tileOf(
  volume: Volume,
  state: number,
  name: string,
  kind: Column["kind"],
  l: number,
): ArrayLike<number> {
  const column = volume.voxels.columns[name];
  if (state >= 0 && column && l < LANES[kind])
    return column.lanes[l].subarray(state * TILE_VOXELS, (state + 1) * TILE_VOXELS);
  const value =
    name === "distance" || name === "density" ? beyond(volume, name, state) : defaultOf(name, kind)[l];
  return new Float32Array(TILE_VOXELS).fill(value);
}
