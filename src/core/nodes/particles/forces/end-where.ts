import { apply, constant, positionField, type Value } from "../../../fields/expression";
import { isLess } from "../../../fields/vector-fields";
import { limiting } from "../../../particles/forces";
import { defineNode } from "../../define";
import { choice, field, out, vector } from "../../ports";

export const endWhere = defineNode({
  type: "end-where",
  family: "simulate",
  title: "End where",
  about: "Ends particles where a field says, or outside of a box.",
  synonyms: ["kill", "delete particles", "die", "remove", "bounding box", "cull"],
  inputs: {
    by: choice(["a field", "outside of a box"], { about: "What ends them." }),
    where: field.number({
      default: 0,
      soft: [0, 1],
      shownWhen: { input: "by", is: ["a field"] },
      about: "Ends those where it is above 0.5.",
    }),
    middle: vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      handle: "place",
      shownWhen: { input: "by", is: ["outside of a box"] },
      about: "The box's middle.",
    }),
    size: vector({
      default: [10, 10, 10],
      min: 0,
      soft: [0, 20],
      shownWhen: { input: "by", is: ["outside of a box"] },
      about: "From side to side.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ by }) => String(by),
  evaluate({ by, where, middle, size }) {
    if (by === "a field") return { force: limiting("End where", { ends: where }) };
    const beyond = positionField().map(
      (p, a): Value =>
        isLess(constant(size[a] / 2), apply("absolute", [apply("subtract", [p, constant(middle[a])])])),
    );
    const ends = beyond.reduce((a, b) => apply("maximum", [a, b]));
    return { force: limiting("End where", { ends }) };
  },
});
