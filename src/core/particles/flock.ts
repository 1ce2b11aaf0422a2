/** What particles do because of each other (C. Reynolds, "Flocks, herds, and schools", SIGGRAPH 1987). */
import { add, column, constant, scaleBy, type Value, type VectorField } from "../fields/expression";
import { type Column, type Columns, type Domain, type Lane, makeColumn } from "../geometry/column";
import { floatsInMemory, inMemory } from "../kernels/arena";
import { cosine } from "../maths/exact";
import { PointGrid } from "../spatial/point-grid";
import { reachOf } from "../spatial/reach";
import type { Parts } from "../values/parts";

/** The push on each, and the columns that it reads besides the particles' own. */
export interface Flocking {
  readonly push: VectorField;
  readonly columns: Columns;
}

/** @param flocks fields `apart`, `along`, `together`; settings `radius` in units and `sight` in radians, of the whole angle */
export function flocking(particles: Domain, flocks: readonly Parts[]): Flocking {
  let push: VectorField = [constant(0), constant(0), constant(0)];
  const columns: Record<string, Column> = {};
  for (const [f, { fields, settings }] of flocks.entries()) {
    const found = neighboursOf(particles, settings.radius as number, settings.sight as number);
    for (const [name, lanes] of Object.entries(found)) {
      const strength = fields[name]?.[0];
      if (!strength) continue;
      const key = `flock ${f} ${name}`;
      columns[key] = makeColumn("vector", lanes);
      push = push.map(
        (value, a): Value => add(value, scaleBy(column(key, a), strength)),
      ) as unknown as VectorField;
    }
  }
  return { push, columns };
}

/** Bytes that the kernel `flockSums` works in. */
const SPARE = 160 + 64 * 32 + 72;

/** As the kernel `flockSums` has them. */
function neighboursOf(
  { count, columns }: Domain,
  radius: number,
  sight: number,
): Readonly<Record<"apart" | "along" | "together", readonly Lane[]>> {
  const place = columns.position.lanes.map(inMemory);
  const speed = columns.velocity.lanes.map(inMemory);
  const reach = reachOf(radius, place);
  const grid = new PointGrid(place, { leastSide: reach });
  const lanes = Array.from({ length: 9 }, () => floatsInMemory(count));
  const sorted = speed.map((lane) => grid.ordered(lane));
  const least = sight >= 2 * Math.PI ? -2 : cosine(sight / 2);
  grid.inOrder("flockSums", [...lanes, ...sorted], SPARE, [reach, least]);
  return { apart: lanes.slice(0, 3), along: lanes.slice(3, 6), together: lanes.slice(6) };
}
