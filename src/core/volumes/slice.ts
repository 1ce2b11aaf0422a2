/** A sheet through a volume with what its voxels say there. */
import { tick } from "../cancelling";
import { makeColumn, withColumns } from "../geometry/column";
import { type Mesh, pointLanes, withPoints } from "../geometry/mesh";
import { planeMesh } from "../geometry/primitives";
import { type Volume, VolumeReader, volumeBounds } from "../geometry/volume";

export const SLICE_AXES = ["x", "y", "z"] as const;
export type SliceAxis = (typeof SLICE_AXES)[number];

/** Squares along one side of a sheet at most. */
const MOST_SQUARES = 1024;

/** For each axis that a sheet lies across: the axes of its width and depth, in the order in which the sheet looks along the axis. */
const SIDES = { x: [2, 1], y: [0, 2], z: [0, 1] } as const;

/**
 * @param along 0 to 1 through the volume's box
 * @param name column that is read; of several lanes their length
 * @returns squares as large as voxels, with `value` at their points; null where the volume says nothing
 */
export function sliceOf(volume: Volume, axis: SliceAxis, along: number, name: string): Mesh | null {
  const box = volumeBounds(volume);
  if (!box) return null;
  const across = SLICE_AXES.indexOf(axis);
  const [u, v] = SIDES[axis];
  const size = [0, 1, 2].map((a) => box.max[a] - box.min[a]);
  const squares = (a: number) => Math.min(MOST_SQUARES, Math.max(1, Math.round(size[a] / volume.voxel)));
  const flat = planeMesh(size[u], size[v], squares(u), squares(v));
  const [x, , z] = pointLanes(flat);
  const lanes = [0, 1, 2].map(() => new Float32Array(x.length));
  const value = new Float32Array(x.length);
  const readers = volume.voxels.columns[name].lanes.map((_, lane) => new VolumeReader(volume, name, lane));
  const at = box.min[across] + size[across] * Math.min(1, Math.max(0, along));
  const middle = (a: number) => (box.min[a] + box.max[a]) / 2;
  for (let p = 0; p < x.length; p++) {
    tick(8);
    lanes[across][p] = at;
    // The plane's depth stays where the sheet lies across y, and turns up where it stands; so it faces along its axis.
    lanes[u][p] = middle(u) + (axis === "x" ? -x[p] : x[p]);
    lanes[v][p] = middle(v) + (axis === "y" ? z[p] : -z[p]);
    const said = readers.map((reader) => reader.at(lanes[0][p], lanes[1][p], lanes[2][p]));
    value[p] = said.length === 1 ? said[0] : Math.sqrt(said.reduce((sum, s) => sum + s * s, 0));
  }
  const columns = { position: makeColumn("vector", lanes), value: makeColumn("number", [value]) };
  return withPoints(flat, withColumns(flat.points, columns));
}
