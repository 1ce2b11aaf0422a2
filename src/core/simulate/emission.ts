/**
 * Particles that are born of places, move under gravity, a push of each one's own and drag, and end. The numbers of a step are
 * exact for a push that stays during it (see kernels/assembly/particles.ts), so the frame rate matters little.
 */
import { tick } from "../cancelling";
import { plainNumbers, type VectorField } from "../fields/expression";
import { runValues } from "../fields/run";
import type { Columns, Domain, Lane } from "../geometry/column";
import { addressOf, currentArena, floatsInMemory, integersInMemory } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt, laneAt, ownAt } from "../kernels/job";
import { engine } from "../kernels/kernels";
import { Plan } from "../kernels/plan";
import { cosine, exponential, sine } from "../maths/exact";
import { hash3, unit24 } from "../maths/random";
import type { State } from "./state";

/** Columns position, velocity, id, age and life; how many have been due so far, fractions included. */
export interface Particles extends State {
  readonly domains: { readonly particles: Domain };
  readonly numbers: { readonly due: readonly [number] };
}

/** Where particles are born: places, and unit directions in which they leave. */
export interface Source {
  readonly count: number;
  readonly position: readonly Lane[];
  readonly facing: (i: number) => readonly [number, number, number];
}

export interface Births {
  readonly source: Source;
  /** Particles a second. */
  readonly rate: number;
  /** Seconds; 0 for ever. */
  readonly life: number;
  /** By what part lives differ: 0.3 from 0.7 to 1.3 times. */
  readonly lifeSpread: number;
  /** Units a second along the facing. */
  readonly speed: number;
  readonly speedSpread: number;
  /** Radians from the facing, at most. */
  readonly angle: number;
  readonly seed: number;
  /** More than these are never there at once. */
  readonly most: number;
}

export interface Forces {
  /** Units a second². */
  readonly gravity: readonly [number, number, number];
  /** Of the speed, a second. */
  readonly drag: number;
  /** Units a second², on each particle. */
  readonly push: VectorField;
}

/** Seconds that stand for a life without end: larger than any piece. */
const FOR_EVER = 1e9;
/** Births fall on whole numbers of what is due; sums of fractions may be short of them by this. */
const SLACK = 1e-9;
/** Of drag × seconds, below which both are summed up as series: three terms leave less than 10⁻¹² of 1. */
const NEAR = 1e-3;

export const NO_PARTICLES: Particles = {
  domains: {
    particles: { count: 0, columns: columnsOf(Array.from({ length: 9 }, () => new Float32Array(0))) },
  },
  numbers: { due: [0] },
};

/** Nine lanes as columns; the seventh are the ids. */
function columnsOf(lanes: readonly Lane[]): Columns {
  return {
    position: { kind: "vector", lanes: lanes.slice(0, 3) },
    velocity: { kind: "vector", lanes: lanes.slice(3, 6) },
    id: { kind: "integer", lanes: [lanes[6]] },
    age: { kind: "number", lanes: [lanes[7]] },
    life: { kind: "number", lanes: [lanes[8]] },
  };
}

const lanesIn = ({ columns: { position, velocity, id, age, life } }: Domain): readonly Lane[] => [
  ...position.lanes,
  ...velocity.lanes,
  ...id.lanes,
  ...age.lanes,
  ...life.lanes,
];

/** How speed and place come out of a step: see kernels/assembly/particles.ts. */
export function dragStep(drag: number, seconds: number): { keeps: number; way: number; further: number } {
  const kh = drag * seconds;
  const keeps = exponential(-kh);
  // Of small drags the differences of nearly equal numbers have no digits left.
  if (kh < NEAR)
    return {
      keeps,
      way: seconds * (1 - (kh / 2) * (1 - (kh / 3) * (1 - kh / 4))),
      further: seconds * seconds * (0.5 - (kh / 6) * (1 - (kh / 4) * (1 - kh / 5))),
    };
  const way = (1 - keeps) / drag;
  return { keeps, way, further: (seconds - way) / drag };
}

