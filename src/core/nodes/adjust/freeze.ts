import { column } from "../../fields/expression";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { field, out, shape } from "../ports";

export const freeze = defineNode({
  type: "freeze",
  family: "adjust",
  title: "Freeze",
  about: "Works a value out here and keeps it with each element, however it is moved afterwards.",
  synonyms: ["capture", "hold", "keep value", "before moving", "rest position", "remember", "sample here"],
  inputs: {
    shape: shape({ about: "What carries the values." }),
    on: onElements(),
    number: field.number({ default: 0, soft: [-10, 10], about: "A number to keep." }),
    vector: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "A vector to keep; the place it has here unless linked.",
    }),
  },
  outputs: {
    shape: out.shape("The same, carrying the values."),
    value: out.number("The number as it was here."),
    vector: out.vector("The vector as it was here."),
  },
  evaluate({ shape, on, number, vector }, context) {
    // Named after the node, so that two of them never overwrite each other.
    const name = `frozen_${context.node.replace(/[^A-Za-z0-9]/g, "_")}`;
    const frozen = {
      value: column(name, 0),
      vector: [
        column(`${name}_vector`, 0),
        column(`${name}_vector`, 1),
        column(`${name}_vector`, 2),
      ] as const,
    };
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape: EMPTY_SHAPE, ...frozen };
    const columns = {
      [name]: runColumn("number", [number], elements, context),
      [`${name}_vector`]: runColumn("vector", vector, elements, context),
    };
    return { shape: withElements(shape, elements, columns), ...frozen };
  },
});
