import {
  add,
  clamp,
  constant,
  divide,
  mix,
  positionField,
  scaleBy,
  subtract,
  type VectorField,
} from "../../../fields/expression";
import { defineNode } from "../../define";
import { elementsOf, placedCount } from "../../elements";
import { field, length, out, shape } from "../../ports";
import { closestOn, NOTHING_CARRIED, surfaceTableOf } from "../../surface-queries";
import { deformed } from "./along";

export const shrinkOnto = defineNode({
  type: "shrink-onto",
  family: "form",
  title: "Shrink onto",
  about: "Draws a shape onto a surface, each point to the nearest place on it: wrappers, skins, snow.",
  synonyms: ["wrap", "shrink", "project", "cling film", "conform", "stick to", "snap to surface"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    onto: shape({ about: "The mesh that it is drawn onto." }),
    gap: length({
      default: 0,
      min: 0,
      soft: [0, 0.5],
      about: "How far from the surface it stays, on the side that it comes from.",
    }),
    amount: field.number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "How far of the way; link a mask here.",
    }),
  },
  outputs: { shape: out.shape("The same, drawn onto the surface.") },
  summary: ({ gap }) => (Number(gap) > 0 ? `${gap} units off` : "right onto it"),
  cost: ({ shape }) => ({ milliseconds: placedCount(shape) * 0.002 }),
  evaluate({ shape, onto, gap, amount }, context) {
    if (!elementsOf(shape, context)) return { shape };
    const { mesh } = onto;
    const table = surfaceTableOf(mesh, context);
    if (!table) {
      context.warn("No surface arrives, so nothing is drawn onto it.", { input: "onto" });
      return { shape };
    }
    const from = positionField();
    const [distance, ...place] = closestOn(table, from, NOTHING_CARRIED);
    // A point that is nearer than the gap stays on its way at the gap; one on the surface has no way, and stays.
    const back = divide(constant(gap), distance);
    const position = from.map((p, a) => {
      const to = add(place[a], scaleBy(subtract(p, place[a]), back));
      return mix(p, to, clamp(amount, constant(0), constant(1)));
    }) as unknown as VectorField;
    return { shape: deformed(shape, { position }, context) };
  },
});
