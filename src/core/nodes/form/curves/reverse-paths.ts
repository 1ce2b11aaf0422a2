import { reversed } from "../../../curves/own-points";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const reversePaths = defineNode({
  type: "reverse-paths",
  family: "form",
  title: "Reverse paths",
  about: "Curves the other way round: what begins at one end begins at the other.",
  synonyms: ["flip direction", "backwards", "invert", "turn around", "start end"],
  inputs: {
    shape: shape({ about: "Curves." }),
    where: field.number({ default: 1, soft: [0, 1], about: "Only curves where this is above 0.5." }),
  },
  outputs: { shape: out.shape("The curves; closed ones begin where they did.") },
  evaluate({ shape, where }, context) {
    const curves = pathsOf(shape, "reverse", context);
    if (!curves) return { shape };
    const [chosen] = context.run([where], curves.curves);
    return { shape: { ...shape, curves: reversed(curves, chosen) } };
  },
});
