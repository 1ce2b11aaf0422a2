import { vectorLength } from "../../fields/expression";
import { defineNode } from "../define";
import { field, out } from "../ports";

export const splitVector = defineNode({
  type: "split-vector",
  family: "drive",
  title: "Split vector",
  about: "The three numbers of a vector, and its length.",
  synonyms: ["separate", "xyz", "components", "break"],
  inputs: {
    vector: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "The element's position unless linked.",
    }),
  },
  outputs: {
    x: out.number("Along X."),
    y: out.number("Along Y."),
    z: out.number("Along Z."),
    length: out.number("How long it is."),
  },
  evaluate: ({ vector }) => ({ x: vector[0], y: vector[1], z: vector[2], length: vectorLength(vector) }),
});
