import { own } from "../../own";
import { isAttributeName } from "../attribute-name";
import { defineNode, NodeError } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { choice, field, out, shape, text } from "../ports";

/** Attributes with a meaning of their own may only be stored as what they are. */
const KINDS: Readonly<Record<string, string>> = {
  position: "vector",
  scale: "vector",
  normal: "vector",
  velocity: "vector",
  color: "colour",
  turn: "rotation",
};
const RESERVED = new Set(["rotation", "id", "source", "uv"]);

export const storeAttribute = defineNode({
  type: "store-attribute",
  family: "adjust",
  title: "Name a value",
  about: "Keeps a value with each element under a name, as it is here.",
  synonyms: ["store attribute", "freeze", "save", "write", "capture", "remember", "property"],
  inputs: {
    shape: shape({ about: "What carries the value." }),
    on: onElements(),
    name: text({ default: "heat", about: "The attribute's name." }),
    kind: choice(["number", "vector", "colour", "rotation"], { about: "What is stored." }),
    number: field.number({
      default: 0,
      soft: [-10, 10],
      shownWhen: { input: "kind", is: ["number"] },
      about: "The number.",
    }),
    vector: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      shownWhen: { input: "kind", is: ["vector"] },
      about: "The vector.",
    }),
    color: field.color({
      default: "#f0b03a",
      shownWhen: { input: "kind", is: ["colour"] },
      about: "The colour.",
    }),
    rotation: field.rotation({
      shownWhen: { input: "kind", is: ["rotation"] },
      about: "The rotation; Orient reads it under the name turn.",
    }),
  },
  keepsHandles: true,
  outputs: { shape: out.shape("The same, with the attribute.") },
  summary: ({ name, kind }) => `${kind} as ${name}`,
  overrides: ({ on, name }) => (on === "what is there" ? [String(name)] : []),
  evaluate({ shape, on, name, kind, number, vector, color, rotation }, context) {
    if (!isAttributeName(name) || RESERVED.has(name)) {
      throw new NodeError(
        `"${name}" cannot be stored: letters, digits and _ only, and not ${[...RESERVED].join(", ")}.`,
        "name",
        {
          label: 'Set "name" to heat',
          input: "name",
          value: "heat",
        },
      );
    }
    const fixed = own(KINDS, name);
    if (fixed && fixed !== kind) {
      throw new NodeError(`"${name}" is a ${fixed}, not a ${kind}.`, "kind", {
        label: `Set "kind" to ${fixed}`,
        input: "kind",
        value: fixed,
      });
    }
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const column =
      kind === "number"
        ? runColumn("number", [number], elements, context)
        : kind === "vector"
          ? runColumn("vector", vector, elements, context)
          : kind === "colour"
            ? runColumn("color", color, elements, context)
            : runColumn("rotation", rotation, elements, context);
    return { shape: withElements(shape, elements, { [name]: column }) };
  },
});
