import { gather } from "../../geometry/column";
import type { Curves } from "../../geometry/curves";
import type { Mesh } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { facesOfPoints, keepCurvePoints, keepCurves, keepFaces, numbersWhere } from "../../geometry/subset";
import { defineNode } from "../define";
import { type Elements, elementsOf, onElements } from "../elements";
import { field, out, shape, toggle } from "../ports";

export const keep = defineNode({
  type: "keep",
  family: "adjust",
  title: "Keep",
  about: "Keeps the clones, points, faces or curves for which a condition holds and leaves the others out.",
  synonyms: ["filter", "remove", "delete", "cull", "hide", "every nth", "leave out"],
  inputs: {
    shape: shape({ about: "Clones, sites, a mesh or curves." }),
    on: onElements(
      ["sites", "points", "faces", "curve points", "curves"],
      "What is kept: sites, else points, unless others are named. A face is kept with all of its points; a curve is cut where points are left out.",
    ),
    when: field.number({ default: 1, soft: [0, 1], about: "Kept above 0.5; link a comparison here." }),
    invert: toggle({ default: false, about: "Keep the others instead." }),
  },
  outputs: { shape: out.shape("Those that are kept, with their ids.") },
  evaluate({ shape, on, when, invert }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const [condition] = context.run([when], elements.domain);
    const isKept = (i: number) => condition[i] > 0.5 !== invert;
    const kept = numbersWhere(elements.domain.count, isKept);
    if (kept.length === elements.domain.count) return { shape };
    if (kept.length === 0)
      context.warn("The condition holds for none, so nothing is kept.", { input: "when" });
    return { shape: reduced(shape, elements, kept, isKept) };
  },
});

function reduced(
  shape: Shape,
  { on, domain }: Elements,
  kept: Int32Array,
  isKept: (i: number) => boolean,
): Shape {
  if (on === "sites") {
    if (kept.length > 0) return { ...shape, sites: gather(domain, kept) };
    const { sites: _all, sources: _unused, ...rest } = shape;
    return rest;
  }
  if (on === "points" || on === "faces") {
    const mesh = shape.mesh as Mesh;
    const made = keepFaces(mesh, on === "faces" ? kept : facesOfPoints(mesh, isKept));
    const { mesh: _whole, ...rest } = shape;
    return made.faces.count > 0 ? { ...rest, mesh: made } : rest;
  }
  const curves = shape.curves as Curves;
  const made = on === "curves" ? keepCurves(curves, kept) : keepCurvePoints(curves, isKept);
  const { curves: _whole, ...rest } = shape;
  return made.points.count > 0 ? { ...rest, curves: made } : rest;
}
