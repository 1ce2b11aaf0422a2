import { tick } from "../../cancelling";
import { type Domain, makeColumn, makeLanes, withColumns } from "../../geometry/column";
import { lanesOf, rotationsOf } from "../../geometry/shape";
import { alphaShare } from "../../maths/color";
import {
  fromAxisAngle,
  type MutableQuaternion,
  multiply,
  type Quaternion,
  slerp,
} from "../../maths/quaternion";
import { X_AXIS, Y_AXIS, Z_AXIS } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, field, integer, out, shape } from "../ports";

const AXES = { y: Y_AXIS, x: X_AXIS, z: Z_AXIS } as const;

export const blendPoses = defineNode({
  type: "blend-poses",
  family: "adjust",
  title: "Blend poses",
  about: "Takes clones from where they are to where others are: place, rotation, scale and colour.",
  synonyms: ["morph", "transition", "between", "interpolate", "fly to", "assemble", "mix"],
  inputs: {
    shape: shape({ about: "Clones or sites as they are at 0." }),
    to: shape({ about: "Sites as they are at 1." }),
    amount: field.number({ default: 0.5, soft: [0, 1], about: "How far each has come." }),
    match: choice(["by id", "by order"], { about: "Which one goes where." }),
    turns: integer({
      default: 0,
      soft: [-5, 5],
      about: "Whole turns on the way besides; nothing is left of them at 0 and at 1.",
    }),
    about: choice(["y", "x", "z"], { about: "The own axis of those turns." }),
  },
  outputs: { shape: out.shape("The same, on their way.") },
  summary: ({ match, turns }) => (turns === 0 ? `${match}` : `${match}, ${turns} turns`),
  evaluate({ shape, to, amount, match, turns, about }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to blend.", { input: "shape" });
      return { shape };
    }
    if (!to.sites || to.sites.count === 0) {
      context.warn("No sites arrive to go to, so all stay where they are.", { input: "to" });
      return { shape };
    }
    const partner = partnersOf(sites, to.sites, match);
    const alone = partner.reduce((count, j) => (j < 0 ? count + 1 : count), 0);
    if (alone > 0)
      context.warn(`${alone} of ${sites.count} have none to go to and stay where they are.`, {
        input: "match",
      });
    const [amounts] = context.run([amount], sites);
    const blended: Record<string, ReturnType<typeof makeColumn>> = {};
    for (const [name, kind] of [
      ["position", "vector"],
      ["scale", "vector"],
      ["color", "color"],
    ] as const) {
      if (name === "color" && !sites.columns.color && !to.sites.columns.color) continue;
      blended[name] = makeColumn(kind, mixed(name, kind, sites, to.sites, partner, amounts));
    }
    blended.rotation = makeColumn(
      "rotation",
      turnedBetween(sites, to.sites, partner, amounts, (t) =>
        fromAxisAngle(AXES[about], turns * 2 * Math.PI * t),
      ),
    );
    return { shape: { ...shape, sites: withColumns(sites, blended) } };
  },
});

/** For each site the number of the one it goes to, −1 for none. */
function partnersOf(sites: Domain, to: Domain, match: "by id" | "by order"): Int32Array {
  const partner = new Int32Array(sites.count);
  const ids = to.columns.id?.lanes[0];
  const own = sites.columns.id?.lanes[0];
  const byId = new Map<number, number>();
  if (match === "by id") for (let j = to.count - 1; j >= 0; j--) byId.set(ids?.[j] ?? j, j);
  for (let i = 0; i < sites.count; i++) {
    tick();
    partner[i] = match === "by id" ? (byId.get(own?.[i] ?? i) ?? -1) : i < to.count ? i : -1;
  }
  return partner;
}

function mixed(
  name: string,
  kind: "vector" | "color",
  sites: Domain,
  to: Domain,
  partner: Int32Array,
  amounts: Float32Array,
): Float32Array[] {
  const [a, b] = [lanesOf(sites, name, kind), lanesOf(to, name, kind)];
  const opaque = ({ lanes, fallback }: typeof a, i: number) => (i < 0 ? 1 : (lanes?.[3][i] ?? fallback[3]));
  const out = makeLanes(kind, sites.count) as Float32Array[];
  out.forEach((lane, l) => {
    for (let i = 0; i < sites.count; i++) {
      tick();
      const from = a.lanes?.[l][i] ?? a.fallback[l];
      const j = partner[i];
      const goal = j < 0 ? from : (b.lanes?.[l][j] ?? b.fallback[l]);
      const share =
        kind === "color" && l < 3 ? alphaShare(amounts[i], opaque(a, i), opaque(b, j)) : amounts[i];
      // The end is met exactly.
      lane[i] = share === 1 ? goal : from + (goal - from) * share;
    }
  });
  return out;
}

function turnedBetween(
  sites: Domain,
  to: Domain,
  partner: Int32Array,
  amounts: Float32Array,
  further: (t: number) => Quaternion,
): Float32Array[] {
  const [a, b] = [rotationsOf(sites), rotationsOf(to)];
  const out = makeLanes("rotation", sites.count) as Float32Array[];
  for (let i = 0; i < sites.count; i++) {
    tick(8);
    const from = a(i);
    const j = partner[i];
    let q = from;
    if (j >= 0) {
      q = multiply(slerp(from, b(j), amounts[i]), further(amounts[i]), [0, 0, 0, 1] as MutableQuaternion);
    }
    for (let l = 0; l < 4; l++) out[l][i] = q[l];
  }
  return out;
}
