import { constant, dotProduct, positionField, scaleBy } from "../../../fields/expression";
import { crossed, evenly, less, timesEach } from "../../../fields/vector-fields";
import { normalise } from "../../../maths/vector";
import { dragging } from "../../../particles/forces";
import { defineNode } from "../../define";
import { field, out, vector } from "../../ports";

export const orbit = defineNode({
  type: "orbit",
  family: "simulate",
  title: "Orbit",
  about: "Takes particles around an axis at an even rate, each at the distance that it has.",
  synonyms: ["circle", "revolve", "spin around", "vortex", "planet", "carousel", "whirl"],
  inputs: {
    place: vector({ default: [0, 0, 0], soft: [-5, 5], handle: "place", about: "A place on the axis." }),
    axis: vector({ default: [0, 1, 0], soft: [-1, 1], unit: "", about: "Which way the axis points." }),
    rate: field.angle({ default: 90, about: "Around it in a second." }),
    grip: field.number({ default: 3, min: 0, soft: [0, 15], about: "How soon they go along." }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ rate }) => `${rate}° a second`,
  evaluate({ place, axis, rate, grip }) {
    const along = evenly(normalise(axis));
    const from = less(positionField(), evenly(place));
    const across = less(from, timesEach(along, dotProduct(from, along)));
    const wanted = timesEach(crossed(along, from), rate);
    // What holds them on their circles: ω² r towards the axis.
    const inward = timesEach(across, scaleBy(constant(-1), scaleBy(rate, rate)));
    const air = dragging("Orbit", grip, constant(0), wanted);
    return { force: { ...air, fields: { ...air.fields, push: inward } } };
  },
});
