import { areKin, carryAcross as carried, incidence, RULES, withKin } from "../../geometry/across";
import { DOMAIN_NAMES, type DomainName } from "../../geometry/domains";
import { own } from "../../own";
import { defineNode, NodeError } from "../define";
import { withElements } from "../elements";
import { choice, out, shape, text } from "../ports";

const NAMES = DOMAIN_NAMES.filter((name) => name !== "sites") as Exclude<DomainName, "sites">[];

export const carryAcross = defineNode({
  type: "carry-across",
  family: "adjust",
  title: "Carry across",
  about:
    "Takes an attribute from one kind of elements to another of the same shape: from points to faces, from faces to edges.",
  synonyms: [
    "convert",
    "promote",
    "points to faces",
    "faces to points",
    "per face",
    "per edge",
    "attribute",
    "transfer",
  ],
  inputs: {
    shape: shape({ about: "A mesh or curves." }),
    attribute: text({ default: "heat", about: "Which attribute." }),
    from: choice(NAMES, { default: "points", about: "What carries it now." }),
    to: choice(NAMES, { default: "faces", about: "What is to carry it." }),
    rule: choice(RULES, {
      about:
        "What an element gets of those that it belongs with. Whole numbers have no mean and take the first.",
    }),
  },
  outputs: { shape: out.shape("The same, with the attribute on the other elements too.") },
  summary: ({ attribute, from, to }) => `${attribute}, ${from} to ${to}`,
  evaluate({ shape, attribute, from, to, rule }, context) {
    if (from === to) return { shape };
    if (!areKin(from, to))
      throw new NodeError(
        `Values do not go from ${from} to ${to}: a mesh and curves have nothing in common.`,
        "to",
      );
    const source = withKin(shape, from);
    const target = withKin(shape, to);
    if (source.count === 0 || target.count === 0) {
      context.warn(`No ${source.count === 0 ? from : to} arrive, so nothing was changed.`, {
        input: "shape",
      });
      return { shape };
    }
    const column = own(source.columns, attribute);
    if (!column) {
      context.warn(`The ${from} have no attribute "${attribute}", so nothing was changed.`, {
        input: "attribute",
      });
      return { shape };
    }
    const made = carried(column, incidence(shape, from, to), rule);
    return { shape: withElements(shape, { on: to, domain: target }, { [attribute]: made }) };
  },
});
