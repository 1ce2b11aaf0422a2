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
  const shares = new Float32Array(TILE_VOXELS);
  for (const { at, x, y, z, from } of work) {
    tick(TILE_VOXELS);
    const to = box.table[at] * TILE_VOXELS;
    const [stateA, stateB] = [tileState(a, x, y, z), tileState(b, x, y, z)];
    for (const [name, { lanes, kind }] of made) {
      for (const [l, lane] of (lanes as Float32Array[]).entries()) {
        const values = [[a, stateA] as const, [b, stateB] as const].map(([volume, state]) =>
          tileOf(volume, state, name, kind, l),
        );
        if (name === "distance") {
          for (let v = 0; v < TILE_VOXELS; v++) {
            if (from) {
              lane[to + v] = from === "a" ? values[0][v] : values[1][v];
              shares[v] = from === "a" ? 0 : 1;
            } else {
              const { value, share } = combined(how, values[0][v], values[1][v], reach);
              lane[to + v] = Math.max(-band, Math.min(band, value));
              shares[v] = share;
            }
          }
        } else
          for (let v = 0; v < TILE_VOXELS; v++)
            lane[to + v] = values[0][v] + (values[1][v] - values[0][v]) * shares[v];
      }
    }
  }
  return box.volume(band, Object.fromEntries(made));
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
