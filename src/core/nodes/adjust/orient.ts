import { tick } from "../../cancelling";
import {
  add,
  column,
  constant,
  plainNumber,
  scaleBy,
  type Value,
  type VectorField,
} from "../../fields/expression";
import { type Domain, makeColumn, makeLanes, withColumns } from "../../geometry/column";
import { rotationsOf } from "../../geometry/shape";
import { lengthOf } from "../../maths/exact";
import {
  between,
  fromAxisAngle,
  type MutableQuaternion,
  multiply,
  pointing,
  type Quaternion,
  rotate,
  slerp,
} from "../../maths/quaternion";
import { normalise, type Vec3, X_AXIS, Y_AXIS, Z_AXIS } from "../../maths/vector";
import { own } from "../../own";
import { defineNode, type NodeContext } from "../define";
import { choice, field, out, shape, vector } from "../ports";

const RULES = [
  "a direction",
  "away from a place",
  "towards a place",
  "off the surface",
  "the next site",
  "velocity",
  "angles",
  "what is there",
] as const;
type Rule = (typeof RULES)[number];

const AXES = { z: Z_AXIS, x: X_AXIS, y: Y_AXIS } as const;

/** Attributes that "what is there" looks at, the first one that says something first. */
const PRECEDENCE = ["turn", "direction", "velocity"] as const;

export const orient = defineNode({
  type: "orient",
  family: "adjust",
  title: "Orient",
  about: "States where clones point, and where their top looks.",
  synonyms: [
    "look at",
    "aim",
    "face the camera",
    "align",
    "rotation",
    "up vector",
    "normal",
    "target",
    "billboard",
  ],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    by: choice(RULES, {
      about:
        "What the axis points along. What is there: the attribute `turn` (a whole rotation), else `direction`, else `velocity`, each with the top.",
    }),
    direction: field.vector({
      default: [0, 0, 1],
      soft: [-1, 1],
      unit: "",
      shownWhen: { input: "by", is: ["a direction"] },
      about: "Of any length; 0 leaves a clone as it is.",
    }),
    angles: field.rotation({
      shownWhen: { input: "by", is: ["angles"] },
      about: "The whole rotation, about X, Y and Z; whatever it was before.",
    }),
    place: vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      handle: "place",
      shownWhen: { input: "by", is: ["away from a place", "towards a place"] },
      about: "Where that is.",
    }),
    axis: choice(["z", "x", "y"], { about: "The own axis that points; z is the front, y the top." }),
    roll: choice(["top looks up", "least twist"], {
      about:
        "What settles the turn about it: a direction for the top, or the shortest way from how it stood. Only the latter never flips.",
    }),
    up: field.vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      unit: "",
      shownWhen: { input: "roll", is: ["top looks up"] },
      about: "Where the top looks, as near as can be.",
    }),
    bank: field.number({
      default: 0,
      soft: [0, 2],
      unit: "×",
      shownWhen: { input: "roll", is: ["top looks up"] },
      about:
        "How much the top leans into turns, by the attribute `acceleration`: at 1 as much as an aeroplane under the pull of the earth.",
    }),
    spin: field.angle({ default: 0, about: "A further turn about the axis." }),
    amount: field.number({ default: 1, soft: [0, 1], about: "How far from how it stood to there." }),
  },
  outputs: { shape: out.shape("The same, turned.") },
  summary: ({ by, axis }) => (by === "angles" ? "by angles" : `${axis} along ${by}`),
  evaluate(inputs, context) {
    const { shape } = inputs;
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to turn.", { input: "shape" });
      return { shape };
    }
    const { axis, roll, up, spin, amount, direction, angles } = inputs;
    const tops = roll === "top looks up" ? leaning(inputs, sites, context) : up;
    const lanes = context.run([...direction, ...tops, spin, amount, ...angles], sites);
    const [dx, dy, dz, ux, uy, uz, spins, amounts, ...whole] = lanes;
    const rule = ruleOf(inputs, sites, { direction: [dx, dy, dz], whole }, context);
    const own = AXES[axis];
    const before = rotationsOf(sites);
    const turned = makeLanes("rotation", sites.count) as Float32Array[];
    let still = 0;
    for (let i = 0; i < sites.count; i++) {
      tick(8);
      const stood = before(i);
      const wanted = rule(i);
      let q: Quaternion = stood;
      if (wanted.turn) q = wanted.turn;
      else if (wanted.along) {
        const along = wanted.along;
        q =
          roll === "top looks up"
            ? pointing(axis, along, [ux[i], uy[i], uz[i]])
            : shortest(stood, own, along);
      } else still++;
      if (spins[i] !== 0) q = multiply(q, fromAxisAngle(own, spins[i]), [0, 0, 0, 1] as MutableQuaternion);
      if (amounts[i] !== 1) q = slerp(stood, q, amounts[i]);
      for (let l = 0; l < 4; l++) turned[l][i] = q[l];
    }
    if (still > 0)
      context.note(`${still} of ${sites.count} have nothing to point along and stay as they are.`);
    return {
      shape: { ...shape, sites: withColumns(sites, { rotation: makeColumn("rotation", turned) }) },
    };
  },
});

