/**
 * Operations that ask prepared structures: surfaces, insides, grids, curves. They run as scripts over the numbers of a block, as
 * structures of packages do not live in the kernels' memory.
 */
import type { AlongCurves } from "../geometry/along-curves";
import type { ColumnKind, Lane } from "../geometry/column";
import { premultiplied } from "../geometry/premultiplied";
import type { HashGrid } from "../spatial/hash-grid";
import type { LazyInside } from "../spatial/inside";
import type { NearCurves } from "../spatial/near-curves";
import type { SurfaceTree } from "../spatial/surface-tree";
import type { Operation, StepData } from "./operation";

/** Writes the outputs of `count` elements; `at` has where the lanes of the outputs begin in `floats`, then those of the inputs. */
type Work = (floats: Float32Array, at: readonly number[], count: number) => void;

/** @param prepare what is asked, from the step's data */
const asking = (inputs: number, outputs: number, prepare: (data: StepData) => Work): Operation => ({
  inputs,
  outputs,
  calls(arriving, leaving, data) {
    const work = prepare(data as StepData);
    const run = (floats: Float32Array, addresses: readonly number[], count: number) =>
      work(
        floats,
        addresses.map((address) => address / 4),
        count,
      );
    return [{ run, operands: [...leaving, ...arriving] }];
  },
});

/**
 * Writes up to four components of what a surface carries at a place into outputs from `first` on; 0 where there is no place.
 * Colours are mixed by their alpha.
 */
function carrying(data: StepData) {
  const tree = data.tree as SurfaceTree;
  const kind = (data.kind ?? "vector") as ColumnKind;
  const lanes = premultiplied({ kind, lanes: data.lanes as readonly Lane[] });
  const clear = lanes !== data.lanes;
  const byCorner = data.byCorner === true;
  return (
    floats: Float32Array,
    at: readonly number[],
    first: number,
    i: number,
    place: { x: number; y: number; z: number } | null | undefined,
    triangle: number,
  ): void => {
    const mix = place && lanes.length > 0 ? tree.mixAt(place, triangle, byCorner) : null;
    for (let l = 0; l < 4; l++) floats[at[first + l] + i] = mix && lanes[l] ? mix(lanes[l]) : 0;
    const alpha = clear ? floats[at[first + 3] + i] : 0;
    if (alpha > 0) for (let l = 0; l < 3; l++) floats[at[first + l] + i] /= alpha;
  };
}

export const ASKING = {
  /** What the element of a number has, up to four components; 0 where there is none; data: lanes. */
  ofNumber: asking(1, 4, (data) => {
    const lanes = data.lanes as readonly ArrayLike<number>[];
    return (floats, [first, second, third, fourth, number], count) => {
      [first, second, third, fourth].forEach((out, l) => {
        for (let i = 0; i < count; i++) floats[out + i] = lanes[l]?.[floats[number + i]] ?? 0;
      });
    };
  }),

  /**
   * How many points of a grid are nearer to (x, y, z) than `reach`, itself left out by its number when `own`, and the mean of
   * their values, 0 without any; data: grid, reach, own, values.
   */
  near: asking(4, 2, (data) => {
    const grid = data.grid as HashGrid;
    const reach = data.reach as number;
    const values = data.values as ArrayLike<number>;
    return (floats, [out, mean, x, y, z, self], count) => {
      for (let i = 0; i < count; i++) {
        const own = data.own === true ? floats[self + i] : -1;
        let found = 0;
        let sum = 0;
        grid.within(floats[x + i], floats[y + i], floats[z + i], reach, (point) => {
          if (point !== own) {
            found++;
            sum += values[point];
          }
          return undefined;
        });
        floats[out + i] = found;
        floats[mean + i] = found > 0 ? sum / found : 0;
      }
    };
  }),

  /** 1 where (x, y, z) lies inside of a closed mesh, else 0; data: inside. */
  within: asking(3, 1, (data) => {
    const inside = data.inside as LazyInside;
    return (floats, [out, x, y, z], count) => {
      for (let i = 0; i < count; i++)
        floats[out + i] = inside.contains(floats[x + i], floats[y + i], floats[z + i]) ? 1 : 0;
    };
  }),

  /**
   * Where a ray from (x, y, z) along (dx, dy, dz) meets a surface: 1 or 0, distance, place, facing, and up to four components
   * of what its points have, mixed over the triangle; what misses has 0 and its own place; data: tree, most, bothSides, lanes,
   * kind, byCorner.
   */
  castRay: asking(6, 12, (data) => {
    const tree = data.tree as SurfaceTree;
    const most = data.most as number;
    const both = data.bothSides === true;
    const carry = carrying(data);
    return (floats, at, count) => {
      const [met, distance, ox, oy, oz, fx, fy, fz] = at;
      const [x, y, z, dx, dy, dz] = at.slice(12);
      for (let i = 0; i < count; i++) {
        const px = floats[x + i];
        const py = floats[y + i];
        const pz = floats[z + i];
        const hit = tree.meet(px, py, pz, floats[dx + i], floats[dy + i], floats[dz + i], most, both);
        const facing = hit ? tree.facing(hit.faceIndex ?? -1) : null;
        floats[met + i] = hit ? 1 : 0;
        floats[distance + i] = hit?.distance ?? 0;
        floats[ox + i] = hit?.point.x ?? px;
        floats[oy + i] = hit?.point.y ?? py;
        floats[oz + i] = hit?.point.z ?? pz;
        floats[fx + i] = facing?.x ?? 0;
        floats[fy + i] = facing?.y ?? 0;
        floats[fz + i] = facing?.z ?? 0;
        carry(floats, at, 8, i, hit?.point, hit?.faceIndex ?? -1);
      }
    };
  }),

  /**
   * Place and direction at a part of a curve's length; data: along, curve, and the lanes of all points: position, then
   * tangent.
   */
  alongCurve: asking(1, 6, (data) => {
    const along = data.along as AlongCurves;
    const lanes = data.lanes as readonly ArrayLike<number>[];
    return (floats, at, count) => {
      for (let i = 0; i < count; i++) {
        const { p, q, t } = along.at(data.curve as number, floats[at[6] + i]);
        for (let o = 0; o < 6; o++) floats[at[o] + i] = lanes[o][p] + (lanes[o][q] - lanes[o][p]) * t;
        const [dx, dy, dz] = [floats[at[3] + i], floats[at[4] + i], floats[at[5] + i]];
        const size = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1;
        for (let o = 3; o < 6; o++) floats[at[o] + i] /= size;
      }
    };
  }),

  /**
   * The nearest place on curves to (x, y, z): distance, place, direction, part of its curve's length, the curve's number;
   * data: near.
   */
  nearCurve: asking(3, 9, (data) => {
    const near = data.near as NearCurves;
    return (floats, at, count) => {
      const [x, y, z] = at.slice(9);
      for (let i = 0; i < count; i++) near.find(floats[x + i], floats[y + i], floats[z + i], floats, at, i);
    };
  }),
} as const satisfies Record<string, Operation>;
