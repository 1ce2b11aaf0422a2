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
import { defineNode, type Keyed } from "../define";
import { field, number, out } from "../ports";

/** Entries of the table a frame, and at most: between them values go straight. */
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
    const since = subtract(constant(context.time.frame - curve.first), delay);
    const { table } = context.reuse<Baked>((known) =>
      known?.mark === curve.mark ? known : { mark: curve.mark, table: tableOf(curve) },
    );
    return { value: curveAt(curve, table, scaleBy(since, pace)) };
  },
});

interface Baked {
  readonly mark: string;
  readonly table: Float32Array;
}

/** The curve, frames after its first key. */
function curveAt({ first, last, before, after, mark }: Keyed, table: Float32Array, since: Value): Value {
  const span = last - first;
  const [from, to] = [table[0], table[table.length - 1]];
  if (span <= 0) return constant(from);
  const u = divide(since, constant(span));
  const isBefore = apply("less", [u, constant(0)]);
  const isAfter = apply("less", [constant(1), u]);
  const inside = clamp(u, constant(0), constant(1));
  const place = mix(mix(inside, folded(u, before), isBefore), folded(u, after), isAfter);
  const value = apply("lookup", [place], { key: mark, table });
  const goesOn = [
    before === "again from there" ? isBefore : null,
    after === "again from there" ? isAfter : null,
  ];
  const rounds = scaleBy(apply("floor", [u]), constant(to - from));
  return goesOn.reduce<Value>((sum, when) => (when ? add(sum, scaleBy(rounds, when)) : sum), value);
}

/** Where on the curve (0…1) is read beyond its ends, as keys/repeat.ts has it. */
function folded(u: Value, how: Repeat): Value {
  if (how === "hold") return clamp(u, constant(0), constant(1));
  return how === "to and fro" ? apply("pingPong", [u, constant(1)]) : apply("fraction", [u]);
}

function tableOf({ first, last, at }: Keyed): Float32Array {
  const entries = Math.min(MOST, Math.max(1, Math.ceil((last - first) * A_FRAME))) + 1;
  return Float32Array.from({ length: entries }, (_, i) =>
    Number(at(first + ((last - first) * i) / (entries - 1))),
  );
}
