/** Volumes grown, hollowed, smoothed, sharpened, filled, thinned, and as densities. */
import { tick } from "../cancelling";
import { makeColumn, makeFloats, withColumns } from "../geometry/column";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { keepFaces, numbersWhere } from "../geometry/subset";
import {
  eachTile,
  INSIDE,
  levelLane,
  OUTSIDE,
  TILE,
  TILE_VOXELS,
  type Volume,
  VolumeReader,
  voxelPlaces,
} from "../geometry/volume";
import { connectedParts } from "../meshes/parts";
import { volumeOfMesh } from "./from-mesh";
import { carried, surfaceOf } from "./surface-nets";

const distanceOf = ({ voxels }: Volume): Float32Array => voxels.columns.distance.lanes[0] as Float32Array;

const withDistance = (volume: Volume, distance: Float32Array): Volume => ({
  ...volume,
  voxels: withColumns(volume.voxels, { distance: makeColumn("number", [distance]) }),
});

/** Distances to a surface of the volume, told so far, with what its voxels have besides. @throws TooFine */
function ofSurface(mesh: Mesh, volume: Volume, band: number): Volume | null {
  const made = volumeOfMesh(mesh, { voxel: volume.voxel, band, thickness: null });
  if (!made) return null;
  const { distance, ...others } = volume.voxels.columns;
  if (Object.keys(others).length === 0) return made.volume;
  const voxels = withColumns(made.volume.voxels, carried(volume, voxelPlaces(made.volume)));
  return { ...made.volume, voxels };
}

/** The same surface with distances that are told so far, and true again; null where there is no surface. @throws TooFine */
export function toldAnew(volume: Volume, band: number): Volume | null {
  const mesh = surfaceOf(volume, { level: 0 });
  return mesh && ofSurface(mesh, volume, band);
}

/** The volume with distances told at least so far; null where there is no surface. @throws TooFine */
export const toldTo = (volume: Volume, band: number): Volume | null =>
  volume.band >= band * (1 - 1e-6) ? volume : toldAnew(volume, band);

/** The surface moved outwards, at each voxel by so many units. Distances stay told to the band, less true the more amounts differ. */
export function grown(volume: Volume, amounts: Float32Array): Volume {
  const from = distanceOf(volume);
  const distance = makeFloats(from.length);
  const { band } = volume;
  for (let i = 0; i < from.length; i++) distance[i] = Math.max(-band, Math.min(band, from[i] - amounts[i]));
  tick(from.length / 8);
  return withDistance(volume, distance);
}

/** A wall along the surface, inwards: what lies deeper is taken out. @param thickness units at each voxel */
export function hollowed(volume: Volume, thickness: Float32Array): Volume {
  const from = distanceOf(volume);
  const distance = makeFloats(from.length);
  for (let i = 0; i < from.length; i++) distance[i] = Math.max(from[i], -(from[i] + thickness[i]));
  tick(from.length / 8);
  const table = volume.table.map((state) => (state === INSIDE ? OUTSIDE : state));
  return { ...withDistance(volume, distance), table };
}

