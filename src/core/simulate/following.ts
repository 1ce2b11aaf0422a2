/**
 * What springs and lags carry from frame to frame: where each element is, how fast (a second), and where it was to go at that
 * frame, as columns that are stepped by kernels. Elements are matched by their ids, so that counts may change. Lanes that stay
 * where they are told to be are those that arrived, so turns and sizes at rest cost nothing.
 */
import { tick } from "../cancelling";
import { type Column, type Columns, countUp, type Domain, type Lane, makeFloats } from "../geometry/column";
import { premultiplied } from "../geometry/premultiplied";
import { roomForFloats } from "../kernels/arena";
import { type Operand, ownAt } from "../kernels/job";
import { Plan } from "../kernels/plan";
import type { State } from "./state";

/** Columns by name: `now`, `speed` and `target` hold those that follow, `rest` one lane of zeros. */
export interface Following extends State {
  readonly domains: {
    readonly ids: Domain;
    readonly now: Domain;
    readonly speed: Domain;
    readonly target: Domain;
  };
}

type Floats = Float32Array;

/** Bytes of one float64 coefficient of a block, as the kernels lay them out. */
const PLANE = 8192;

const floats = (column: Column): readonly Floats[] => column.lanes as readonly Floats[];

/** At rest where things are. Colours are carried times their alpha, as what is between two of them is in proportion so. */
export function atRest(domain: Domain, names: readonly string[]): Following {
  const { count } = domain;
  const zeros = makeFloats(count);
  const target: Record<string, Column> = {};
  const speed: Record<string, Column> = {};
  for (const name of names) {
    const { kind } = domain.columns[name];
    const lanes = premultiplied(domain.columns[name]);
    target[name] = { kind, lanes };
    speed[name] = { kind, lanes: lanes.map(() => zeros) };
  }
  return {
    domains: {
      ids: { count, columns: { id: { kind: "integer", lanes: [idsOf(domain)] } } },
      now: { count, columns: target },
      speed: { count, columns: speed },
      target: { count, columns: target },
    },
  };
}

export const NOTHING: Following = atRest({ count: 0, columns: {} }, []);

function idsOf({ count, columns }: Domain): Int32Array {
  const lane = columns.id?.lanes[0];
  if (lane instanceof Int32Array) return lane;
  const ids = countUp(count);
  if (lane) for (let i = 0; i < count; i++) ids[i] = lane[i];
  return ids;
}

/** One lane on its way. */
export interface Way {
  readonly place: Operand;
  readonly speed: Operand;
  readonly now: Operand;
  readonly rate: Operand;
  readonly was: Operand;
  readonly target: Operand;
}

/** The kernels of a step: what is prepared for each block, and what then moves a lane. */
export interface Motion {
  /** Float64 planes that `prepare` writes. */
  readonly planes: number;
  prepare(plan: Plan, steps: Operand): void;
  move(plan: Plan, way: Way, steps: Operand): void;
}

/** The next state; elements that were not there before begin at rest. The same object when nothing moves. */
export function followed(
  before: Following,
  domain: Domain,
  names: readonly string[],
  motion: Motion,
): Following {
  if (!carriesAlike(before, domain, names)) return atRest(domain, names);
  const ids = idsOf(domain);
  const wasAt = matched(before.domains.ids.columns.id.lanes[0] as Int32Array, ids);
  const plan = new Plan();
  const steps = ownAt(plan.own(motion.planes * PLANE));
  motion.prepare(plan, steps);
  const now: Record<string, Column> = {};
  const speed: Record<string, Column> = {};
  const target: Record<string, Column> = {};
  let moves = false;
  for (const name of names) {
    const was = gathered(before, domain, name, wasAt);
    const { kind } = domain.columns[name];
    const targets = aligned(kind, was.target, premultiplied(domain.columns[name]) as readonly Floats[]);
    const ways = targets.map((to, l) => {
      const [from, at, rate] = [was.target[l], was.now[l], was.speed[l]];
      // It stands where it was told to be, and is told the same.
      if (to === from && at === from && was.rests[l]) return { at, rate };
      moves = true;
      const way = { at: roomForFloats(domain.count), rate: roomForFloats(domain.count) };
      const [place, moving] = [plan.interleaved(way.at, 1), plan.interleaved(way.rate, 1)];
      motion.move(
        plan,
        {
          place,
          speed: moving,
          now: plan.read(at),
          rate: plan.read(rate),
          was: plan.read(from),
          target: plan.read(to),
        },
        steps,
      );
      plan.takeOut(place, way.at, 1);
      plan.takeOut(moving, way.rate, 1);
      return way;
    });
    now[name] = { kind, lanes: ways.map(({ at }) => at) };
    speed[name] = { kind, lanes: ways.map(({ rate }) => rate) };
    target[name] = { kind, lanes: targets };
  }
  if (!moves && !wasAt) return before;
  if (moves) plan.run(domain.count);
  const { count } = domain;
  const idColumn: Columns = wasAt ? { id: { kind: "integer", lanes: [ids] } } : before.domains.ids.columns;
  return {
    domains: {
      ids: { count, columns: idColumn },
      now: { count, columns: now },
      speed: { count, columns: speed },
      target: { count, columns: target },
    },
  };
}

