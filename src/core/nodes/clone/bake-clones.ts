import { tick } from "../../cancelling";
import { type DrawBatch, drawingOf } from "../../draw/drawing";
import { flipped } from "../../geometry/cleanup";
import { makeColumn, makeLanes, withColumns } from "../../geometry/column";
import { mergeMeshes } from "../../geometry/merge";
import { type Mesh, pointLanes, withPoints } from "../../geometry/mesh";
import { EMPTY_SHAPE, isFilled, type Shape, tallyOf } from "../../geometry/shape";
import { lengthOf } from "../../maths/exact";
import { cofactorMatrix } from "../../maths/matrix";
import { defineNode } from "../define";
import { out, shape } from "../ports";

export const bakeClones = defineNode({
  type: "bake-clones",
  family: "clone",
  title: "Bake clones",
  about: "Makes real geometry of clones: one mesh, in which every copy can be changed point by point.",
  synonyms: ["real", "flatten", "collapse", "make mesh", "expand", "join"],
  inputs: { shape: shape({ about: "Clones, to any depth." }) },
  outputs: { shape: out.shape("One mesh; `copy` is the number of the clone that a face is of.") },
  cost: ({ shape }) => ({ points: countIn(shape, "points"), faces: countIn(shape, "faces") }),
  evaluate({ shape }, context) {
    if (!isFilled(shape)) {
      context.warn("Nothing arrives, so there is nothing to bake.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    const { batches, lines } = drawingOf(shape);
    if (lines) context.warn(`${lines.count} line pieces of curves are left out: only meshes are baked.`);
    const meshes: Mesh[] = [];
    let copy = 0;
    for (const batch of batches) for (let i = 0; i < batch.count; i++) meshes.push(placed(batch, i, copy++));
    const mesh = mergeMeshes(meshes);
    return { shape: mesh ? { mesh } : EMPTY_SHAPE };
  },
});

/** Points or faces of all copies at most: every site taken for the largest of its sources. */
function countIn(shape: Shape, what: "points" | "faces"): number {
  const own = tallyOf(shape)[what];
  const largest = (shape.sources ?? []).reduce((most, source) => Math.max(most, countIn(source, what)), 0);
  return own + (shape.sites?.count ?? 0) * largest;
}

/** One copy as a mesh where it stands, in its colour. */
function placed({ mesh, matrices, colors }: DrawBatch, i: number, copy: number): Mesh {
  const m = matrices.subarray(i * 16, i * 16 + 16);
  const [x, y, z] = pointLanes(mesh);
  const { count } = mesh.points;
  const place = makeLanes("vector", count) as Float32Array[];
  for (let p = 0; p < count; p++) {
    tick(2);
    for (let a = 0; a < 3; a++) place[a][p] = m[a] * x[p] + m[4 + a] * y[p] + m[8 + a] * z[p] + m[12 + a];
  }
  const old = mesh.points.columns.color?.lanes;
  const color = makeLanes("color", count) as Float32Array[];
  color.forEach((lane, l) => {
    for (let p = 0; p < count; p++) lane[p] = (old?.[l][p] ?? 1) * colors[i * 4 + l];
  });
  const points = withColumns(mesh.points, {
    position: makeColumn("vector", place),
    color: makeColumn("color", color),
  });
  const cofactors = cofactorMatrix(m, 0);
  // A mirrored copy would be seen from inside.
  const isMirrored = m[0] * cofactors[0] + m[1] * cofactors[1] + m[2] * cofactors[2] < 0;
  const moved = withPoints(isMirrored ? flipped(mesh) : mesh, points);
  const faces = withColumns(moved.faces, {
    copy: makeColumn("integer", [new Int32Array(mesh.faces.count).fill(copy)]),
  });
  const normal = moved.corners.columns.normal?.lanes;
  if (!normal) return { ...moved, faces };
  const corners = withColumns(moved.corners, {
    normal: makeColumn("vector", turnedNormals(normal, cofactors)),
  });
  return { ...moved, faces, corners };
}

/** By the matrix of cofactors, which keeps them at right angles to the surface however it is stretched. */
function turnedNormals(normal: readonly ArrayLike<number>[], cofactors: readonly number[]): Float32Array[] {
  const out = makeLanes("vector", normal[0].length) as Float32Array[];
  for (let i = 0; i < normal[0].length; i++) {
    tick(4);
    const n = [0, 1, 2].map(
      (a) => cofactors[a] * normal[0][i] + cofactors[3 + a] * normal[1][i] + cofactors[6 + a] * normal[2][i],
    );
    const size = lengthOf(n[0], n[1], n[2]) || 1;
    for (let a = 0; a < 3; a++) out[a][i] = n[a] / size;
  }
  return out;
}
