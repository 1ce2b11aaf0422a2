import { apply, clamp, constant, divide, mix, subtract, type Value } from "../../fields/expression";
import { bakeProfile, type Profile, STRAIGHT_PROFILE } from "../../maths/profile";
import { defineNode } from "../define";
import { field, out, profile as profileInput } from "../ports";

export const profile = defineNode({
  type: "profile",
  family: "drive",
  title: "Profile",
  about: "Reshapes a number by a curve drawn by hand.",
  synonyms: ["curve", "response", "ease", "reshape", "contrast", "draw", "spline"],
  inputs: {
    value: field.number({ default: 0, soft: [0, 1], about: "What is reshaped." }),
    low: field.number({ default: 0, soft: [-10, 10], about: "Read at the curve's beginning." }),
    high: field.number({ default: 1, soft: [-10, 10], about: "Read at the curve's end." }),
    curve: profileInput({ default: STRAIGHT_PROFILE, about: "The response between low and high." }),
    toLow: field.number({ default: 0, soft: [-10, 10], about: "What the curve's 0 becomes." }),
    toHigh: field.number({ default: 1, soft: [-10, 10], about: "What the curve's 1 becomes." }),
  },
  outputs: { value: out.number("The reshaped number.") },
  fits: { port: "value", side: "input", low: "low", high: "high" },
  summary: ({ low, high }) => `${low} … ${high}`,
  evaluate({ value, low, high, curve, toLow, toHigh }) {
    const t = divide(subtract(value, low), subtract(high, low));
    return { value: mix(toLow, toHigh, profiled(t, curve)) };
  },
});

/** The curve's value at t; beyond 0…1 its ends hold. One that was not drawn on costs no look-up. */
export const profiled = (t: Value, curve: Profile): Value =>
  JSON.stringify(curve) === UNCHANGED
    ? clamp(t, constant(0), constant(1))
    : apply("lookup", [t], { key: JSON.stringify(curve), ...bakeProfile(curve) });

const UNCHANGED = JSON.stringify(STRAIGHT_PROFILE);
