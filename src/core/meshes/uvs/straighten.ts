/** Strips and grids of four-sided faces laid flat as the rows and columns that they are. */
import { tick } from "../../cancelling";
import { lengthOf } from "../../maths/exact";
import type { Vec3 } from "../../maths/vector";

type Cell = readonly [number, number];

/**
 * Every column as wide as its edges are long by the mean, every row as high. Null where the faces are no grid: some have other than
 * four corners, or rows do not go on.
 * @param faces numbers of their places, in the order of the corners
 * @returns two numbers a place, as `flattened` gives them
 */
export function straightened(
  places: readonly Vec3[],
  faces: readonly (readonly number[])[],
): Float64Array | null {
  const cells = cellsOf(places.length, faces);
  if (!cells) return null;
  const lanes = ([0, 1] as const).map((side) => spaced(places, faces, cells, side));
  return Float64Array.from({ length: places.length * 2 }, (_, k) => lanes[k & 1][k >> 1]);
}

/** By place its column and row, walked from face to face. */
function cellsOf(count: number, faces: readonly (readonly number[])[]): readonly Cell[] | null {
  if (faces.some((face) => face.length !== 4)) return null;
  const beside = new Map<string, number[]>();
  for (const [f, face] of faces.entries())
    for (let k = 0; k < 4; k++) {
      const key = edgeOf(face[k], face[(k + 1) % 4]);
      const there = beside.get(key);
      if (there) there.push(f);
      else beside.set(key, [f]);
    }
  const cells: (Cell | undefined)[] = Array.from({ length: count });
  const put = (place: number, cell: Cell): boolean => {
    const before = cells[place];
    if (before) return before[0] === cell[0] && before[1] === cell[1];
    cells[place] = cell;
    return true;
  };
  const [a, b] = faces[0];
  put(a, [0, 0]);
  put(b, [1, 0]);
  const queue: [number, number][] = [[0, 0]];
  const done = new Uint8Array(faces.length);
  done[0] = 1;
  for (let next = 0; next < queue.length; next++) {
    const [f, k] = queue[next];
    tick(8);
    const at = (i: number) => faces[f][(k + i) % 4];
    const [from, to] = [cells[at(0)] as Cell, cells[at(1)] as Cell];
    // Faces go round anticlockwise: what is left of an edge is its face.
    const [up, left]: Cell = [from[1] - to[1], to[0] - from[0]];
    if (!put(at(2), [to[0] + up, to[1] + left]) || !put(at(3), [from[0] + up, from[1] + left])) return null;
    for (let i = 0; i < 4; i++)
      for (const other of beside.get(edgeOf(at(i), at(i + 1))) ?? []) {
        if (done[other]) continue;
        done[other] = 1;
        queue.push([other, faces[other].indexOf(at(i + 1))]);
      }
  }
  const whole = cells.filter((cell) => cell !== undefined);
  const isOnce = new Set(whole.map((cell) => cell.join())).size === count;
  return whole.length === count && isOnce ? whole : null;
}

const edgeOf = (p: number, q: number): string => (p < q ? `${p} ${q}` : `${q} ${p}`);

/** Where the column (side 0) or row (1) of each place lies. */
function spaced(
  places: readonly Vec3[],
  faces: readonly (readonly number[])[],
  cells: readonly Cell[],
  side: 0 | 1,
): number[] {
  const own = cells.map((cell) => cell[side]);
  const least = own.reduce((a, b) => Math.min(a, b));
  const steps = own.reduce((a, b) => Math.max(a, b)) - least;
  const [sums, counts] = [new Float64Array(steps), new Float64Array(steps)];
  for (const face of faces)
    for (let k = 0; k < 4; k++) {
      const [p, q] = [face[k], face[(k + 1) % 4]];
      if (own[p] === own[q]) continue;
      const step = Math.min(own[p], own[q]) - least;
      const way = places[p].map((v, a) => v - places[q][a]) as [number, number, number];
      sums[step] += lengthOf(...way);
      counts[step]++;
    }
  const starts = [0];
  for (let i = 0; i < steps; i++) starts.push(starts[i] + sums[i] / counts[i]);
  return own.map((cell) => starts[cell - least]);
}
