import {
  add,
  apply,
  clamp,
  constant,
  divide,
  mix,
  scaleBy,
  subtract,
  type Value,
} from "../../fields/expression";
import type { Repeat } from "../../keys/repeat";
import { type SegmentedTable, segmentedTable } from "../../maths/segmented-table";
import { defineNode, type Keyed } from "../define";
import { field, number, out } from "../ports";

/** Entries of the table a frame, and at most: between them values go straight. Keys are met exactly. */
const A_FRAME = 16;
const MOST = 2 ** 15;

export const keys = defineNode({
  type: "keys",
  family: "drive",
  title: "Keys",
  about: "A value over time, which each element reads at a time of its own.",
  synonyms: ["keyframes", "animate", "curve over time", "delay", "offset", "overlap", "offset in time"],
  ownKeys: true,
  inputs: {
    value: number({ default: 0, soft: [-10, 10], about: "Give it keys: they are the curve." }),
    delay: field.number({
      default: 0,
      soft: [0, 50],
      unit: "frames",
      about: "How much later an element is; link the index, a distance or a random number.",
    }),
    pace: field.number({
      default: 1,
      soft: [0, 4],
      unit: "×",
      about: "How fast an element goes through the keys, from the first one on.",
    }),
  },
  outputs: { value: out.number("The value at each element's own time.") },
  summary: ({ delay }) => (delay === 0 ? "the same for all" : "each in its own time"),
  evaluate({ value, delay, pace }, context) {
    const curve = context.keysOf("value");
    if (!curve) {
      context.warn('"value" has no keys, so it is the same at any time. Drive it with keys from its menu.', {
        input: "value",
      });
      return { value: constant(value) };
    }
    const since = subtract(constant(context.time.frame - curve.frames[0]), delay);
    const baked = context.reuse<Baked>((known) =>
      known?.mark === curve.mark ? known : { mark: curve.mark, ...tableOf(curve) },
    );
    return { value: curveAt(curve, baked, scaleBy(since, pace)) };
  },
});

interface Baked extends SegmentedTable {
  readonly mark: string;
}

/** The curve, so many frames after its first key. */
function curveAt(curve: Keyed, { mark, table, knots }: Baked, since: Value): Value {
  const { frames, before, after } = curve;
  const [first, last] = [frames[0], frames[frames.length - 1]];
  const span = last - first;
  const [from, to] = [Number(curve.at(first)), Number(curve.at(last))];
  if (span <= 0) return constant(from);
  const isBefore = apply("less", [since, constant(0)]);
  const isAfter = apply("less", [constant(span), since]);
  const inside = clamp(since, constant(0), constant(span));
  const place = mix(mix(inside, folded(since, span, before), isBefore), folded(since, span, after), isAfter);
  const value = apply("lookup", [place], { key: mark, table, knots });
  const goesOn = [
    before === "again from there" ? isBefore : null,
    after === "again from there" ? isAfter : null,
  ];
  const rounds = scaleBy(apply("floor", [divide(since, constant(span))]), constant(to - from));
  return goesOn.reduce<Value>((sum, when) => (when ? add(sum, scaleBy(rounds, when)) : sum), value);
}

/** Where on the curve, in frames after its first key, is read beyond its ends, as keys/repeat.ts has it. */
function folded(since: Value, span: number, how: Repeat): Value {
  if (how === "hold") return clamp(since, constant(0), constant(span));
  return apply(how === "to and fro" ? "pingPong" : "modulo", [since, constant(span)]);
}

/** Just before a key, where one that holds has not given way yet; frames are told apart down to this. */
const JUST_BEFORE = 1e-9;

/** By frames after the first key. */
function tableOf({ frames, at }: Keyed): SegmentedTable {
  const [first, last] = [frames[0], frames[frames.length - 1]];
  const density = Math.min(A_FRAME, MOST / Math.max(1, last - first));
  return segmentedTable({
    knots: frames.map((frame) => frame - first),
    lanes: 1,
    before: [Number(at(first))],
    after: [Number(at(last))],
    steps: (k) => (frames[k + 1] - frames[k]) * density,
    between: (k, t) => {
      const [from, to] = [frames[k], frames[k + 1]];
      return [Number(at(t < 1 ? from + (to - from) * t : to - JUST_BEFORE))];
    },
  });
}