/** The particles so many seconds later. */
export function steppedParticles(
  before: Particles,
  births: Births,
  forces: Forces,
  seconds: number,
): Particles {
  const { particles } = before.domains;
  const [due] = before.numbers.due;
  const next = due + Math.max(0, births.rate) * seconds;
  const born = births.source.count > 0 ? Math.floor(next + SLACK) - Math.floor(due + SLACK) : 0;
  const lanes = roomFor(particles.count + born);
  let count = move(particles, lanes, forces, seconds);
  const taken = Math.max(0, Math.min(born, births.most - count));
  if (taken > 0) bear(lanes, count, taken, { due, next }, births, forces, seconds);
  count += taken;
  return {
    domains: { particles: { count, columns: columnsOf(lanes.map((lane) => cut(lane, count))) } },
    numbers: { due: [next] },
  };
}

const roomFor = (count: number): Lane[] =>
  Array.from({ length: 9 }, (_, l) => (l === 6 ? integersInMemory(count) : floatsInMemory(count)));

/** The beginning of a lane, as the lane that its stretch of memory belongs to from now on. */
function cut(lane: Lane, count: number): Lane {
  if (lane.length === count) return lane;
  const part = lane.subarray(0, count);
  currentArena().adopt(part);
  return part;
}

/** Moves all that live on into new lanes, without gaps; returns how many. */
function move(
  particles: Domain,
  into: readonly Lane[],
  { gravity, drag, push }: Forces,
  seconds: number,
): number {
  const { count } = particles;
  if (count === 0) return 0;
  const pushes = plainNumbers(push) ?? runValues(push, particles, { onlyFinite: true }).lanes;
  const { keeps, way, further } = dragStep(Math.max(0, drag), seconds);
  const plan = new Plan();
  const counts = plan.counts(2);
  plan.calls.push({
    kernel: "stepParticles",
    operands: [
      FIRST_ELEMENT,
      ownAt(counts),
      ...into.map((lane) => fixedAt(addressOf(lane) as number)),
      ...lanesIn(particles).map((lane) => laneAt(addressOf(lane) as number)),
      ...pushes.map((lane) => plan.read(lane)),
    ],
    numbers: [...gravity, keeps, way, further, seconds],
  });
  let alive = 0;
  plan.run(count, (scratches) => {
    const { buffer } = engine().memory.memory;
    for (const scratch of scratches) {
      const [written, begun] = new Int32Array(buffer, scratch + counts, 2);
      // What each thread wrote follows what the ones before it did.
      if (begun - 1 !== alive && written > 0)
        for (const lane of into) lane.copyWithin(alive, begun - 1, begun - 1 + written);
      alive += written;
    }
  });
  return alive;
}

/** Writes those that are born in a step, each moved on for what is left of it. */
function bear(
  lanes: readonly Lane[],
  from: number,
  count: number,
  { due, next }: { readonly due: number; readonly next: number },
  { source, life, lifeSpread, speed, speedSpread, angle, seed }: Births,
  { gravity, drag }: Forces,
  seconds: number,
): void {
  const [id, age, lives] = lanes.slice(6);
  const first = Math.floor(due + SLACK);
  for (let i = 0; i < count; i++) {
    tick(8);
    const number = first + i;
    const chance = (channel: number) => unit24(hash3(seed, number, channel));
    const at = Math.min(source.count - 1, Math.floor(chance(0) * source.count));
    const own = speed * (1 + speedSpread * (2 * chance(1) - 1));
    const way = turned(source.facing(at), angle, chance(2), chance(3));
    const left = Math.min(seconds, Math.max(0, ((next - (number + 1)) / (next - due)) * seconds));
    const step = dragStep(Math.max(0, drag), left);
    const to = from + i;
    for (let a = 0; a < 3; a++) {
      const begin = own * way[a];
      lanes[a][to] = source.position[a][at] + step.way * begin + step.further * gravity[a];
      lanes[a + 3][to] = step.keeps * begin + step.way * gravity[a];
    }
    id[to] = number;
    age[to] = left;
    lives[to] = life > 0 ? life * (1 + lifeSpread * (2 * chance(4) - 1)) : FOR_EVER;
  }
}

/** A direction within an angle of another one, every one of the cone as likely. */
function turned(
  [x, y, z]: readonly [number, number, number],
  angle: number,
  up: number,
  round: number,
): readonly [number, number, number] {
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
