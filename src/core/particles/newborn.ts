/** What particles are born with: place, velocity, age, life, and what the source carries. */
import { tick } from "../cancelling";
import { runValues } from "../fields/run";
import {
  type Column,
  type Domain,
  makeColumn,
  makeFloats,
  makeIntegers,
  makeLanes,
} from "../geometry/column";
import type { Shape } from "../geometry/shape";
import { cosine, sine } from "../maths/exact";
import type { Vec3 } from "../maths/vector";
import { type Birthplaces, birthplacesOf, carriedAt, chanceOf, isAlike, type Spots } from "./birthplaces";
import type { Window } from "./births-due";
import type { Emitting } from "./emitting";

/** Seconds that stand for a life without end: larger than any piece. */
const FOR_EVER = 1e9;

export interface Placed {
  readonly ago: Float64Array;
  readonly spots: Spots;
  /** Of their chances, and the number of the first of them. */
  readonly seed: number;
  readonly first: number;
  /** Births after which chances come again. */
  readonly cycle: number;
}

/** Columns position, velocity, id, age (how long ago in this interval), life, and what is carried. */
export function newborn(
  emitting: Emitting,
  { span }: Window,
  { ago, spots, seed, first, cycle }: Placed,
  places: Birthplaces,
  before: Shape | undefined,
  firstId: number,
): Domain {
  const { count } = spots;
  const then = before && isAlike(before, emitting.shape) ? birthplacesOf(before, emitting.from) : null;
  const lanesThen = then && then.count === places.count ? then.domain.columns.position.lanes : null;
  const [position, velocity, normal, moved] = [0, 1, 2, 3].map(() => makeLanes("vector", count));
  const [age, life] = [makeFloats(count), makeFloats(count)];
  const id = makeIntegers(count);
  for (let i = 0; i < count; i++) {
    tick(8);
    const back = span > 0 ? ago[i] / span : 0;
    const isMoved = lanesThen !== null && spots.isOfElements(i);
    const [x, y, z] = [spots.facing[0][i], spots.facing[1][i], spots.facing[2][i]];
    const size = Math.sqrt(x * x + y * y + z * z) || 1;
    for (let a = 0; a < 3; a++) {
      const place = spots.place[a][i];
      const was = isMoved ? spots.mean(lanesThen[a], i) : place;
      position[a][i] = place + (was - place) * back;
      moved[a][i] = span > 0 ? (place - was) / span : 0;
      normal[a][i] = spots.facing[a][i] / size;
    }
    age[i] = ago[i];
    id[i] = firstId + i;
  }
  const parent = emitting.from === "what dies" ? places.domain.columns.velocity?.lanes : undefined;
  const columns: Record<string, Column> = {
    ...(emitting.carry ? carriedAt(places.domain, spots) : {}),
    position: makeColumn("vector", position),
    normal: makeColumn("vector", normal),
    id: makeColumn("integer", [id]),
  };
  const fields = [emitting.life, emitting.speed, ...emitting.velocity];
  const [lives, speeds, ...own] = runValues(fields, { count, columns }, { onlyFinite: true }).lanes;
  for (let i = 0; i < count; i++) {
    const chance = (channel: number) => chanceOf(seed, (first + i) % cycle, channel);
    const speed = speeds[i] * (1 + emitting.speedSpread * (2 * chance(1) - 1));
    const way = turned([normal[0][i], normal[1][i], normal[2][i]], emitting.spread, chance(2), chance(3));
    for (let a = 0; a < 3; a++) {
      const from = parent ? parent[a][spots.nearest(i)] : moved[a][i];
      velocity[a][i] = speed * way[a] + own[a][i] + emitting.inherit * from;
    }
    life[i] = lives[i] > 0 ? lives[i] * (1 + emitting.lifeSpread * (2 * chance(4) - 1)) : FOR_EVER;
  }
  const { normal: _facing, ...kept } = columns;
  return {
    count,
    columns: {
      ...kept,
      velocity: makeColumn("vector", velocity),
      age: makeColumn("number", [age]),
      life: makeColumn("number", [life]),
    },
  };
}

/** A direction within an angle of another one, every one of the cone as likely. */
function turned([x, y, z]: Vec3, angle: number, up: number, round: number): Vec3 {
  if (angle <= 0) return [x, y, z];
  const cos = 1 - up * (1 - cosine(Math.min(angle, Math.PI)));
  const sin = Math.sqrt(Math.max(0, 1 - cos * cos));
  // Two directions across (T. Duff et al., "Building an orthonormal basis, revisited", 2017).
  const sign = z >= 0 ? 1 : -1;
  const a = -1 / (sign + z);
  const b = x * y * a;
  const [s, c] = [sin * sine(2 * Math.PI * round), sin * cosine(2 * Math.PI * round)];
  return [
    x * cos + (1 + sign * x * x * a) * c + b * s,
    y * cos + sign * b * c + (sign + y * y * a) * s,
    z * cos - sign * x * c - y * s,
  ];
}
