/**
 * Distances to a mesh in a band around it: each triangle tells the voxels near it how far it is (exact, no tree is asked), then every row of
 * voxels is told inside from outside by where it passes the mesh.
 */
import { tick } from "../cancelling";
import { domainBounds } from "../geometry/bounds";
import { type Column, LANES, makeColumn, makeFloats, makeLanes } from "../geometry/column";
import { coloredDomain, type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { eachVoxel, INSIDE, TILE, TILE_VOXELS, type Volume } from "../geometry/volume";
import { passOn } from "./nearest-passed-on";
import { RowSigns } from "./row-signs";
import { TileBox, withoutFar } from "./tiles";
import { TriangleDistance } from "./triangle-distance";

export interface FromMesh {
  /** Units. */
  readonly voxel: number;
  /** Units on both sides of the surface; two voxels at least are told. */
  readonly band: number;
  /** Units: the surface is a sheet so thick, whatever it encloses; null for what is inside of a closed one. */
  readonly thickness: number | null;
}

export interface MeshVolume {
  readonly volume: Volume;
  /** The mesh is open, so what is inside is only what most rows say. */
  readonly isOpen: boolean;
}

/** Half the diagonal of a tile's voxels, in voxels. */
const TILE_REACH = (Math.sqrt(3) * (TILE - 1)) / 2;

/** Null for a mesh without triangles. @throws TooFine */
export function volumeOfMesh(mesh: Mesh, { voxel, band: wanted, thickness }: FromMesh): MeshVolume | null {
  const bounds = domainBounds(mesh.points);
  const corners = triangleCorners(mesh);
  if (!bounds || corners.length === 0) return null;
  const half = thickness === null ? 0 : thickness / 2;
  const band = Math.max(wanted, 2 * voxel);
  const told = band + half;
  const box = TileBox.around(bounds, voxel, told + voxel);
  const xyz = pointLanes(mesh);
  const points = corners.map((corner) => mesh.cornerPoint[corner]);
  standNear(box, xyz, points, told);
  const { near, which } = distances(box, xyz, points, told);
  const distance = makeFloats(box.voxels);
  const isOpen = thickness === null && signed(box, mesh, near, band, distance);
  if (thickness !== null) for (let i = 0; i < near.length; i++) distance[i] = Math.min(band, near[i] - half);
  const colors = colorsOf(box, mesh, xyz, points, corners, which);
  const volume = box.volume(band, { distance: makeColumn("number", [distance]), ...colors });
  return { volume: withoutFar(volume), isOpen };
}

/** Lets all tiles stand that a triangle comes near to. */
function standNear(box: TileBox, xyz: readonly Float32Array[], points: Int32Array, told: number): void {
  const { voxel, first, tiles } = box;
  const triangle = new TriangleDistance();
  const most = (told + TILE_REACH * voxel) ** 2;
  const span = voxel * TILE;
  const middle = ((TILE - 1) / 2) * voxel;
  for (let t = 0; t < points.length; t += 3) {
    const spans = xyz.map((lane) => reachOf(lane, points, t, told));
    const from = spans.map(([low], a) => Math.max(0, Math.floor(low / span) - first[a]));
    const to = spans.map(([, high], a) => Math.min(tiles[a] - 1, Math.floor(high / span) - first[a]));
    const isSmall = from.every((v, a) => to[a] - v < 2);
    if (!isSmall) triangle.set(xyz, points[t], points[t + 1], points[t + 2]);
    for (let k = from[2]; k <= to[2]; k++)
      for (let j = from[1]; j <= to[1]; j++)
        for (let i = from[0]; i <= to[0]; i++) {
          tick(0.5);
          const at = (k * tiles[1] + j) * tiles[0] + i;
          if (box.table[at] >= 0) continue;
          if (
            !isSmall &&
            triangle.squared(
              (first[0] + i) * span + middle,
              (first[1] + j) * span + middle,
              (first[2] + k) * span + middle,
            ) > most
          )
            continue;
          box.add(at);
        }
  }
}

function reachOf(lane: Float32Array, points: Int32Array, t: number, told: number): readonly [number, number] {
  const [a, b, c] = [lane[points[t]], lane[points[t + 1]], lane[points[t + 2]]];
  return [Math.min(a, b, c) - told, Math.max(a, b, c) + told];
}

/** Voxels from the surface to which every triangle is asked; what lies farther asks the voxels beside it. */
const EXACT = 2.5;

/** How far the nearest triangle is from each voxel, and which one that is: `told` and −1 where none is as near as that. */
function distances(
  box: TileBox,
  xyz: readonly Float32Array[],
  points: Int32Array,
  told: number,
): { near: Float32Array; which: Int32Array } {
  const { voxel, first, tiles, table } = box;
  const near = new Float32Array(box.voxels).fill(told * told);
  const exact = Math.min(told, EXACT * voxel);
  const which = new Int32Array(box.voxels).fill(-1);
  const triangle = new TriangleDistance();
  for (let t = 0; t < points.length; t += 3) {
    triangle.set(xyz, points[t], points[t + 1], points[t + 2]);
    const [xs, ys, zs] = ([0, 1, 2] as const).map((a) => box.reach(a, ...reachOf(xyz[a], points, t, exact)));
    for (let k = zs[0]; k <= zs[1]; k++)
      for (let j = ys[0]; j <= ys[1]; j++) {
        tick((xs[1] - xs[0]) / 2);
        const row = (((k >> 3) - first[2]) * tiles[1] + (j >> 3) - first[1]) * tiles[0] - first[0];
        const within = ((k & 7) << 6) + ((j & 7) << 3);
        for (let i = xs[0]; i <= xs[1]; i++) {
          const tile = table[row + (i >> 3)];
          if (tile < 0) continue;
          const at = tile * TILE_VOXELS + within + (i & 7);
          const far = triangle.squared(i * voxel, j * voxel, k * voxel);
          if (far < near[at]) {
            near[at] = far;
            which[at] = t;
          }
        }
      }
  }
  if (exact < told) passOn(box, xyz, points, { near, which }, told * told);
  for (let i = 0; i < near.length; i++) near[i] = Math.sqrt(near[i]);
  return { near, which };
}

/** Writes distances with their sides, and says of tiles that do not stand which side they are on. @returns whether the mesh is open */
function signed(box: TileBox, mesh: Mesh, near: Float32Array, band: number, into: Float32Array): boolean {
  const { voxel, first, tiles } = box;
  const signs = new RowSigns(mesh, voxel);
  for (let k = 0; k < tiles[2]; k++)
    for (let j = 0; j < tiles[1]; j++)
      for (let n = 0; n < TILE * TILE; n++) {
        const line = signs.along((first[1] + j) * TILE + (n & 7), (first[2] + k) * TILE + (n >> 3));
        signRow(box, (k * tiles[1] + j) * tiles[0], n, line, near, band, into);
        tick(tiles[0] * TILE);
      }
  return signs.isOpen;
}

/** One row of voxels through a row of tiles. @param row its first tile's place in the table @param n the row within each tile */
function signRow(
  { table, tiles, first }: TileBox,
  row: number,
  n: number,
  line: RowSigns,
  near: Float32Array,
  band: number,
  into: Float32Array,
): void {
  for (let i = 0; i < tiles[0]; i++) {
    const tile = table[row + i];
    const x = (first[0] + i) * TILE;
    if (tile < 0) {
      // Tiles that do not stand lie on one side with all of themselves: their first row tells.
      if (n === 0 && line.isInside(x)) table[row + i] = INSIDE;
      continue;
    }
    const at = tile * TILE_VOXELS + n * TILE;
    for (let v = 0; v < TILE; v++) {
      const far = Math.min(band, near[at + v]);
      into[at + v] = line.isInside(x + v) ? -far : far;
    }
  }
}

/** The mesh's colour where it is nearest; nothing for one without colours. */
function colorsOf(
  box: TileBox,
  mesh: Mesh,
  xyz: readonly Float32Array[],
  points: Int32Array,
  corners: Int32Array,
  which: Int32Array,
): Record<string, Column> {
  const name = coloredDomain(mesh);
  const color = name === "points" || name === "corners" ? mesh[name].columns.color : undefined;
  if (!color) return {};
  const elements = name === "points" ? points : corners;
  const lanes = makeLanes("color", box.voxels);
  lanes[3].fill(1);
  const triangle = new TriangleDistance();
  eachVoxel(box, (at, x, y, z) => {
    const t = which[at];
    if (t < 0) return;
    triangle.set(xyz, points[t], points[t + 1], points[t + 2]);
    triangle.squared(x, y, z);
    for (let l = 0; l < LANES.color; l++)
      lanes[l][at] = triangle.share.reduce((sum, part, c) => sum + part * color.lanes[l][elements[t + c]], 0);
  });
  return { color: makeColumn("color", lanes) };
}
