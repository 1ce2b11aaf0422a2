import { constant, positionField, type VectorField } from "../../../fields/expression";
import { evenly, less, timesEach } from "../../../fields/vector-fields";
import { dragging, HOME } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out } from "../../ports";

export const springHome = defineNode({
  type: "spring-home",
  family: "simulate",
  title: "Spring home",
  about: "Draws each particle back to where it was born, or to places that a field says.",
  synonyms: ["return", "rest place", "elastic", "home position", "pull back", "reassemble"],
  inputs: {
    home: field.vector({
      default: [0, 0, 0],
      implicit: HOME,
      about: "Where it is drawn to; where it was born unless linked.",
    }),
    stiffness: field.number({
      default: 8,
      min: 0,
      soft: [0, 40],
      about: "Units a second² for each unit away.",
    }),
    damping: field.number({
      default: 1,
      min: 0,
      soft: [0, 10],
      about: "What part of its speed each loses a second.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ stiffness }) => `stiffness ${stiffness}`,
  evaluate({ home, stiffness, damping }) {
    const push = timesEach(less(home as VectorField, positionField()), stiffness);
    const drag = dragging("Spring home", damping, constant(0), evenly([0, 0, 0]));
    return { force: { ...drag, fields: { ...drag.fields, push } } };
  },
});
