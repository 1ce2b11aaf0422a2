/**
 * Particles: born of emitters, moved by forces, kept within limits, ended. A step is exact for a push and a drag that stay during it
 * (see kernels/assembly/particles.ts), so the frame rate matters little.
 */
import {
  column,
  constant,
  plainNumber,
  scaleBy,
  type Value,
  type VectorField,
  zip,
} from "../fields/expression";
import { runValues } from "../fields/run";
import {
  type Column,
  type Columns,
  concatenate,
  type Domain,
  gather,
  type Lane,
  makeColumn,
  makeFloats,
  withColumns,
} from "../geometry/column";
import type { Shape } from "../geometry/shape";
import { addressOf, currentArena, floatsInMemory, inMemory, integersInMemory } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt, laneAt, ownAt } from "../kernels/job";
import { engine } from "../kernels/kernels";
import { type LaneOrNumber, Plan } from "../kernels/plan";
import { exponential } from "../maths/exact";
import type { State } from "../simulate/state";
import type { Parts } from "../values/parts";
import { bornIn, type Due } from "./births";
import type { Window } from "./births-due";
import { afterContacts } from "./contacts";
import { emittingOf } from "./emitting";
import { flocking } from "./flock";
import {
  AGED,
  agedField,
  anyReads,
  carriedBy,
  dependsOnPlace,
  forcesOf,
  HOME,
  limitsTogether,
  SECONDS,
  velocityField,
  WAS,
} from "./forces";

/** How a step is made. */
export const METHODS = ["by itself", "even pushes exactly", "semi-implicit"] as const;
export type Method = (typeof METHODS)[number];

export interface Moving {
  readonly births: readonly Parts[];
  readonly forces: readonly Parts[];
  readonly method: Method;
  /** Times the time that passes, of each. */
  readonly pace: Value;
  /** More are never there at once. */
  readonly most: number;
}

/** Columns position, velocity, id, age, life and what they carry; by emitter what is due, and its source as it was. */
export interface Particles extends State {
  readonly domains: Readonly<Record<string, Domain>> & { readonly particles: Domain };
  readonly numbers: {
    readonly next: readonly [number];
    readonly due: readonly number[];
    readonly born: readonly number[];
  };
  readonly shapes: Readonly<Record<string, Shape>>;
}

/** What part of a step has passed since a birth. */
const AGO = "ago";
const AGO_FIELD = column(AGO, 0);

const CORE = ["position", "velocity", "id", "age", "life"] as const;

/** Of drag × seconds, below which both are summed up as series: three terms leave less than 10⁻¹² of 1. */
const NEAR = 1e-3;

export const NO_PARTICLES: Particles = {
  domains: {
    particles: { count: 0, columns: coreColumns(Array.from({ length: 9 }, () => new Float32Array(0))) },
  },
  numbers: { next: [0], due: [], born: [] },
  shapes: {},
};

/** Nine lanes as columns; the seventh are the ids. */
function coreColumns(lanes: readonly Lane[]): Columns {
  return {
    position: { kind: "vector", lanes: lanes.slice(0, 3) },
    velocity: { kind: "vector", lanes: lanes.slice(3, 6) },
    id: { kind: "integer", lanes: [lanes[6]] },
    age: { kind: "number", lanes: [lanes[7]] },
    life: { kind: "number", lanes: [lanes[8]] },
  };
}

const coreLanes = ({ columns }: Domain): readonly Lane[] => CORE.flatMap((name) => columns[name].lanes);

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

/** The particles at the end of an interval of time. */
export function steppedParticles(before: Particles, moving: Moving, window: Window): Particles {
  const { particles } = before.domains;
  const wantsDead = moving.births.some(({ settings }) => settings.from === "what dies");
  const moved = window.first
    ? { domain: particles, dead: null }
    : movedOn(particles, moving, window.span * window.scale, moving.pace, wantsDead);
  return withBorn(before, moved.domain, moved.dead, moving, window);
}

interface Moved {
  readonly domain: Domain;
  /** Where and how they were that have ended; null unless asked for. */
  readonly dead: Domain | null;
}

