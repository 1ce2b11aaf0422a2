import { constant, dotProduct, positionField, type VectorField } from "../../../fields/expression";
import { direction, evenly, less, sum, timesEach } from "../../../fields/vector-fields";
import type { Mesh } from "../../../geometry/mesh";
import { pointNormals } from "../../../geometry/normals";
import { limiting, velocityField } from "../../../particles/forces";
import { defineNode } from "../../define";
import type { Carried } from "../../drive/found-attribute";
import { choice, length, out, shape } from "../../ports";
import { closestOn, surfaceTableOf } from "../../surface-queries";

export const keepOnSurface = defineNode({
  type: "keep-on-surface",
  family: "simulate",
  title: "Keep on surface",
  about: "Holds particles on a surface: they crawl over it, slide along it, or stay where they are on it.",
  synonyms: ["crawl", "slide", "stick", "surface constraint", "walk on", "skin", "cling"],
  inputs: {
    shape: shape({ about: "The mesh." }),
    how: choice(["they slide", "they stay"], { about: "Whether they keep their speed along it." }),
    gap: length({ default: 0, soft: [0, 0.5], about: "How far above it they are held." }),
  },
  outputs: { force: out.force("For Particles, after what moves them.") },
  summary: ({ how }) => String(how),
  evaluate({ shape, how, gap }, context) {
    const { mesh } = shape;
    const table = surfaceTableOf(mesh, context);
    if (!table) {
      context.warn("No mesh arrives, so nothing holds them.", { input: "shape" });
      return { force: limiting("Keep on surface", {}) };
    }
    const looking: Carried = { lanes: pointNormals(mesh as Mesh), kind: "vector", byCorner: false };
    const found = closestOn(table, positionField(), looking);
    const place = found.slice(1, 4) as unknown as VectorField;
    const looks = direction(found.slice(5, 8) as unknown as VectorField);
    const velocity = velocityField();
    const along = less(velocity, timesEach(looks, dotProduct(velocity, looks)));
    return {
      force: limiting("Keep on surface", {
        place: sum(place, timesEach(looks, constant(gap))),
        velocity: how === "they slide" ? along : evenly([0, 0, 0]),
      }),
    };
  },
});
