/** What moving air takes along. What is done for each cell is in kernels/assembly/air-carrying.ts. */
import { emptyLane, type GridSize, newLane, overRows } from "./air-grid";

type Lanes = readonly Float32Array[];

/** How far each cell has come in so many seconds, in cells: three lanes. @param velocity through lower faces, in cells a second */
export function traced(velocity: Lanes, size: GridSize, seconds: number): Float32Array[] {
  const way = [0, 1, 2].map(() => emptyLane(size));
  overRows("fluidTrace", size, [...way, ...velocity], [seconds]);
  return way;
}

/** One lane or two, each cell's from where it has come. @param face 0 for middles of cells, 1 to 3 for lower faces along x, y, z */
export function moved(lanes: Lanes, way: Lanes, size: GridSize, face: number): Float32Array[] {
  const out = lanes.map(() => newLane(size));
  overRows("fluidCarry", size, [out[0], lanes[0], out[1] ?? null, lanes[1] ?? null, ...way], [face]);
  return out;
}

/**
 * One lane or two at middles of cells there and back, put right by what that loses.
 * @param there back of `traced`, for a while and for the same while back @param keep share of each that is left
 */
export function carried(
  lanes: Lanes,
  there: Lanes,
  back: Lanes,
  size: GridSize,
  keep: readonly number[],
): Float32Array[] {
  const gone = moved(lanes, there, size, 0);
  const returned = moved(gone, back, size, 0);
  for (const [l, lane] of lanes.entries())
    overRows("fluidCorrect", size, [gone[l], returned[l], lane, ...there], [keep[l]]);
  return gone;
}
