/** Shapes as distances, made once for each: for what asks whether cells are inside of something. */
import { withKin } from "../geometry/across";
import { makeColumn } from "../geometry/column";
import { placedName } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import type { Volume } from "../geometry/volume";
import { volumeOfBalls } from "./from-balls";
import { volumeOfMesh } from "./from-mesh";

const known = new WeakMap<object, Map<string, Volume | null>>();

/** A shape's volume as it is, a mesh as what it encloses, anything else as balls of a radius; null for nothing. @throws TooFine */
export function asDistances(shape: Shape, voxel: number, radius: number): Volume | null {
  const { volume, mesh } = shape;
  if (volume?.voxels.columns.distance) return volume;
  const source = mesh && mesh.faces.count > 0 ? mesh : shape;
  const key = `${voxel} ${radius}`;
  let made = known.get(source);
  if (!made) known.set(source, (made = new Map()));
  const before = made.get(key);
  if (before !== undefined) return before;
  const volumeThere =
    mesh && mesh.faces.count > 0
      ? (volumeOfMesh(mesh, { voxel, band: 2 * voxel, thickness: null })?.volume ?? null)
      : balls(shape, voxel, radius);
  const result = volumeThere && keptApart(volumeThere);
  made.set(key, result);
  return result;
}

/** In arrays of its own: lanes of the memory are taken back after an evaluation. */
function keptApart(volume: Volume): Volume {
  const { distance } = volume.voxels.columns;
  const own = makeColumn(
    "number",
    distance.lanes.map((lane) => Float32Array.from(lane)),
  );
  return { ...volume, voxels: { count: volume.voxels.count, columns: { distance: own } } };
}

function balls(shape: Shape, voxel: number, radius: number): Volume | null {
  const on = placedName(shape);
  if (!on) return null;
  const { count, columns } = withKin(shape, on);
  return volumeOfBalls(
    { places: columns.position.lanes, radii: new Float32Array(count).fill(radius) },
    voxel,
    2 * voxel,
  );
}