/** @param pace times the seconds, of each */
function movedOn(particles: Domain, moving: Moving, seconds: number, pace: Value, wantsDead: boolean): Moved {
  const { count } = particles;
  if (count === 0) return { domain: particles, dead: null };
  const { values, semi } = motionOf(particles, moving, seconds, pace);
  const into = Array.from({ length: 9 }, (_, l) =>
    l === 6 ? integersInMemory(count) : floatsInMemory(count),
  );
  const alive = move(particles, into, values, seconds, semi);
  const others = Object.entries(particles.columns).filter(
    ([name]) => !(CORE as readonly string[]).includes(name),
  );
  const wantsWas = anyReads(moving.forces, WAS);
  const isSorted = alive < count && (others.length > 0 || wantsWas || wantsDead);
  const left = isSorted ? livingOf(particles, values[PACE], seconds) : null;
  const kept = (columns: Columns): Columns =>
    left ? gather({ count, columns }, left.alive).columns : columns;
  const was = wantsWas ? kept({ [WAS]: particles.columns.position }) : {};
  const moved: Domain = {
    count: alive,
    columns: {
      ...kept(Object.fromEntries(others)),
      ...was,
      ...coreColumns(into.map((lane) => cut(lane, alive))),
    },
  };
  const held = constrained(moved, moving.forces, seconds);
  const { [WAS]: _passed, ...columns } = held.domain.columns;
  const dead = [left && wantsDead ? ended(gather(particles, left.dead), seconds) : null, held.dead];
  return { domain: { count: held.domain.count, columns }, dead: together(dead) };
}

const together = (domains: readonly (Domain | null)[]): Domain | null => {
  const there = domains.filter((domain) => domain !== null);
  return there.length > 0 ? concatenate(there) : null;
};

/** After the move: balls that met, then limits; by turns, as what walls push back runs into others again. */
function constrained(domain: Domain, forces: readonly Parts[], seconds: number): Moved {
  const limits = forces.filter(({ what }) => what === "limit");
  const contacts = forces.filter(({ what }) => what === "contacts");
  const rounds = contacts.reduce((most, { settings }) => Math.max(most, settings.rounds as number), 1);
  let now = domain;
  let dead: Domain | null = null;
  for (let round = 0; round < rounds && now.count > 0; round++) {
    for (const parts of contacts)
      if (round < (parts.settings.rounds as number)) now = afterContacts(now, parts);
    if (limits.length === 0) continue;
    const limited = withinLimits(now, limits, seconds);
    now = limited.domain;
    dead = together([dead, limited.dead]);
  }
  return { domain: now, dead };
}

/** Where the pace stands among the values of a motion. */
const PACE = 4;

/** Push, drag, pace and how far a flow carries, of each or of all; and whether the step is semi-implicit. */
function motionOf(particles: Domain, { forces: list, method }: Moving, seconds: number, pace: Value) {
  const { forces, push, read } = pushesOn(particles, list);
  const plainPace = plainNumber(pace);
  const h = plainPace === null ? scaleBy(pace, constant(seconds)) : constant(seconds * plainPace);
  const shift = forces.flow ? carriedBy(forces.flow, h) : [];
  return {
    values: valuesOrLanes([...push, forces.drag, pace, ...shift], read),
    semi: method === "semi-implicit" || (method === "by itself" && dependsOnPlace({ ...forces, push })),
  };
}

/** All that pushes, what particles do to each other among it, and the particles with what that reads. */
function pushesOn(particles: Domain, list: readonly Parts[]) {
  const forces = forcesOf(list);
  const flocked = forces.flocks.length > 0 ? flocking(particles, forces.flocks) : null;
  const push = flocked ? zip("add", forces.push, flocked.push) : forces.push;
  return { forces, push, read: withAged(withColumns(particles, flocked?.columns ?? {}), list) };
}

/** What pushes and drags come to for each particle as it is, units a second². */
export function accelerationOf(particles: Domain, list: readonly Parts[]): readonly Lane[] {
  const { forces, push, read } = pushesOn(particles, list);
  const slowed = velocityField().map((v) => scaleBy(v, forces.drag)) as unknown as VectorField;
  return runValues(zip("subtract", push, slowed), read, { onlyFinite: true }).lanes;
}

/** With how far each is through its life, where any force asks for it. */
const withAged = (domain: Domain, forces: readonly Parts[]): Domain =>
  anyReads(forces, AGED)
    ? withColumns(domain, { [AGED]: makeColumn("number", runValues([agedField()], domain).lanes) })
    : domain;