/** Units a second²: standard gravity (ISO 80000-3), with a unit as a metre. */
const EARTH = 9.80665;

/**
 * Where tops look that lean into turns: in one without sideslip the top is along what holds it up and turns it, so along the acceleration
 * less the pull of the earth.
 */
function leaning(
  { up, bank }: { readonly up: VectorField; readonly bank: Value },
  sites: Domain,
  context: NodeContext,
): VectorField {
  if (plainNumber(bank) === 0) return up;
  if (own(sites.columns, "acceleration")?.kind !== "vector") {
    context.warn(
      'No attribute "acceleration" arrives, so nothing banks. Particles gives it where it is told to.',
      {
        input: "bank",
      },
    );
    return up;
  }
  return up.map((v, a) =>
    add(v, scaleBy(column("acceleration", a), scaleBy(bank, constant(1 / EARTH)))),
  ) as unknown as VectorField;
}

/** The whole rotation or the direction that holds for an element; neither when nothing points anywhere. */
interface Wanted {
  readonly turn?: Quaternion;
  readonly along?: Vec3;
}

const NOTHING: Wanted = {};
const alongOf = (v: Vec3): Wanted => (lengthOf(...v) > 1e-12 ? { along: normalise(v) } : NOTHING);

/** From how it stood, on the shortest way. */
function shortest(stood: Quaternion, own: Vec3, along: Vec3): Quaternion {
  const turn = between(normalise(rotate(stood, own)), along);
  return multiply(turn, stood, [0, 0, 0, 1] as MutableQuaternion);
}

function ruleOf(
  { by, place }: { readonly by: Rule; readonly place: Vec3 },
  sites: Domain,
  {
    direction,
    whole,
  }: { readonly direction: readonly Float32Array[]; readonly whole: readonly Float32Array[] },
  context: NodeContext,
): (i: number) => Wanted {
  const lanes = sites.columns.position.lanes;
  const at = (from: readonly ArrayLike<number>[], i: number): Vec3 => [from[0][i], from[1][i], from[2][i]];
  const lanesOf = (name: string, kind: "vector" | "rotation") => {
    const found = own(sites.columns, name);
    return found?.kind === kind ? found.lanes : undefined;
  };
  const fromColumn = (name: string): ((i: number) => Wanted) => {
    const found = lanesOf(name, "vector");
    if (!found) context.warn(`No attribute "${name}" arrives, so nothing is turned by it.`, { input: "by" });
    return (i) => (found ? alongOf(at(found, i)) : NOTHING);
  };
  switch (by) {
    case "a direction":
      return (i) => alongOf(at(direction, i));
    case "away from a place":
    case "towards a place": {
      const sign = by === "away from a place" ? 1 : -1;
      return (i) => alongOf(at(lanes, i).map((v, a) => (v - place[a]) * sign) as unknown as Vec3);
    }
    case "the next site": {
      const last = sites.count - 1;
      // The last one looks where the one before it does.
      return (i) => {
        const [p, q] = i < last ? [i, i + 1] : [Math.max(0, i - 1), i];
        return alongOf([0, 1, 2].map((a) => lanes[a][q] - lanes[a][p]) as unknown as Vec3);
      };
    }
    case "angles":
      return (i) => ({ turn: [whole[0][i], whole[1][i], whole[2][i], whole[3][i]] });
    case "off the surface":
      return fromColumn("normal");
    case "velocity":
      return fromColumn("velocity");
    case "what is there":
      return precedence(
        sites.count,
        lanesOf("turn", "rotation"),
        lanesOf("direction", "vector"),
        lanesOf("velocity", "vector"),
        context,
      );
  }
}

function precedence(
  count: number,
  turn: readonly ArrayLike<number>[] | undefined,
  direction: readonly ArrayLike<number>[] | undefined,
  velocity: readonly ArrayLike<number>[] | undefined,
  context: NodeContext,
): (i: number) => Wanted {
  const won = [0, 0, 0];
  const vectorAt = (lanes: readonly ArrayLike<number>[] | undefined, i: number) =>
    lanes ? alongOf([lanes[0][i], lanes[1][i], lanes[2][i]]) : NOTHING;
  const ruleAt = (i: number): readonly [number, Wanted] => {
    const whole = turn && ([turn[0][i], turn[1][i], turn[2][i], turn[3][i]] as const);
    const size = whole ? lengthOf(whole[0], whole[1], whole[2], whole[3]) : 0;
    if (whole && size > 1e-6) return [0, { turn: whole.map((part) => part / size) as unknown as Quaternion }];
    const along = vectorAt(direction, i);
    if (along.along) return [1, along];
    return [2, vectorAt(velocity, i)];
  };
  for (let i = 0; i < count; i++) {
    const [rule, wanted] = ruleAt(i);
    if (wanted.turn || wanted.along) won[rule]++;
  }
  const said = PRECEDENCE.flatMap((name, rule) => (won[rule] > 0 ? [`${name} turns ${won[rule]}`] : []));
  if (said.length === 0)
    context.warn(`None of the attributes ${PRECEDENCE.join(", ")} arrives, so nothing is turned.`, {
      input: "by",
    });
  else context.note(`Of ${count}: ${said.join(", ")}.`);
  return (i) => ruleAt(i)[1];
}
