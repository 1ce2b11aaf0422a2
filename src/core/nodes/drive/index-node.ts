import { apply, column, constant, divide, elementCount, elementIndex } from "../../fields/expression";
import { defineNode } from "../define";
import { out } from "../ports";

export const indexNode = defineNode({
  type: "index",
  family: "drive",
  title: "Index",
  about: "The number of each element in order, from 0.",
  synonyms: ["order", "number", "id", "count", "every nth", "sequence"],
  inputs: {},
  outputs: {
    index: out.number("0, 1, 2 …"),
    along: out.number("0 for the first, 1 for the last."),
    count: out.number("How many there are."),
    id: out.number("The element's id, which it keeps when others come and go."),
  },
  evaluate() {
    const index = elementIndex();
    const count = elementCount();
    const last = apply("maximum", [apply("subtract", [count, constant(1)]), constant(1)]);
    return { index, along: divide(index, last), count, id: column("id", 0) };
  },
});
