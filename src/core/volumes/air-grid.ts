/** A box of cells in which air moves, and what the kernels of kernels/assembly/air.ts do with it. */
import type { Lane } from "../geometry/column";
import { TILE } from "../geometry/volume";
import { floatsInMemory, inMemory } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt } from "../kernels/job";
import { Plan } from "../kernels/plan";
import type { Vec3 } from "../maths/vector";

/** What a cell is. */
export const SOLID = 0;
export const AIR = 1;
export const OPEN = 2;

/** Cells along x, y and z, with the one around them that belongs to nobody. */
export type GridSize = readonly [number, number, number];

export const cellCount = ([nx, ny, nz]: GridSize): number => nx * ny * nz;

/** A kernel over all rows of a grid. */
export function overRows(
  kernel: string,
  size: GridSize,
  lanes: readonly (Lane | null)[],
  numbers: readonly number[] = [],
): void {
  const plan = new Plan();
  plan.calls.push({
    kernel,
    operands: [FIRST_ELEMENT, ...lanes.map((lane) => fixedAt(lane ? inMemory(lane).byteOffset : 0))],
    numbers: [...size, ...numbers],
  });
  plan.run(size[1] * size[2], undefined, size[0] * 4);
}

/** The box of a piece of air, in tiles of the lattice. */
export interface AirBox {
  readonly first: Vec3;
  readonly tiles: Vec3;
}

export const sizeOf = ({ tiles }: AirBox): GridSize => tiles.map((t) => t * TILE + 2) as unknown as GridSize;

/** A lane that a kernel writes all of. */
export const newLane = (size: GridSize): Float32Array => floatsInMemory(cellCount(size));

export const emptyLane = (size: GridSize): Float32Array => newLane(size).fill(0);

/** A lane of one box as one of another: what both have stays, what is new is 0. */
export function regrid(lane: Float32Array, from: AirBox, to: AirBox): Float32Array {
  const [old, made] = [sizeOf(from), sizeOf(to)];
  const into = emptyLane(made);
  const shift = [0, 1, 2].map((a) => (from.first[a] - to.first[a]) * TILE);
  const span = [0, 1, 2].map((a) => [
    Math.max(1, 1 + shift[a]),
    Math.min(made[a] - 2, old[a] - 2 + shift[a]),
  ]);
  if (span.some(([low, high]) => high < low)) return into;
  for (let k = span[2][0]; k <= span[2][1]; k++)
    for (let j = span[1][0]; j <= span[1][1]; j++) {
      const row = ((k - shift[2]) * old[1] + j - shift[1]) * old[0] - shift[0];
      into.set(
        lane.subarray(row + span[0][0], row + span[0][1] + 1),
        (k * made[1] + j) * made[0] + span[0][0],
      );
    }
  return into;
}
