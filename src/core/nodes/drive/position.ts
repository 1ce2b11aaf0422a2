import { column, positionField } from "../../fields/expression";
import { defineNode } from "../define";
import { choice, out } from "../ports";

export const position = defineNode({
  type: "position",
  family: "drive",
  title: "Position",
  about: "Where each element is, or another vector it carries.",
  synonyms: ["place", "location", "xyz", "coordinates", "scale", "normal"],
  inputs: {
    of: choice(["position", "scale", "normal"], { about: "What is read." }),
  },
  outputs: {
    vector: out.vector("The three components."),
    x: out.number("Along X."),
    y: out.number("Along Y."),
    z: out.number("Along Z."),
  },
  summary: ({ of }) => String(of),
  evaluate({ of }) {
    const fallback = of === "scale" ? 1 : 0;
    const vector =
      of === "position"
        ? positionField()
        : ([column(of, 0, fallback), column(of, 1, fallback), column(of, 2, fallback)] as const);
    return { vector, x: vector[0], y: vector[1], z: vector[2] };
  },
});
