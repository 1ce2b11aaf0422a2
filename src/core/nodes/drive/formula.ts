import { apply, constant, type Value, type VectorField, vectorLength } from "../../fields/expression";
import { type Algebra, compileFormula, FUNCTION_NAMES } from "../../formula/compile";
import { FormulaFault, parseFormula } from "../../formula/parse";
import { defineNode, NodeError } from "../define";
import { field, out, text } from "../ports";

const FIELDS: Algebra<Value> = { constant, apply };

/** Numbers and vectors that a formula may name, which are the node's own inputs. */
const number = (name: string) =>
  field.number({ default: 0, soft: [-10, 10], about: `The number "${name}" of the formula.` });

export const formula = defineNode({
  type: "formula",
  family: "drive",
  title: "Formula",
  about: `Arithmetic over its own inputs a, b, c, d, place and v. Knows ${FUNCTION_NAMES.join(", ")}, comparisons, ?:, pi and parts such as place.x; angles are degrees.`,
  synonyms: ["expression", "calculate", "equation", "maths", "code", "function"],
  inputs: {
    formula: text({ default: "sin(place.x * 90) * a", long: true, about: "What is worked out." }),
    a: field.number({ default: 1, soft: [-10, 10], about: 'The number "a" of the formula.' }),
    b: number("b"),
    c: number("c"),
    d: number("d"),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: 'The vector "place"; the element\'s position unless linked.',
    }),
    v: field.vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      unit: "",
      about: 'The vector "v" of the formula.',
    }),
  },
  outputs: {
    value: out.number("The result; the length of a vector."),
    vector: out.vector("The result; a number in all three parts."),
  },
  summary: ({ formula }) => String(formula),
  evaluate({ formula: text, a, b, c, d, place, v }) {
    try {
      const names = { a: [a], b: [b], c: [c], d: [d], place, v };
      const result = compileFormula(parseFormula(text), FIELDS, names);
      if (result.length === 1)
        return { value: result[0], vector: [result[0], result[0], result[0]] as const };
      const vector = result as VectorField;
      return { value: vectorLength(vector), vector };
    } catch (error) {
      if (!(error instanceof FormulaFault)) throw error;
      throw new NodeError(`Character ${error.at + 1}: ${error.message} ${marked(text, error.at)}`, "formula");
    }
  },
});

/** The text around a character, with a mark before it. */
function marked(text: string, at: number): string {
  const from = Math.max(0, at - 16);
  const until = Math.min(text.length, at + 16);
  return `${from > 0 ? "…" : ""}${text.slice(from, at)}▸${text.slice(at, until)}${until < text.length ? "…" : ""}`;
}
