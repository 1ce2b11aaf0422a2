import {
  add,
  column,
  constant,
  positionField,
  scaleBy,
  subtract,
  type VectorField,
} from "../../../fields/expression";
import { ownRotation, turned } from "../../adjust/own-frame";
import { defineNode } from "../../define";
import { elementsOf } from "../../elements";
import { choice, field, number, out, shape } from "../../ports";
import { deformed } from "./along";

export const displace = defineNode({
  type: "displace",
  family: "form",
  title: "Displace",
  about:
    "Pushes a surface out and in along its own facings, or along a direction, by a field: dents, bumps, reliefs.",
  synonyms: ["bump", "relief", "dent", "push", "height", "emboss", "inflate", "deform", "noise surface"],
  inputs: {
    shape: shape({ about: "A mesh; clones go the way they face, curves along the direction only." }),
    by: choice(["facings", "a direction"], { label: "along", about: "Which way each point goes." }),
    direction: field.vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      shownWhen: { input: "by", is: ["a direction"] },
      about: "Which way, and how far for a distance of 1.",
    }),
    distance: field.number({
      default: 0.2,
      soft: [-1, 1],
      unit: "units",
      about: "How far at each point; link a field here.",
    }),
    zero: number({
      default: 0,
      soft: [0, 1],
      about: "The distance that leaves a point where it is: 0.5 for what runs from 0 to 1 to push both ways.",
    }),
    amount: field.number({ default: 1, soft: [0, 1], about: "Times the distance; link a mask here." }),
  },
  outputs: { shape: out.shape("The same, displaced.") },
  summary: ({ by }) => `along ${by}`,
  evaluate({ shape, by, direction, distance, zero, amount }, context) {
    if (!elementsOf(shape, context)) return { shape };
    const far = scaleBy(subtract(distance, constant(zero)), amount);
    const front: VectorField = [constant(0), constant(0), constant(1)];
    const facing: VectorField = shape.sites
      ? turned(ownRotation(), front)
      : ([0, 1, 2].map((a) => column("normal", a)) as unknown as VectorField);
    const way = by === "facings" ? facing : direction;
    const position = positionField().map((p, a) => add(p, scaleBy(way[a], far))) as unknown as VectorField;
    return { shape: deformed(shape, { position }, context) };
  },
});
