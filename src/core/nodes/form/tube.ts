import { tick } from "../../cancelling";
import { type Column, makeColumn } from "../../geometry/column";
import { type Curves, curveTangents, isClosedCurve } from "../../geometry/curves";
import { steadyNormals } from "../../geometry/frames";
import { type Mesh, makeMesh } from "../../geometry/mesh";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { cosine, sine } from "../../maths/exact";
import { cross, type Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { field, integer, out, shape, toggle } from "../ports";

export const tube = defineNode({
  type: "tube",
  family: "form",
  title: "Tube",
  about: "A skin around curves, as thick at each of their points as asked, that does not twist.",
  synonyms: ["pipe", "sweep", "thicken", "cable", "rope", "stem", "line to mesh", "width"],
  inputs: {
    shape: shape({ about: "Curves." }),
    radius: field.number({
      default: 0.05,
      min: 0,
      soft: [0, 0.5],
      unit: "units",
      about: "From the curve to the skin, at each of its points.",
    }),
    sides: integer({ default: 10, min: 3, max: 256, soft: [3, 32], about: "Faces around." }),
    caps: toggle({ default: true, about: "Closes the ends of open curves." }),
  },
  outputs: { shape: out.shape("The mesh; colours of the curves' points are kept.") },
  summary: ({ sides, radius }) => `${sides} sides, ${radius} units`,
  cost: ({ shape, sides }) => ({ points: (shape.curves?.points.count ?? 0) * sides }),
  evaluate({ shape, radius, sides, caps }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to put a skin around.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    const [thick] = context.run([radius], curves.points);
    const kept = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
      (k) => curves.curveStarts[k + 1] - curves.curveStarts[k] > 1,
    );
    if (kept.length < curves.curves.count)
      context.warn(`${curves.curves.count - kept.length} curves of a single point have no skin.`);
    const mesh = skin(curves, kept, thick, sides, caps);
    return { shape: mesh ? { mesh } : EMPTY_SHAPE };
  },
});

/** Rings of points around every curve, joined by quads. */
function skin(
  curves: Curves,
  kept: readonly number[],
  thick: Float32Array,
  sides: number,
  caps: boolean,
): Mesh | null {
  const lanes = curves.points.columns.position.lanes;
  const tangents = curveTangents(curves);
  const rings = kept.reduce((sum, k) => sum + curves.curveStarts[k + 1] - curves.curveStarts[k], 0);
  if (rings === 0) return null;
  const position = [0, 1, 2].map(() => new Float32Array(rings * sides));
  // The curve's point that each belongs to.
  const origin = new Int32Array(rings * sides);
  const corners: number[] = [];
  const starts: number[] = [0];
  const face = (points: readonly number[]) => {
    corners.push(...points);
    starts.push(corners.length);
  };
  const around = Array.from({ length: sides }, (_, s) => {
    const angle = (s / sides) * 2 * Math.PI;
    return [cosine(angle), sine(angle)] as const;
  });
  let ring = 0;
  for (const k of kept) {
    const first = curves.curveStarts[k];
    const count = curves.curveStarts[k + 1] - first;
    const closed = isClosedCurve(curves, k) && count > 2;
    const normals = steadyNormals(lanes, tangents, first, first + count, closed, [0, 1, 0]);
    const base = ring * sides;
    for (let i = 0; i < count; i++, ring++) {
      tick(sides);
      const normal: Vec3 = [normals[0][i], normals[1][i], normals[2][i]];
      const side = cross([tangents[0][first + i], tangents[1][first + i], tangents[2][first + i]], normal);
      around.forEach(([c, s], j) => {
        const p = ring * sides + j;
        origin[p] = first + i;
        for (let a = 0; a < 3; a++)
          position[a][p] = lanes[a][first + i] + (normal[a] * c + side[a] * s) * thick[first + i];
      });
    }
    const at = (i: number, j: number) => base + (i % count) * sides + (j % sides);
    for (let i = 0; i < (closed ? count : count - 1); i++) {
      tick(sides);
      for (let j = 0; j < sides; j++) face([at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)]);
    }
    if (!closed && caps) {
      const lid = Array.from({ length: sides }, (_, j) => j);
      face(lid.map((j) => at(0, sides - 1 - j)));
      face(lid.map((j) => at(count - 1, j)));
    }
  }
  const color: Column | undefined = curves.points.columns.color;
  const colors = color?.lanes.map((lane) => Float32Array.from(origin, (p) => lane[p]));
  return makeMesh({
    position: [position[0], position[1], position[2]],
    cornerPoint: Int32Array.from(corners),
    faceStarts: Int32Array.from(starts),
    pointColumns: colors && color?.kind === "color" ? { color: makeColumn("color", colors) } : {},
  });
}