/** Each distance as the mean of itself and the six beside it, so many times; by a share at each voxel. */
export function smoothed(volume: Volume, rounds: number, share: Float32Array): Volume {
  let made = volume;
  for (let round = 0; round < rounds; round++) {
    const from = distanceOf(made);
    const distance = makeFloats(from.length);
    const reader = new VolumeReader(made, "distance");
    eachTile(made, (tile, x, y, z) => {
      tick(TILE_VOXELS * 2);
      for (let v = 0; v < TILE_VOXELS; v++) {
        const at = tile * TILE_VOXELS + v;
        const [i, j, k] = [v & 7, (v >> 3) & 7, v >> 6];
        // Most have all of their neighbours in the same tile.
        const sum =
          (i > 0 ? from[at - 1] : reader.voxel(x * TILE + i - 1, y * TILE + j, z * TILE + k)) +
          (i < 7 ? from[at + 1] : reader.voxel(x * TILE + i + 1, y * TILE + j, z * TILE + k)) +
          (j > 0 ? from[at - 8] : reader.voxel(x * TILE + i, y * TILE + j - 1, z * TILE + k)) +
          (j < 7 ? from[at + 8] : reader.voxel(x * TILE + i, y * TILE + j + 1, z * TILE + k)) +
          (k > 0 ? from[at - 64] : reader.voxel(x * TILE + i, y * TILE + j, z * TILE + k - 1)) +
          (k < 7 ? from[at + 64] : reader.voxel(x * TILE + i, y * TILE + j, z * TILE + k + 1));
        distance[at] = from[at] + share[at] * ((sum + from[at]) / 7 - from[at]);
      }
    });
    made = withDistance(made, distance);
  }
  return made;
}

/** Takes from each distance what smoothing would bring it: edges and dents stand out more. @param rounds how wide it looks */
export function sharpened(volume: Volume, rounds: number, share: Float32Array): Volume {
  const from = distanceOf(volume);
  const even = distanceOf(smoothed(volume, rounds, new Float32Array(from.length).fill(1)));
  const distance = makeFloats(from.length);
  const { band } = volume;
  for (let i = 0; i < from.length; i++)
    distance[i] = Math.max(-band, Math.min(band, from[i] + share[i] * (from[i] - even[i])));
  return withDistance(volume, distance);
}

/** Without the hollows that nothing leads out of; null where there is no surface. @throws TooFine */
export function filled(volume: Volume): Volume | null {
  const mesh = surfaceOf(volume, { level: 0 });
  if (!mesh) return null;
  const { of, count } = connectedParts(mesh);
  const enclosed = new Float64Array(count);
  const [x, y, z] = pointLanes(mesh);
  for (let f = 0; f < mesh.faces.count; f++) {
    const [a, b, c, d] = mesh.cornerPoint.subarray(f * 4, f * 4 + 4);
    // Twice the area as a vector is the cross product of the diagonals; times a corner it is six times a share of the volume.
    const [ux, uy, uz] = [x[c] - x[a], y[c] - y[a], z[c] - z[a]];
    const [vx, vy, vz] = [x[d] - x[b], y[d] - y[b], z[d] - z[b]];
    enclosed[of[f]] += x[a] * (uy * vz - uz * vy) + y[a] * (uz * vx - ux * vz) + z[a] * (ux * vy - uy * vx);
  }
  // Faces of a hollow look inwards, so what they enclose counts below 0.
  const outer = numbersWhere(mesh.faces.count, (f) => enclosed[of[f]] > 0);
  return outer.length === mesh.faces.count ? volume : ofSurface(keepFaces(mesh, outer), volume, volume.band);
}

/** Densities in place of distances: 1 so deep inside and deeper, 0 outside. @param depth units at each voxel */
export function asDensity(volume: Volume, depth: Float32Array): Volume {
  const from = distanceOf(volume);
  const density = makeFloats(from.length);
  for (let i = 0; i < from.length; i++)
    density[i] = from[i] >= 0 ? 0 : depth[i] > 0 ? Math.min(1, -from[i] / depth[i]) : 1;
  tick(from.length / 8);
  const { distance: _, ...others } = volume.voxels.columns;
  const columns = { density: makeColumn("number", [density]), ...others };
  return { ...volume, band: 0, voxels: { count: volume.voxels.count, columns } };
}

/** Densities times a share at each voxel. */
export function thinned(volume: Volume, share: Float32Array): Volume {
  const from = levelLane(volume);
  const density = makeFloats(from.length);
  for (let i = 0; i < from.length; i++) density[i] = Math.max(0, from[i] * share[i]);
  const voxels = withColumns(volume.voxels, { density: makeColumn("number", [density]) });
  return { ...volume, voxels };
}
