import { tick } from "../../cancelling";
import { makeColumn, makeLanes, withColumns } from "../../geometry/column";
import { mergeShapes } from "../../geometry/merge";
import { isFilled, lanesOf, type Shape, timesTally } from "../../geometry/shape";
import { transformMatrix, transformPoints } from "../../geometry/transform-matrix";
import { defineNode } from "../define";
import { choice, length, out, shape, toggle } from "../ports";

const AXIS = { x: 0, y: 1, z: 2 } as const;

export const mirror = defineNode({
  type: "mirror",
  family: "form",
  title: "Mirror",
  about: "The other side of a shape, as seen in a mirror across an axis.",
  synonyms: ["flip", "symmetry", "reflect", "symmetric"],
  inputs: {
    shape: shape({ about: "What is mirrored." }),
    across: choice(["x", "y", "z"], { about: "The axis the mirror stands across." }),
    at: length({ default: 0, soft: [-5, 5], about: "Where on that axis." }),
    keep: toggle({ default: true, about: "Keep the original beside its mirror image." }),
  },
  outputs: { shape: out.shape("Both sides, or only the mirrored one.") },
  summary: ({ across }) => `across ${across}`,
  cost: ({ shape, keep }) => timesTally([shape], keep ? 2 : 1),
  evaluate({ shape, across, at, keep }, context) {
    if (!isFilled(shape)) context.warn("Nothing arrives, so there is nothing to mirror.", { input: "shape" });
    const mirrored = reflected(shape, AXIS[across], at);
    return { shape: keep ? mergeShapes([shape, mirrored]) : mirrored };
  },
});

/** Points by the reflection; sites keep a rotation and mirror their own x axis, so that clones come out mirrored. */
function reflected(shape: Shape, axis: number, at: number): Shape {
  const matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
  matrix[axis * 5] = -1;
  matrix[12 + axis] = 2 * at;
  const { mesh, curves, sites } = shape;
  const own: Shape = {
    ...shape,
    ...(mesh ? { mesh: transformMatrix(mesh, matrix) } : {}),
    ...(curves ? { curves: { ...curves, points: transformPoints(curves.points, matrix) } } : {}),
  };
  if (!sites) return own;
  const position = makeLanes("vector", sites.count);
  const rotation = makeLanes("rotation", sites.count);
  const scale = makeLanes("vector", sites.count);
  const q = lanesOf(sites, "rotation", "rotation").lanes;
  const s = lanesOf(sites, "scale", "vector").lanes;
  for (let i = 0; i < sites.count; i++) {
    tick(8);
    for (let a = 0; a < 3; a++) {
      const p = sites.columns.position.lanes[a][i];
      position[a][i] = a === axis ? 2 * at - p : p;
      scale[a][i] = s ? s[a][i] : 1;
    }
    const [x, y, z, w] = q ? q.map((lane) => lane[i]) : [0, 0, 0, 1];
    // M·R = (M·R·M)·M: the conjugated rotation keeps the mirrored axis' component and flips the other two,
    // and the mirror that is left flips the same own axis.
    const flip = (a: number, v: number) => (a === axis ? v : -v);
    [flip(0, x), flip(1, y), flip(2, z), w].forEach((v, l) => {
      rotation[l][i] = v;
    });
    scale[axis][i] = -scale[axis][i];
  }
  const columns = {
    position: makeColumn("vector", position),
    rotation: makeColumn("rotation", rotation),
    scale: makeColumn("vector", scale),
  };
  return { ...own, sites: withColumns(sites, columns) };
}
