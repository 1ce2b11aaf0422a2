import { column } from "../../fields/expression";
import { isAttributeName } from "../attribute-name";
import { defineNode, NodeError } from "../define";
import { number, out, text } from "../ports";

export const attribute = defineNode({
  type: "attribute",
  family: "drive",
  title: "Attribute",
  about: "A named value that the elements carry, such as `size` or `along`.",
  synonyms: ["read", "property", "data", "size", "along", "color", "stored"],
  inputs: {
    name: text({ default: "along", about: "The attribute's name." }),
    fallback: number({ default: 0, soft: [-10, 10], about: "Used where elements do not have it." }),
  },
  outputs: {
    value: out.number("Its number, or the first component."),
    vector: out.vector("Its first three components."),
    color: out.color("Its four components."),
  },
  summary: ({ name }) => String(name),
  evaluate({ name, fallback }) {
    if (!isAttributeName(name)) {
      throw new NodeError(
        `"${name}" is no attribute name: letters, digits and _ only, beginning with a letter.`,
        "name",
        {
          label: 'Set "name" to along',
          input: "name",
          value: "along",
        },
      );
    }
    const lane = (l: number) => column(name, l, fallback);
    return {
      value: lane(0),
      vector: [lane(0), lane(1), lane(2)] as const,
      color: [lane(0), lane(1), lane(2), lane(3)] as const,
    };
  },
});
