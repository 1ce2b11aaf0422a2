/** Particles that are balls: those that overlap exchange momentum and are moved apart. */
import { runValues } from "../fields/run";
import { type Domain, type Lane, makeColumn, withColumns } from "../geometry/column";
import { floatsInMemory, inMemory } from "../kernels/arena";
import { rangeOf } from "../kernels/statistics";
import { PointGrid } from "../spatial/point-grid";
import type { Parts } from "../values/parts";

/** Mass below which a ball would take any speed. */
const LEAST_MASS = 1e-6;

/**
 * One round: all pairs that run into each other exchange momentum, and what overlaps is moved apart.
 * @param parts fields `radius` and `mass`; setting `bounce`, 0 to 1
 */
export function afterContacts(domain: Domain, { fields, settings }: Parts): Domain {
  const { count, columns } = domain;
  const [radius, mass] = runValues([fields.radius[0], fields.mass[0]], domain, {
    onlyFinite: true,
  }).lanes.map(inMemory);
  const widest = rangeOf(radius)?.max ?? 0;
  if (count < 2 || !(widest > 0)) return domain;
  // Pushing writes into it.
  const place = columns.position.lanes.map((lane) => {
    const moved = floatsInMemory(count);
    moved.set(lane);
    return moved;
  });
  const grid = new PointGrid(place, { leastSide: 2 * widest });
  const speeds = bounced(
    grid,
    { radius, mass: heavyEnough(mass) },
    columns.velocity.lanes.map(inMemory) as Float32Array[],
    settings.bounce as number,
  );
  grid.push(place, radius as Float32Array, floatsInMemory(count).fill(0), widest, 1);
  return withColumns(domain, {
    position: makeColumn("vector", place),
    velocity: makeColumn("vector", speeds),
  });
}

function heavyEnough(mass: ArrayLike<number>): Float32Array {
  const heavy = floatsInMemory(mass.length);
  for (let i = 0; i < heavy.length; i++) heavy[i] = Math.max(LEAST_MASS, mass[i]);
  return heavy;
}

interface Balls {
  readonly radius: Lane;
  readonly mass: Lane;
}

/** Bytes for nine rows of cells. */
const SPANS = 9 * 8;

/** Speeds after all pairs that run into each other have exchanged momentum. */
function bounced(
  grid: PointGrid,
  { radius, mass }: Balls,
  velocity: readonly Float32Array[],
  bounce: number,
): Float32Array[] {
  const sorted = [...velocity, radius, mass].map((lane) => grid.ordered(lane));
  const into = [0, 1, 2].map(() => floatsInMemory(grid.count));
  const met = floatsInMemory(grid.count);
  const pass = (out: readonly Lane[], counts: Lane | 0) =>
    grid.inOrder("contactImpulses", [...out, ...sorted, counts], SPANS, [bounce]);
  pass([met, met, met], 0);
  pass(into, met);
  return into;
}
