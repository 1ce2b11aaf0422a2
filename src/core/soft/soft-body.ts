/** A soft shape from step to step; what is done for each point and pair is in kernels/assembly/soft.ts. */
import { tick } from "../cancelling";
import { type Domain, makeColumn } from "../geometry/column";
import { copyInMemory, passing } from "../kernels/arena";
import { type Scratch, withScratch } from "../kernels/kernels";
import { exponential } from "../maths/exact";
import type { State } from "../simulate/state";
import { PointGrid } from "../spatial/point-grid";
import { lengthsOf, type Ties } from "./constraints";

type Lanes = readonly ArrayLike<number>[];

/**
 * Points with `position` and `velocity`; pairs with their `rest` lengths, below 0 for those that are torn; and what it enclosed at first. Of a mesh
 * that has parted also the `point` of each corner, and of each point the one that arrives as its `origin`: see tearing.ts.
 */
export interface SoftBody extends State {
  readonly domains: {
    readonly points: Domain;
    readonly corners: Domain;
    readonly stretch: Domain;
    readonly bend: Domain;
  };
  readonly numbers: { readonly enclosed: readonly [number] };
}

export interface SoftSettings {
  readonly substeps: number;
  /** Units that 1 unit of force (a mass of 1 at 1 unit a second²) stretches or bends a pair by. */
  readonly stretch: number;
  readonly bend: number;
  /** Times what it enclosed at first that it wants to enclose; null when it does not care. */
  readonly pressure: number | null;
  /** Times the rest length, of each pair. */
  readonly lengths: ArrayLike<number>;
  /** Pairs that are never farther from each other than so far, and slack below that; null for none. */
  readonly tied: { readonly pairs: Int32Array; readonly lengths: Float32Array } | null;
  /** 1 for points that are led to where they arrive. */
  readonly led: ArrayLike<number>;
  readonly goals: Lanes;
  /** How softly points are drawn to where they arrive, as `stretch`; infinite for not at all. */
  readonly home: ArrayLike<number>;
  /** Units a second², at each point. */
  readonly push: Lanes;
  /** Parts of the speed that are lost in a second. */
  readonly damping: number;
  /** Strain from which pairs hold no longer; and from which they stay longer. Infinite for never. */
  readonly tear: number;
  readonly yields: number;
  /** How far its own points keep from each other; 0 to pass. */
  readonly own: number;
  /** The nearest plane to lean on for each place: places and facings, six lanes; null for none. */
  readonly planes: ((places: readonly Float32Array[]) => Lanes | null) | null;
  readonly gap: number;
  readonly friction: number;
}

/** Sub-steps for which what is leant on is looked for once. */
const LOOK = 4;
/** Longest way in a sub-step, in shortest rest lengths: what is faster would pass through itself. */
const FARTHEST = 2;
/** Numbers from the x of a point to that of the next. */
const BESIDE = 4;
/** Part of what is missing between a shape's own points that a frame makes up. */
const OWN_SHARE = 0.5;

export function softAtRest(places: Lanes, ties: Ties): SoftBody {
  const position = places.map((lane) => Float32Array.from(lane));
  return softOf(
    position,
    position.map((lane) => new Float32Array(lane.length)),
    lengthsOf(ties.stretch, position),
    lengthsOf(ties.bend, position),
    withScratch((scratch) => new Working(scratch, position, position, ties).enclosed()),
  );
}

function softOf(
  position: readonly Float32Array[],
  velocity: readonly Float32Array[],
  stretch: Float32Array,
  bend: Float32Array,
  enclosed: number,
  before?: SoftBody,
): SoftBody {
  const origin = before?.domains.points.columns.origin;
  const pairs = (rest: Float32Array): Domain => ({
    count: rest.length,
    columns: { rest: makeColumn("number", [rest]) },
  });
  return {
    domains: {
      points: {
        count: position[0].length,
        columns: {
          position: makeColumn("vector", position),
          velocity: makeColumn("vector", velocity),
          ...(origin && { origin }),
        },
      },
      corners: before?.domains.corners ?? { count: 0, columns: {} },
      stretch: pairs(stretch),
      bend: pairs(bend),
    },
    numbers: { enclosed: [enclosed] },
  };
}

