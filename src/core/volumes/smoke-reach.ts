/** What sources and obstacles reach of the air. */
import { TILE, type Volume, VolumeReader, volumeBounds } from "../geometry/volume";
import { type AirBox, sizeOf } from "./air-grid";

/** Cells of the air that a volume reaches into by more than nothing. */
interface Reach {
  readonly cells: Int32Array;
  /** How much of each lies in it, from 0 to 1; above a half its middle does. */
  readonly shares: Float32Array;
  /** Where the middle of each is, in units. */
  readonly places: readonly Float32Array[];
}

/** What was found last for a volume: most stand still, and the air grows seldom. */
const reaches = new WeakMap<Volume, { readonly box: string; readonly reach: Reach }>();

export function reachOf(volume: Volume, air: AirBox, voxel: number): Reach {
  const box = [...air.first, ...air.tiles, voxel].join(" ");
  const known = reaches.get(volume);
  if (known?.box === box) return known.reach;
  const reach = reachFrom(volume, air, voxel);
  reaches.set(volume, { box, reach });
  return reach;
}

function reachFrom(volume: Volume, { first, tiles }: AirBox, voxel: number): Reach {
  const reader = new VolumeReader(volume, "distance");
  const cells: number[] = [];
  const shares: number[] = [];
  const places: number[][] = [[], [], []];
  const size = sizeOf({ first, tiles });
  const bounds = volumeBounds(volume);
  const reach = (a: number, limit: "min" | "max", round: (v: number) => number) =>
    round((bounds?.[limit][a] ?? 0) / voxel) - first[a] * TILE + 1;
  const from = [0, 1, 2].map((a) => Math.max(1, reach(a, "min", Math.floor)));
  const to = [0, 1, 2].map((a) => Math.min(size[a] - 2, bounds ? reach(a, "max", Math.ceil) : 0));
  for (let k = from[2]; k <= to[2]; k++)
    for (let j = from[1]; j <= to[1]; j++)
      for (let i = from[0]; i <= to[0]; i++) {
        const x = (first[0] * TILE + i - 1) * voxel;
        const y = (first[1] * TILE + j - 1) * voxel;
        const z = (first[2] * TILE + k - 1) * voxel;
        const share = Math.min(1, Math.max(0, 0.5 - reader.at(x, y, z) / voxel));
        if (share === 0) continue;
        cells.push((k * size[1] + j) * size[0] + i);
        shares.push(share);
        places[0].push(x);
        places[1].push(y);
        places[2].push(z);
      }
  return {
    cells: Int32Array.from(cells),
    shares: Float32Array.from(shares),
    places: places.map((lane) => Float32Array.from(lane)),
  };
}
