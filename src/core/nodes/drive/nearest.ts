import {
  apply,
  applyAll,
  constant,
  elementIndex,
  scaleBy,
  type Value,
  type VectorField,
} from "../../fields/expression";
import { freshKey } from "../../fields/fresh-key";
import type { Lane } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import { LazyInside } from "../../spatial/inside";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode, type NodeContext } from "../define";
import { choice, field, integer, out, shape, toggle } from "../ports";
import { closestOn, surfaceTableOf } from "../surface-queries";
import {
  attributeInput,
  attributeOutputs,
  attributeValues,
  NO_VALUES,
  ofElements,
  ofSurface,
} from "./found-attribute";

export const nearest = defineNode({
  type: "nearest",
  family: "drive",
  title: "Nearest",
  about: "The nearest site or point of a shape, or the nearest place on its surface, and how far it is.",
  synonyms: [
    "closest",
    "neighbour",
    "proximity",
    "distance to shape",
    "distance to surface",
    "next to",
    "touching",
  ],
  inputs: {
    shape: shape({ about: "Where it is looked for: its sites, else its points; or its surface." }),
    to: choice(["sites or points", "surface"], { about: "What of the shape counts." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is looked from; the element's position unless linked.",
    }),
    nth: integer({
      default: 1,
      min: 1,
      max: 64,
      soft: [1, 8],
      shownWhen: { input: "to", is: ["sites or points"] },
      about: "1 for the nearest, 2 for the next one, and so on.",
    }),
    own: toggle({
      default: false,
      shownWhen: { input: "to", is: ["sites or points"] },
      about: "The shape is the elements themselves: each leaves itself out.",
    }),
    attribute: attributeInput(
      "An attribute that is read of the nearest one, or where the surface is nearest.",
    ),
  },
  outputs: {
    distance: out.number("Units from here to there."),
    signed: {
      ...out.number("The same, below 0 inside of the surface, which must be closed."),
      label: "signed distance",
    },
    place: out.vector("Where it is."),
    inside: out.number("1 where the element lies inside of the surface, which must be closed; else 0."),
    number: out.number("Which one it is, by its order in the shape; −1 for a surface."),
    ...attributeOutputs("of the nearest", "0 where there is none"),
  },
  summary: ({ to, nth }) =>
    to === "surface" ? "on the surface" : nth === 1 ? "of its sites" : `number ${nth}`,
  evaluate({ shape, to, place, nth, own, attribute }, context) {
    if (to === "surface") {
      const { mesh } = shape;
      const table = surfaceTableOf(mesh, context);
      if (!table || !mesh)
        return nothing(context, "No surface arrives, so the distance is 0 everywhere.", place);
      const carried = ofSurface(mesh, attribute, context);
      const found = closestOn(table, place, carried);
      const inside = apply("within", place, { key: freshKey(), inside: new LazyInside(mesh) });
      const side = apply("subtract", [constant(1), scaleBy(inside, constant(2))]);
      return {
        ...results(found),
        signed: scaleBy(found[0], side),
        inside,
        ...attributeValues(carried, found.slice(5)),
      };
    }
    const among = placesOf(shape);
    if (!among || among.count === 0)
      return nothing(context, "No sites or points arrive, so the distance is 0 everywhere.", place);
    const grid = new PointGrid(among.columns.position.lanes, { findable: true });
    const found = Math.min(nth, own ? among.count - 1 : among.count);
    if (found === 0) return nothing(context, "There is no other one, so the distance is 0.", place);
    if (found < nth)
      context.warn(`There are only ${found} to be found, so the furthest of them is taken.`, {
        input: "nth",
      });
    const data = {
      key: freshKey(),
      grid: grid.address,
      nth: found,
      own,
      lanes: grid.lanes as readonly Lane[],
    };
    const near = results(applyAll("nearest", [...place, elementIndex()], data));
    const carried = ofElements(among, attribute, context);
    const values = applyAll("ofNumber", [near.number], { key: freshKey(), lanes: carried.lanes });
    return { ...near, signed: near.distance, inside: constant(0), ...attributeValues(carried, values) };
  },
});

const results = ([distance, x, y, z, number]: readonly Value[]) => ({
  distance,
  place: [x, y, z] as unknown as VectorField,
  number,
});

function nothing(context: NodeContext, what: string, place: VectorField) {
  context.warn(what, { input: "shape" });
  const none = constant(0);
  return { distance: none, signed: none, place, inside: none, number: constant(-1), ...NO_VALUES };
}
