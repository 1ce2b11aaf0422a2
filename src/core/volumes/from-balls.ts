/** Distances to balls, and to what is between two of them along a line: what sites, points and curves are as volumes. */
import { tick } from "../cancelling";
import { makeColumn, makeFloats, makeLanes } from "../geometry/column";
import { INSIDE, TILE, TILE_VOXELS, type Volume } from "../geometry/volume";
import { TileBox, withoutFar } from "./tiles";

export interface Balls {
  /** x, y, z of each. */
  readonly places: readonly ArrayLike<number>[];
  readonly radii: ArrayLike<number>;
  /** Linear RGBA. */
  readonly colors?: readonly ArrayLike<number>[];
  /** Pairs of balls that are joined by a cone. */
  readonly links?: ArrayLike<number>;
}

/** Null without any ball that has a radius. @param band units @throws TooFine */
export function volumeOfBalls(balls: Balls, voxel: number, band: number): Volume | null {
  const { places, radii, colors } = balls;
  const pairs = pairsOf(balls);
  if (pairs.length === 0) return null;
  const told = Math.max(band, 2 * voxel);
  const bounds = { min: [0, 0, 0], max: [0, 0, 0] } as {
    min: [number, number, number];
    max: [number, number, number];
  };
  for (let a = 0; a < 3; a++) {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (const ball of pairs) {
      low = Math.min(low, places[a][ball] - radii[ball]);
      high = Math.max(high, places[a][ball] + radii[ball]);
    }
    [bounds.min[a], bounds.max[a]] = [low, high];
  }
  const box = TileBox.around(bounds, voxel, told + voxel);
  const { first, tiles, table } = box;
  const span = voxel * TILE;
  const reach = ((Math.sqrt(3) * (TILE - 1)) / 2) * voxel;
  const middle = ((TILE - 1) / 2) * voxel;
  const visit = (p: number, margin: number, call: (at: number, i: number, j: number, k: number) => void) => {
    const [from, to] = [
      [0, 0, 0],
      [0, 0, 0],
    ];
    for (let a = 0; a < 3; a++) {
      const [one, two] = [pairs[p], pairs[p + 1]];
      const low = Math.min(places[a][one] - radii[one], places[a][two] - radii[two]) - margin;
      const high = Math.max(places[a][one] + radii[one], places[a][two] + radii[two]) + margin;
      from[a] = Math.max(0, Math.floor(low / span) - first[a]);
      to[a] = Math.min(tiles[a] - 1, Math.floor(high / span) - first[a]);
    }
    for (let k = from[2]; k <= to[2]; k++)
      for (let j = from[1]; j <= to[1]; j++)
        for (let i = from[0]; i <= to[0]; i++) call((k * tiles[1] + j) * tiles[0] + i, i, j, k);
  };
  // A tile that lies deep in one of them has no surface, whatever else comes near.
  for (let p = 0; p < pairs.length; p += 2)
    visit(p, told, (at, i, j, k) => {
      tick(0.5);
      if (table[at] === INSIDE) return;
      const x = (first[0] + i) * span + middle;
      const far = coneDistance(
        balls,
        pairs[p],
        pairs[p + 1],
        x,
        (first[1] + j) * span + middle,
        (first[2] + k) * span + middle,
      );
      if (far < -(told + reach)) table[at] = INSIDE;
      else if (far < told + reach && table[at] !== NEAR) table[at] = NEAR;
    });
  for (let at = 0; at < table.length; at++)
    if (table[at] === NEAR) {
      table[at] = -1;
      box.add(at);
    }
  const distance = makeFloats(box.voxels).fill(told);
  const lanes = colors ? makeLanes("color", box.voxels) : null;
  for (let p = 0; p < pairs.length; p += 2)
    visit(p, told, (at, i, j, k) => {
      const tile = table[at];
      if (tile < 0) return;
      tick(TILE_VOXELS / 4);
      for (let v = 0; v < TILE_VOXELS; v++) {
        const far = coneDistance(
          balls,
          pairs[p],
          pairs[p + 1],
          ((first[0] + i) * TILE + (v & 7)) * voxel,
          ((first[1] + j) * TILE + ((v >> 3) & 7)) * voxel,
          ((first[2] + k) * TILE + (v >> 6)) * voxel,
        );
        const to = tile * TILE_VOXELS + v;
        if (far >= distance[to]) continue;
        distance[to] = Math.max(-told, far);
        if (lanes && colors)
          for (let l = 0; l < 4; l++)
            lanes[l][to] = colors[l][pairs[p]] + (colors[l][pairs[p + 1]] - colors[l][pairs[p]]) * along;
      }
    });
  const volume = box.volume(told, {
    distance: makeColumn("number", [distance]),
    ...(lanes ? { color: makeColumn("color", lanes) } : {}),
  });
  return withoutFar(volume);
}

/** In a table that is being made: something is near, and the tile will stand. */
const NEAR = -3;

/** Balls that have a radius, twice each where nothing joins them. */
function pairsOf({ radii, links }: Balls): Int32Array {
  const found: number[] = [];
  if (links) {
    for (let l = 0; l < links.length; l += 2)
      if (radii[links[l]] > 0 || radii[links[l + 1]] > 0) found.push(links[l], links[l + 1]);
  } else for (let i = 0; i < radii.length; i++) if (radii[i] > 0) found.push(i, i);
  return Int32Array.from(found);
}

/** How far along the last cone asked the nearest place of its middle line was, 0 to 1. */
let along = 0;

/** From the surface of a ball, or of a cone with round ends (by the nearest place of its middle line). */
function coneDistance(
  { places, radii }: Balls,
  one: number,
  two: number,
  x: number,
  y: number,
  z: number,
): number {
  const [px, py, pz] = [x - places[0][one], y - places[1][one], z - places[2][one]];
  along = 0;
  if (one === two) return Math.sqrt(px * px + py * py + pz * pz) - radii[one];
  const [wx, wy, wz] = [
    places[0][two] - places[0][one],
    places[1][two] - places[1][one],
    places[2][two] - places[2][one],
  ];
  const square = wx * wx + wy * wy + wz * wz;
  along = square > 0 ? Math.min(1, Math.max(0, (px * wx + py * wy + pz * wz) / square)) : 0;
  const [dx, dy, dz] = [px - wx * along, py - wy * along, pz - wz * along];
  return Math.sqrt(dx * dx + dy * dy + dz * dz) - (radii[one] + (radii[two] - radii[one]) * along);
}
