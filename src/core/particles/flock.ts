/** What particles do because of each other (C. Reynolds, "Flocks, herds, and schools", SIGGRAPH 1987). */
import { tick } from "../cancelling";
import { add, column, constant, scaleBy, type Value, type VectorField } from "../fields/expression";
import { type Column, type Columns, type Domain, type Lane, makeColumn, makeLanes } from "../geometry/column";
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

/**
 * Of the neighbours that each sees: away from them, the nearer the more; their mean speed less its own; the way to their middle.
 * What has no neighbours has none of it.
 */
function neighboursOf(
  { count, columns }: Domain,
  radius: number,
  sight: number,
): Readonly<Record<"apart" | "along" | "together", readonly Lane[]>> {
  const place = columns.position.lanes as readonly Float32Array[];
  const speed = columns.velocity.lanes as readonly Float32Array[];
  const [x, y, z] = place;
  const [u, v, w] = speed;
  const [apart, along, together] = [0, 1, 2].map(() => makeLanes("vector", count));
  const { starts, numbers } = new PointGrid(place).within(place, reachOf(radius, place));
  const least = sight >= 2 * Math.PI ? -2 : cosine(sight / 2);
  for (let i = 0; i < count; i++) {
    tick(starts[i + 1] - starts[i]);
    const own = Math.sqrt(u[i] * u[i] + v[i] * v[i] + w[i] * w[i]);
    let [seen, ax, ay, az, su, sv, sw, mx, my, mz] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
    for (let k = starts[i]; k < starts[i + 1]; k++) {
      const j = numbers[k];
      if (j === i) continue;
      const [dx, dy, dz] = [x[j] - x[i], y[j] - y[i], z[j] - z[i]];
      const d = Math.sqrt(dx * dx + dy * dy + dz * dz);
      if (d === 0) continue;
      if (own > 0 && dx * u[i] + dy * v[i] + dz * w[i] < least * d * own) continue;
      seen++;
      // From 1 where they meet to 0 at the radius.
      const near = (1 - d / radius) / d;
      ax -= dx * near;
      ay -= dy * near;
      az -= dz * near;
      su += u[j];
      sv += v[j];
      sw += w[j];
      mx += dx;
      my += dy;
      mz += dz;
    }
    if (seen === 0) continue;
    apart[0][i] = ax;
    apart[1][i] = ay;
    apart[2][i] = az;
    along[0][i] = su / seen - u[i];
    along[1][i] = sv / seen - v[i];
    along[2][i] = sw / seen - w[i];
    together[0][i] = mx / seen;
    together[1][i] = my / seen;
    together[2][i] = mz / seen;
  }
  return { apart, along, together };
}
