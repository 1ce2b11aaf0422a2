/** Springs and lags as nodes: what follows, and the shape with it where it is now. */
import { tick } from "../../cancelling";
import type { NumberField } from "../../fields/expression";
import { runValues } from "../../fields/run";
import {
  type Column,
  type ColumnKind,
  type Domain,
  type Lane,
  makeColumn,
  makeLanes,
} from "../../geometry/column";
import { straighten } from "../../geometry/premultiplied";
import type { Shape } from "../../geometry/shape";
import { roomForFloats } from "../../kernels/arena";
import { Plan } from "../../kernels/plan";
import { alphaShare } from "../../maths/color";
import { own } from "../../own";
import {
  atRest,
  type Following,
  followed,
  type Motion,
  NOTHING,
  turnedTowards,
} from "../../simulate/following";
import type { Stepping } from "../../simulate/state";
import { type NodeContext, NodeError } from "../define";
import { elementsOf, SILENTLY, withElements } from "../elements";
import { choice, field, shape, text } from "../ports";
import { runUpInput } from "./step-inputs";

export const PLACE = "place, turn and size";
const PLACED = ["position", "rotation", "scale"] as const;

/** Inputs that both have. */
export const FOLLOWING = {
  shape: shape({ about: "Clones or sites; without those, points." }),
  of: choice([PLACE, "an attribute"], { about: "What follows late." }),
  attribute: text({
    default: "size",
    shownWhen: { input: "of", is: ["an attribute"] },
    about: "Which attribute: numbers, vectors or colours.",
  }),
  amount: field.number({
    default: 1,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "0 leaves an element as it arrives, 1 lets it follow.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that motion is under way there."),
};

export interface Followed {
  readonly shape: Shape;
  readonly of: string;
  readonly attribute: string;
  readonly amount: NumberField;
  readonly runUp: number;
}

/** What follows: columns of the elements of what arrives. */
interface Found {
  readonly domain: Domain;
  readonly names: readonly string[];
}

function columnsOf({ shape, of, attribute }: Followed): Found | null {
  const elements = elementsOf(shape, SILENTLY);
  if (!elements) return null;
  const { domain } = elements;
  const wanted = of === PLACE ? PLACED : [attribute.trim()];
  const names = wanted.filter((name) => (own(domain.columns, name)?.kind ?? "integer") !== "integer");
  return { domain, names };
}

/** How what follows is stepped. @param motionOf the kernels of a step, of lanes over the elements that follow */
export const steppingOf = <I extends Followed>(
  motionOf: (inputs: I, lanes: (field: NumberField) => Float32Array, seconds: number) => Motion,
): Stepping<I, Following> => ({
  runUp: "runUp",
  start(inputs) {
    const found = columnsOf(inputs);
    return found ? atRest(found.domain, found.names) : NOTHING;
  },
  step(before, inputs, { seconds }) {
    const found = columnsOf(inputs);
    if (!found) return NOTHING;
    const lanes = (value: NumberField) => runValues([value], found.domain, { onlyFinite: true }).lanes[0];
    return followed(before, found.domain, found.names, motionOf(inputs, lanes, seconds));
  },
});

/** What a field is for the first element that follows; undefined where there is none. */
export function firstOf(inputs: Followed, value: NumberField): number | undefined {
  const found = columnsOf(inputs);
  return found ? runValues([value], found.domain, { onlyFinite: true }).lanes[0][0] : undefined;
}

/** What arrives, with what follows where it is now, and how fast places move as `velocity`. */
export function followedShape(inputs: Followed, context: NodeContext): Shape {
  const state = context.carried<Following>();
  const elements = elementsOf(inputs.shape, context);
  const found = columnsOf(inputs);
  if (!elements || !found) return inputs.shape;
  const { domain, names } = found;
  if (names.length === 0) {
    const [name] = inputs.of === PLACE ? ["position"] : [inputs.attribute.trim()];
    if (own(domain.columns, name))
      throw new NodeError(
        `"${name}" holds whole numbers, which cannot follow. Store it as a number first.`,
        "attribute",
      );
    context.warn(`No attribute "${name}" arrives, so nothing follows.`, { input: "attribute" });
    return inputs.shape;
  }
  const [amount] = context.run([inputs.amount], domain);
  const whole = amount.every((share) => share === 1);
  const columns: Record<string, Column> = {};
  const { now, speed } = state.domains;
  for (const name of names) {
    const { kind, lanes } = domain.columns[name];
    const places = now.columns[name].lanes as readonly Float32Array[];
    columns[name] = makeColumn(kind, mixed(kind, lanes, straightened(kind, places), amount, whole));
    if (name === "position") {
      const rate = speed.columns[name].lanes as readonly Float32Array[];
      columns.velocity = makeColumn("vector", mixed("vector", rate, rate, amount, whole));
    }
  }
  return withElements(inputs.shape, elements, columns);
}

function straightened(kind: ColumnKind, lanes: readonly Float32Array[]): readonly Float32Array[] {
  if (kind !== "color" || lanes[3].every((alpha) => alpha === 1)) return lanes;
  const copies = lanes.map((lane) => lane.slice());
  straighten(kind, copies);
  return copies;
}

/** Each element by its amount on the way from one to the other; `whole` when all go all the way. */
function mixed(
  kind: ColumnKind,
  from: readonly Lane[],
  to: readonly Float32Array[],
  amount: Float32Array,
  whole: boolean,
): readonly Lane[] {
  if (to.every((lane, l) => lane === from[l])) return to;
  if (kind === "color") return whole ? to : mixedColors(from, to, amount);
  const there = kind === "rotation" ? turnedTowards(from, to).lanes : to;
  if (whole && kind !== "rotation") return there;
  const plan = new Plan();
  const made = there.map(() => roomForFloats(amount.length));
  const out = made.map((lane) => plan.interleaved(lane, 1));
  const share = plan.read(amount);
  for (const [l, lane] of there.entries())
    plan.calls.push({
      kernel: "partWay",
      operands: [out[l], plan.read(from[l]), plan.read(lane), share],
      numbers: [],
    });
  if (kind === "rotation")
    plan.calls.push({ kernel: "unitRotations", operands: [...out, ...out], numbers: [] });
  for (const [l, lane] of made.entries()) plan.takeOut(out[l], lane, 1);
  plan.run(amount.length);
  return made;
}

function mixedColors(
  from: readonly Lane[],
  to: readonly Float32Array[],
  amount: Float32Array,
): readonly Lane[] {
  const lanes = makeLanes("color", amount.length) as Float32Array[];
  for (let i = 0; i < amount.length; i++) {
    tick(4);
    for (let l = 0; l < 4; l++) {
      const share = l < 3 ? alphaShare(amount[i], from[3][i], to[3][i]) : amount[i];
      lanes[l][i] = share === 1 ? to[l][i] : from[l][i] + (to[l][i] - from[l][i]) * share;
    }
  }
  return lanes;
}
