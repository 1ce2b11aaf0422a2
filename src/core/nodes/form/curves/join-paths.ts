import { joinedEnds } from "../../../curves/join-ends";
import { defineNode } from "../../define";
import { length, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const joinPaths = defineNode({
  type: "join-paths",
  family: "form",
  title: "Join paths",
  about:
    "Open curves whose ends meet become one, turned round where that is needed, and closed where they come back.",
  synonyms: ["connect ends", "weld curves", "chain", "merge curves", "close", "combine strokes"],
  inputs: {
    shape: shape({ about: "Curves." }),
    distance: length({ default: 0.01, min: 0, soft: [0, 0.5], about: "Ends no further apart are joined." }),
  },
  outputs: { shape: out.shape("The joined curves; each has what the first of its pieces has.") },
  summary: ({ distance }) => `within ${distance} units`,
  evaluate({ shape, distance }, context) {
    const curves = pathsOf(shape, "join", context);
    if (!curves) return { shape };
    const made = joinedEnds(curves, distance);
    context.note(
      made.joins === 0
        ? "No ends lie that near."
        : `${curves.curves.count} curves became ${made.curves.curves.count}.`,
    );
    return { shape: { ...shape, curves: made.curves } };
  },
});
