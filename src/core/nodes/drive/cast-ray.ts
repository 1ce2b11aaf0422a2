import { applyAll, type ColorField, constant, type VectorField } from "../../fields/expression";
import type { Lane } from "../../geometry/column";
import type { Shape } from "../../geometry/shape";
import { SurfaceTree } from "../../spatial/surface-tree";
import { defineNode, type NodeContext } from "../define";
import { choice, field, length, out, shape, text } from "../ports";
import { freshKey } from "./structure-key";

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
    attribute: text({
      default: "color",
      about: "An attribute of the mesh's points that is read where it is met, mixed over the triangle.",
    }),
  },
  outputs: {
    hit: out.number("1 where the surface is met, else 0."),
    distance: out.number("How far away; 0 where nothing is met."),
    place: out.vector("Where it is met; the beginning where it is not."),
    facing: out.vector("Which way the surface looks there."),
    value: out.number("The attribute there, its first component; 0 where nothing is met."),
    vector: out.vector("The attribute there as a vector."),
    color: out.color("The attribute there as a colour."),
  },
  summary: ({ reach }) => `up to ${reach} units`,
  evaluate({ shape, place, direction, reach, sides, attribute }, context) {
    const tree = context.reuse<SurfaceTree | null>((before) =>
      shape.mesh ? SurfaceTree.of(shape.mesh, before) : null,
    );
    if (!tree) {
      context.warn("No surface arrives, so every ray misses.", { input: "shape" });
      const none = constant(0);
      const nowhere: VectorField = [none, none, none];
      const color: ColorField = [none, none, none, none];
      return { hit: none, distance: none, place, facing: nowhere, value: none, vector: nowhere, color };
    }
    const lanes = attributeOf(shape, attribute, context);
    const data = { key: freshKey(), tree, most: reach, bothSides: sides === "both sides", lanes };
    const all = applyAll("castRay", [...place, ...direction], data);
    const [hit, distance, x, y, z, fx, fy, fz, first, second, third, fourth] = all;
    return {
      hit,
      distance,
      place: [x, y, z] as VectorField,
      facing: [fx, fy, fz] as VectorField,
      value: first,
      vector: [first, second, third] as VectorField,
      color: [first, second, third, lanes.length > 3 ? fourth : constant(1)] as ColorField,
    };
  },
});

/** Lanes of a column of the mesh's points; none when it has no such one, which is told unless it is what stands there by default. */
function attributeOf({ mesh }: Shape, attribute: string, context: NodeContext): readonly Lane[] {
  const column = mesh?.points.columns[attribute.trim()];
  if (!column && attribute.trim() !== "" && attribute.trim() !== "color")
    context.warn(`The mesh's points have no attribute "${attribute.trim()}", so it is 0.`, {
      input: "attribute",
    });
  return column?.lanes ?? [];
}
