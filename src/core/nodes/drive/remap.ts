import { apply, clamp, constant, divide, mix, subtract } from "../../fields/expression";
import { EASES } from "../../maths/ease";
import { defineNode } from "../define";
import { choice, field, out, toggle } from "../ports";

export const remap = defineNode({
  type: "remap",
  family: "drive",
  title: "Remap",
  about: "Moves numbers from one range to another.",
  synonyms: ["range", "fit", "scale value", "map", "normalise", "clamp", "limits"],
  inputs: {
    value: field.number({ default: 0, soft: [-10, 10], about: "What arrives." }),
    fromLow: field.number({ default: 0, soft: [-10, 10], about: "This becomes the new low." }),
    fromHigh: field.number({ default: 1, soft: [-10, 10], about: "This becomes the new high." }),
    toLow: field.number({ default: 0, soft: [-10, 10], about: "The new low." }),
    toHigh: field.number({ default: 1, soft: [-10, 10], about: "The new high." }),
    clip: toggle({ default: true, about: "Keep the result between the new low and high." }),
    ease: choice(EASES, { shownWhen: { input: "clip", is: [true] }, about: "The response between." }),
  },
  outputs: { value: out.number("The moved number.") },
  fits: { port: "value", side: "input", low: "fromLow", high: "fromHigh" },
  summary: ({ fromLow, fromHigh, toLow, toHigh }) => `${fromLow} … ${fromHigh} to ${toLow} … ${toHigh}`,
  evaluate({ value, fromLow, fromHigh, toLow, toHigh, clip, ease }) {
    // A range of no width maps to the new low: the division gives 0.
    const t = divide(subtract(value, fromLow), subtract(fromHigh, fromLow));
    if (!clip) return { value: mix(toLow, toHigh, t) };
    const shaped = apply("ease", [clamp(t, constant(0), constant(1))], { key: ease, ease });
    return { value: mix(toLow, toHigh, shaped) };
  },
});