/** Addresses of everything while a step is worked out. */
class Working {
  readonly place: number[];
  readonly before: number[];
  readonly speed: number[];
  readonly gradient: number[];
  readonly triangles: number;

  constructor(
    private readonly scratch: Scratch,
    places: readonly Float32Array[],
    velocity: readonly Float32Array[],
    private readonly ties: Ties,
  ) {
    const { length } = places[0];
    this.count = length;
    this.place = this.beside();
    const doubles = this.doubles();
    for (const [a, lane] of places.entries()) {
      const at = this.place[a] / 8;
      for (let p = 0; p < length; p++) doubles[at + p * BESIDE] = lane[p];
    }
    this.speed = velocity.map((lane) => scratch.place(lane));
    this.before = this.beside();
    this.gradient = [0, 1, 2].map(() => scratch.room(length * 4));
    this.triangles = scratch.place(ties.triangles);
  }

  readonly count: number;

  run(kernel: string, ...operands: number[]): number {
    return this.scratch.engine.kernels.kernel(kernel)(...operands) ?? 0;
  }

  /** What its triangles enclose now; how each point changes it is in `gradient` then. */
  enclosed(): number {
    const { ties, count, place, gradient, triangles } = this;
    return this.run("softEnclosed", ties.triangles.length / 3, triangles, count, ...place, ...gradient);
  }

  /** Where points are. */
  places(): Float32Array[] {
    const doubles = this.doubles();
    return this.place.map((address) => {
      const out = new Float32Array(this.count);
      for (let p = 0; p < out.length; p++) out[p] = doubles[address / 8 + p * BESIDE];
      return out;
    });
  }

  velocities(): Float32Array[] {
    const { floats } = this.scratch.engine.kernels;
    return this.speed.map((address) => floats.slice(address / 4, address / 4 + this.count));
  }

  /** Room for x, y and z of each point beside each other, as kernels/assembly/soft.ts has it, and 0 behind them. */
  private beside(): number[] {
    const numbers = this.count * BESIDE;
    const address = this.scratch.room(numbers * 8);
    this.doubles().fill(0, address / 8, address / 8 + numbers);
    return [0, 8, 16].map((offset) => address + offset);
  }

  private doubles(): Float64Array {
    return new Float64Array(this.scratch.engine.memory.memory.buffer);
  }
}

/** A while later. */
export function steppedSoft(before: SoftBody, ties: Ties, settings: SoftSettings, seconds: number): SoftBody {
  const { points, stretch, bend } = before.domains;
  if (!(seconds > 0) || points.count === 0) return before;
  const lane = (domain: Domain, name: string) => domain.columns[name].lanes as readonly Float32Array[];
  const [rest] = lane(stretch, "rest");
  const [enclosed] = before.numbers.enclosed;
  return withScratch((scratch) => {
    const work = new Working(scratch, lane(points, "position"), lane(points, "velocity"), ties);
    const { lengths } = settings;
    const wanted = new Float32Array(rest);
    for (let e = 0; e < lengths.length; e++) if (wanted[e] >= 0) wanted[e] *= lengths[e];
    moved(work, scratch, ties, settings, { wanted, bend: lane(bend, "rest")[0], enclosed }, seconds);
    const [position, velocity] = [work.places(), work.velocities()];
    if (settings.own > 0) keptApart(position, settings);
    return softOf(
      position,
      velocity,
      changedRest(rest, wanted, position, ties, settings),
      lane(bend, "rest")[0],
      enclosed,
      before,
    );
  });
}

interface Rest {
  readonly wanted: Float32Array;
  readonly bend: Float32Array;
  readonly enclosed: number;
}

