import { overshootOf, springStep, sprungPlace, sprungSpeed } from "../../maths/spring";
import { defineNode } from "../define";
import { field, number, out } from "../ports";
import { advanced, FOLLOWING, type Followed, followedShape, lanesOver } from "./followed";

interface Inputs extends Followed {
  readonly stiffness: Parameters<typeof lanesOver>[1][number];
  readonly damping: Parameters<typeof lanesOver>[1][number];
  readonly mass: number;
}

export const spring = defineNode({
  type: "spring",
  family: "simulate",
  title: "Spring",
  about: "Lets clones follow what arrives on springs: late, beyond it and back, until they settle.",
  synonyms: ["bounce", "overshoot", "wobble", "jiggle", "secondary motion", "elastic", "settle", "follow"],
  otherFrames: true,
  inputs: {
    ...FOLLOWING,
    stiffness: field.number({
      default: 120,
      min: 0,
      soft: [5, 400],
      about: "The pull, a unit of mass and of distance: more is quicker.",
    }),
    damping: field.number({
      default: 0.35,
      min: 0,
      soft: [0, 1.5],
      about: "0 swings for ever, below 1 it overshoots, from 1 on it only settles.",
    }),
    mass: number({ default: 1, min: 0.001, soft: [0.1, 10], about: "More is slower." }),
  },
  outputs: {
    shape: out.shape("The same, on its springs; `velocity` is how fast each place moves, units a second."),
  },
  summary: ({ stiffness, damping }) => `stiffness ${stiffness}, damping ${damping}`,
  evaluate(inputs, context) {
    const shape = followedShape<Inputs>(inputs, context, (before, at, seconds) => {
      const [stiffness, damping] = lanesOver(at, [at.stiffness, at.damping]);
      const steps = stepsOf(stiffness, damping, at.mass, seconds);
      return advanced(before, at, (was, w, after, i, l) => {
        const step = steps(i);
        const [now, speed] = [was.now[l][w], was.speed[l][w]];
        const [from, to] = [was.target[l][w], after.target[l][i]];
        after.now[l][i] = sprungPlace(step, now, speed, from, to, seconds);
        after.speed[l][i] = sprungSpeed(step, now, speed, from, to, seconds);
      });
    });
    const [stiffness, damping] = lanesOver(inputs, [inputs.stiffness, inputs.damping]);
    if (damping.length > 0) tell(stiffness[0], damping[0], inputs.mass, context);
    return { shape };
  },
});

/** Steps by element; made once while elements are alike. */
function stepsOf(stiffness: Float32Array, damping: Float32Array, mass: number, seconds: number) {
  let [k, zeta] = [Number.NaN, Number.NaN];
  let step = springStep(1, 1, 0);
  return (i: number) => {
    if (stiffness[i] !== k || damping[i] !== zeta) {
      [k, zeta] = [stiffness[i], damping[i]];
      step = springStep(Math.sqrt(Math.max(0, k) / mass), Math.max(0, zeta), seconds);
    }
    return step;
  };
}

/** How it swings, of the first element. */
function tell(
  stiffness: number,
  damping: number,
  mass: number,
  context: { warn(what: string, details?: { input?: string }): void; note(what: string): void },
): void {
  if (stiffness <= 0) {
    context.warn('"stiffness" is 0, so nothing pulls and everything stays where it began.', {
      input: "stiffness",
    });
    return;
  }
  if (damping <= 0) context.warn('"damping" is 0, so it never settles.', { input: "damping" });
  const swings = Math.sqrt(stiffness / mass) / (2 * Math.PI);
  const over = Math.round(overshootOf(Math.max(0, damping)) * 100);
  context.note(
    over > 0
      ? `It overshoots by ${over} % and swings ${swings.toPrecision(2)} times a second.`
      : "It does not overshoot.",
  );
}
