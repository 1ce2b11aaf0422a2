import { constant, type VectorField } from "../../fields/expression";
import { defineNode } from "../define";
import { choice, field, length, out, shape } from "../ports";
import { raysOnto, surfaceTableOf } from "../surface-queries";
import { attributeInput, attributeOutputs, attributeValues, NO_VALUES, ofSurface } from "./found-attribute";

export const castRay = defineNode({
  type: "cast-ray",
  family: "drive",
  title: "Cast ray",
  about:
    "From every element along a direction to a surface: whether it is met, how far away, where, and which way it looks there.",
  synonyms: ["raycast", "intersect", "project", "hit", "shoot", "visible", "line of sight"],
  inputs: {
    shape: shape({ about: "The mesh that is met." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where rays begin; the element's position unless linked.",
    }),
    direction: field.vector({
      default: [0, -1, 0],
      soft: [-1, 1],
      unit: "",
      about: "Where they go; any length.",
    }),
    reach: length({ default: 100, min: 0, soft: [0, 100], about: "How far at most." }),
    sides: choice(["both sides", "the outside only"], { about: "Which sides of the surface stop a ray." }),
    attribute: attributeInput(
      "An attribute of the mesh that is read where it is met, mixed over the triangle.",
    ),
  },
  outputs: {
    hit: out.number("1 where the surface is met, else 0."),
    distance: out.number("How far away; 0 where nothing is met."),
    place: out.vector("Where it is met; the beginning where it is not."),
    facing: out.vector("Which way the surface looks there."),
    ...attributeOutputs("there", "0 where nothing is met"),
  },
  summary: ({ reach }) => `up to ${reach} units`,
  evaluate({ shape, place, direction, reach, sides, attribute }, context) {
    const { mesh } = shape;
    const table = surfaceTableOf(mesh, context);
    if (!table || !mesh) {
      context.warn("No surface arrives, so every ray misses.", { input: "shape" });
      const none = constant(0);
      return { hit: none, distance: none, place, facing: NO_VALUES.vector, ...NO_VALUES };
    }
    const carried = ofSurface(mesh, attribute, context);
    const all = raysOnto(table, place, direction, carried, {
      behind: 0,
      most: reach,
      bothSides: sides === "both sides",
    });
    const [hit, distance, x, y, z, fx, fy, fz] = all;
    return {
      hit,
      distance,
      place: [x, y, z] as VectorField,
      facing: [fx, fy, fz] as VectorField,
      ...attributeValues(carried, all.slice(8)),
    };
  },
});