function moved(
  work: Working,
  scratch: Scratch,
  ties: Ties,
  settings: SoftSettings,
  rest: Rest,
  seconds: number,
): void {
  const { substeps, gap, friction, planes, pressure } = settings;
  const { count, place, before, speed, gradient } = work;
  const dt = seconds / substeps;
  const per = 1 / (dt * dt);
  const placed = (values: ArrayLike<number>) => scratch.place(values);
  const free = new Float32Array(count);
  for (let p = 0; p < count; p++) free[p] = settings.led[p] >= 0.5 ? 0 : 1;
  const w = placed(free);
  const goals = settings.goals.map(placed);
  const push = settings.push.map(placed);
  const home = softlyDrawn(settings.home);
  const alphas = home ? placed(Float32Array.from(settings.home, (softness) => softness * per)) : 0;
  const [stretch, bend] = [ties.stretch, ties.bend].map(placed);
  const [wanted, straight] = [rest.wanted, rest.bend].map(placed);
  const { tied } = settings;
  const ropes = tied && { pairs: placed(tied.pairs), lengths: placed(tied.lengths) };
  const keep = exponential(-settings.damping * dt);
  const most = fastest(rest.wanted, dt);
  let contacts: number[] | null = null;
  for (let s = 0; s < substeps; s++) {
    tick(count * 8);
    if (planes && s % LOOK === 0) contacts = planesNow(work, planes)?.map(placed) ?? null;
    const part = 1 / (substeps - s);
    work.run("softBegin", count, ...place, ...before, ...speed, w, ...goals, ...push, part, dt);
    work.run("softPairs", ties.stretch.length / 2, stretch, wanted, place[0], w, settings.stretch * per, 0);
    work.run("softPairs", ties.bend.length / 2, bend, straight, place[0], w, settings.bend * per, 0);
    if (tied && ropes)
      work.run("softPairs", tied.lengths.length, ropes.pairs, ropes.lengths, place[0], w, 0, 1);
    if (pressure !== null && ties.triangles.length > 0) {
      const off = work.enclosed() - pressure * rest.enclosed;
      work.run("softTogether", count, ...place, w, ...gradient, off, 0);
    }
    if (home) work.run("softHome", count, ...place, w, ...goals, alphas);
    if (contacts) work.run("softContacts", count, ...place, ...before, w, ...contacts, gap, friction);
    work.run("softEnd", count, ...place, ...before, ...speed, keep, dt, most);
  }
}

function planesNow(work: Working, planes: NonNullable<SoftSettings["planes"]>): Lanes | null {
  return passing(() => planes(work.places())?.map((lane) => Float32Array.from(lane)) ?? null);
}

/** Whether any is drawn at all. */
function softlyDrawn(home: ArrayLike<number>): boolean {
  for (let p = 0; p < home.length; p++) if (Number.isFinite(home[p])) return true;
  return false;
}

/** Units a second at most. */
function fastest(rest: Float32Array, dt: number): number {
  let shortest = Number.POSITIVE_INFINITY;
  for (let e = 0; e < rest.length; e++) if (rest[e] > 0 && rest[e] < shortest) shortest = rest[e];
  return Number.isFinite(shortest) ? (FARTHEST * shortest) / dt : 1e6;
}

/** Its own points away from each other. */
function keptApart(position: readonly Float32Array[], { own, led }: SoftSettings): void {
  passing(() => {
    const places = position.map(copyInMemory);
    const room = new Float32Array(places[0].length).fill(own / 2);
    const held = Float32Array.from(led, (v) => (v >= 0.5 ? 1 : 0));
    new PointGrid(places).push(places, room, held, own / 2, OWN_SHARE);
    for (let a = 0; a < 3; a++) position[a].set(places[a]);
  });
}

/** How much longer than wanted each pair is, in parts of it. */
export function strainsOf(wanted: Float32Array, position: Lanes, pairs: Int32Array): Float32Array {
  const strains = lengthsOf(pairs, position);
  for (let e = 0; e < strains.length; e++) strains[e] = wanted[e] > 0 ? strains[e] / wanted[e] - 1 : 0;
  return strains;
}

/** What tears has no length any more, and what gives way stays as much longer as it went too far. */
function changedRest(
  rest: Float32Array,
  wanted: Float32Array,
  position: Lanes,
  ties: Ties,
  { tear, yields }: SoftSettings,
): Float32Array {
  if (!Number.isFinite(tear) && !Number.isFinite(yields)) return rest;
  const strains = strainsOf(wanted, position, ties.stretch);
  return rest.map((length, e) => {
    if (length < 0 || strains[e] > tear) return -1;
    const over = Math.abs(strains[e]) - yields;
    return over > 0 ? length * (1 + Math.sign(strains[e]) * over) : length;
  });
}