/** Whether the same columns are carried, of the same kinds. */
function carriesAlike({ domains: { target } }: Following, domain: Domain, names: readonly string[]): boolean {
  const before = Object.keys(target.columns);
  return (
    before.length === names.length &&
    names.every((name, i) => before[i] === name && target.columns[name].kind === domain.columns[name].kind)
  );
}

/** Where each element was before, −1 for new ones; null when all are the same in the same order. */
function matched(before: Int32Array, after: Int32Array): Int32Array | null {
  if (before === after) return null;
  if (before.length === after.length && before.every((id, i) => id === after[i])) return null;
  const places = new Map<number, number>();
  before.forEach((id, i) => {
    places.set(id, i);
  });
  return after.map((id) => places.get(id) ?? -1);
}

interface Was {
  readonly now: readonly Floats[];
  readonly speed: readonly Floats[];
  readonly target: readonly Floats[];
  /** By lane: its speed is the lane of zeros. */
  readonly rests: readonly boolean[];
}

/** What a column was before, in the order of the elements that are there now; new ones are where they are told to be. */
function gathered({ domains }: Following, domain: Domain, name: string, wasAt: Int32Array | null): Was {
  const [now, speed, target] = [domains.now, domains.speed, domains.target].map((of) =>
    floats(of.columns[name]),
  );
  const rests = speed.map((lane, l) => now[l] === target[l] && isZero(lane));
  if (!wasAt) return { now, speed, target, rests };
  const made = new Map<Lane, Floats>();
  const arriving = premultiplied(domain.columns[name]);
  const take = (lane: Floats, fill: Lane | null): Floats => {
    const known = made.get(lane);
    if (known) return known;
    const out = makeFloats(wasAt.length);
    for (let i = 0; i < wasAt.length; i++) {
      tick(0.25);
      const was = wasAt[i];
      out[i] = was >= 0 ? lane[was] : (fill?.[i] ?? 0);
    }
    made.set(lane, out);
    return out;
  };
  return {
    target: target.map((lane, l) => take(lane, arriving[l])),
    now: now.map((lane, l) => take(lane, arriving[l])),
    speed: speed.map((lane) => take(lane, null)),
    rests,
  };
}

/** All speeds begin as one lane of zeros, so this is asked of few. */
const zeros = new WeakMap<Lane, boolean>();
function isZero(lane: Lane): boolean {
  let known = zeros.get(lane);
  if (known === undefined) zeros.set(lane, (known = lane.every((v) => v === 0)));
  return known;
}

/** A rotation and its opposite are one turn: the new target is the one that is nearer to the last. */
function aligned(kind: Column["kind"], was: readonly Floats[], target: readonly Floats[]): readonly Floats[] {
  if (kind !== "rotation" || was.every((lane, l) => lane === target[l])) return target;
  const { lanes, turned } = turnedTowards(was, target);
  return turned > 0 ? lanes : target;
}

/** Rotations on the side of others, and how many had to be turned. */
export function turnedTowards(
  others: readonly Lane[],
  rotations: readonly Lane[],
): { readonly lanes: readonly Floats[]; readonly turned: number } {
  const count = rotations[0].length;
  const plan = new Plan();
  const lanes = rotations.map(() => roomForFloats(count));
  const out = lanes.map((lane) => plan.interleaved(lane, 1));
  const read = (lane: Lane) => plan.read(lane);
  plan.calls.push({
    kernel: "alignRotations",
    operands: [...out, ...others.map(read), ...rotations.map(read)],
    numbers: [],
    counted: true,
  });
  for (const [l, lane] of lanes.entries()) plan.takeOut(out[l], lane, 1);
  return { lanes, turned: plan.run(count) };
}