/** Numbers where all are the same, lanes else. */
function valuesOrLanes(values: readonly Value[], domain: Domain): LaneOrNumber[] {
  const fields = values.filter((value) => plainNumber(value) === null);
  const lanes = runValues(fields, domain, { onlyFinite: true }).lanes;
  let next = 0;
  return values.map((value) => plainNumber(value) ?? lanes[next++]);
}

/** Moves all that live on into new lanes, without gaps; returns how many. @param values push, drag, pace, and how far a flow carries */
function move(
  particles: Domain,
  into: readonly Lane[],
  values: readonly LaneOrNumber[],
  seconds: number,
  semi: boolean,
): number {
  const [px, py, pz, drag, pace, ...shift] = values;
  const plan = new Plan();
  const counts = plan.counts(2);
  const read = (lane: LaneOrNumber) => plan.read(lane);
  const common = [
    FIRST_ELEMENT,
    ownAt(counts),
    ...into.map((lane) => fixedAt(addressOf(lane) as number)),
    ...coreLanes(particles).map((lane) => laneAt(addressOf(lane) as number)),
    ...[px, py, pz].map(read),
  ];
  if (typeof drag === "number" && typeof pace === "number" && shift.length === 0) {
    const h = seconds * pace;
    const { keeps, way, further } = dragStep(Math.max(0, drag), h);
    const ofPlace = semi ? [h * keeps, h * way] : [way, further];
    plan.calls.push({ kernel: "stepParticles", operands: common, numbers: [keeps, way, ...ofPlace, h] });
  } else
    plan.calls.push({
      kernel: "stepParticlesEach",
      operands: [...common, read(drag), read(pace), ...(shift.length > 0 ? shift : [0, 0, 0]).map(read)],
      numbers: [seconds, semi ? 1 : 0],
    });
  let alive = 0;
  plan.run(particles.count, (scratches) => {
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

/** The beginning of a lane, as the lane that its allocation belongs to from now on. */
function cut(lane: Lane, count: number): Lane {
  if (lane.length === count) return lane;
  const part = lane.subarray(0, count);
  currentArena().adopt(part);
  return part;
}

/** Numbers of those that live on and of those that end, by the very sums of the kernel. */
function livingOf({ count, columns: { age, life } }: Domain, pace: LaneOrNumber, seconds: number) {
  const [ages, lives] = [age.lanes[0], life.lanes[0]];
  const alive: number[] = [];
  const dead: number[] = [];
  const h = Math.fround(seconds);
  const whole = typeof pace === "number" ? Math.fround(seconds * pace) : 0;
  for (let i = 0; i < count; i++) {
    const step = typeof pace === "number" ? whole : Math.fround(h * pace[i]);
    (Math.fround(ages[i] + step) < lives[i] ? alive : dead).push(i);
  }
  return { alive: Int32Array.from(alive), dead: Int32Array.from(dead) };
}

/** What ends within a step, where it would have come to by its speed. */
function ended(dead: Domain, seconds: number): Domain {
  const { position, velocity, age, life } = dead.columns;
  const lanes = position.lanes.map((lane, a) => {
    const to = makeFloats(dead.count);
    for (let i = 0; i < to.length; i++) {
      const left = Math.min(seconds, Math.max(0, life.lanes[0][i] - age.lanes[0][i]));
      to[i] = lane[i] + velocity.lanes[a][i] * left;
    }
    return to;
  });
  return withColumns(dead, { position: makeColumn("vector", lanes) });
}

function withinLimits(domain: Domain, limits: readonly Parts[], seconds: number): Moved {
  const { place, velocity, ends } = limitsTogether(limits);
  const step = makeColumn("number", [makeFloats(domain.count).fill(seconds)]);
  const read = withAged(withColumns(domain, { [SECONDS]: step }), limits);
  const lanes = runValues([...place, ...velocity, ends], read, { onlyFinite: true }).lanes;
  // Lanes of particles stand in the memory of the kernels, whatever their number.
  const now = withColumns(domain, {
    position: makeColumn("vector", lanes.slice(0, 3).map(inMemory)),
    velocity: makeColumn("vector", lanes.slice(3, 6).map(inMemory)),
  });
  if (plainNumber(ends) === 0) return { domain: now, dead: null };
  const [staying, ending]: [number[], number[]] = [[], []];
  for (let i = 0; i < now.count; i++) (lanes[6][i] > 0.5 ? ending : staying).push(i);
  if (ending.length === 0) return { domain: now, dead: null };
  return {
    domain: placed(gather(now, Int32Array.from(staying))),
    dead: gather(now, Int32Array.from(ending)),
  };
}

const placed = (domain: Domain): Domain =>
  withColumns(
    domain,
    Object.fromEntries(
      CORE.map((name): [string, Column] => {
        const { kind, lanes } = domain.columns[name];
        return [name, { kind, lanes: lanes.map(inMemory) }];
      }),
    ),
  );

/** What is born, moved on for what is left of the time, after those that are there. */
function withBorn(
  before: Particles,
  there: Domain,
  dead: Domain | null,
  moving: Moving,
  window: Window,
): Particles {
  const home = anyReads(moving.forces, HOME);
  const domains: Domain[] = [there];
  const kept: Record<string, Domain> = {};
  const shapes: Record<string, Shape> = {};
  const due: number[] = [];
  const born: number[] = [];
  let next = before.numbers.next[0];
  let room = Math.max(0, moving.most - there.count);
  for (const [i, parts] of moving.births.filter(({ what }) => what === "births").entries()) {
    const emitting = emittingOf(parts);
    const [source, mask] = [`source${i}`, `weights${i}`];
    const remembered: Due = {
      due: before.numbers.due[i] ?? 0,
      born: before.numbers.born[i] ?? 0,
      weights: before.domains[mask]?.columns.weight.lanes[0] as Float32Array | undefined,
    };
    const dying = dead && emitting.from === "what dies" ? younger(dead, emitting.generations) : dead;
    const made = bornIn(emitting, window, remembered, before.shapes[source], room, next, dying);
    due.push(made.due);
    born.push(made.born);
    // Its own movement, or where it was when a birth fell between two frames.
    if (emitting.from !== "what dies") shapes[source] = emitting.shape;
    if (made.weights)
      kept[mask] = { count: made.weights.length, columns: { weight: makeColumn("number", [made.weights]) } };
    if (!made.domain) continue;
    room -= made.domain.count;
    next += made.domain.count;
    const whole = placed(
      withColumns(made.domain, {
        ...(home ? { [HOME]: made.domain.columns.position } : {}),
        ...(emitting.from === "what dies" ? { generation: older(made.domain) } : {}),
      }),
    );
    domains.push(grownUp(whole, moving, window));
  }
  return {
    // All of them may have ended on the way.
    domains: {
      ...kept,
      particles: domains.some(({ count }) => count > 0) ? placed(concatenate(domains)) : there,
    },
    numbers: { next: [next], due, born },
    shapes,
  };
}

/** Moved on for as long as each has been there. */
function grownUp(born: Domain, moving: Moving, { span, scale }: Window): Domain {
  const ages = born.columns.age.lanes[0];
  if (span <= 0 || ages.every((age) => age === 0)) return born;
  // What has passed since it was born passes while it is moved.
  const fresh = withColumns(born, {
    [AGO]: makeColumn("number", [ages.map((age) => age / span)]),
    age: makeColumn("number", [floatsInMemory(born.count).fill(0)]),
  });
  const { domain } = movedOn(fresh, moving, span * scale, scaleBy(AGO_FIELD, moving.pace), false);
  const { [AGO]: _passed, ...columns } = domain.columns;
  return { count: domain.count, columns };
}

/** Those that may still have children. */
function younger(dead: Domain, generations: number): Domain {
  const generation = dead.columns.generation?.lanes[0];
  const numbers = Array.from({ length: dead.count }, (_, i) => i).filter(
    (i) => (generation?.[i] ?? 0) < generations,
  );
  return numbers.length === dead.count ? dead : gather(dead, Int32Array.from(numbers));
}

/** The generation after the one that was carried along. */
const older = ({ count, columns: { generation } }: Domain): Column =>
  makeColumn("number", [makeFloats(count).map((_, i) => (generation?.lanes[0][i] ?? 0) + 1)]);
