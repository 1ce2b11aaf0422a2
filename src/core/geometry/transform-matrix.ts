/** Meshes and points under a 4×4 matrix (column-major). */
import { lengthOf } from "../maths/exact";
import { type Domain, makeColumn, makeLanes, withColumns } from "./column";
import { type Mesh, withPoints } from "./mesh";
import { edgesCarried } from "./topology";

/** Positions by the matrix, normals by its inverse transpose; a mirroring matrix turns the faces round. */
export function transformMatrix(mesh: Mesh, m: readonly number[]): Mesh {
  if (m.every((v, i) => v === (i % 5 === 0 ? 1 : 0))) return mesh;
  const moved = withPoints(mesh, transformPoints(mesh.points, m));
  // The cofactors are the inverse transpose times the determinant; the length is normalised away.
  const cofactor = (r: number, c: number): number => {
    const [r1, r2] = [(r + 1) % 3, (r + 2) % 3];
    const [c1, c2] = [(c + 1) % 3, (c + 2) % 3];
    return m[c1 * 4 + r1] * m[c2 * 4 + r2] - m[c2 * 4 + r1] * m[c1 * 4 + r2];
  };
  const determinant = m[0] * cofactor(0, 0) + m[4] * cofactor(0, 1) + m[8] * cofactor(0, 2);
  const { normal } = mesh.corners.columns;
  let corners = moved.corners;
  if (normal) {
    const lanes = makeLanes("vector", mesh.corners.count);
    const sign = determinant < 0 ? -1 : 1;
    for (let i = 0; i < mesh.corners.count; i++) {
      const n = [0, 1, 2].map(
        (r) =>
          sign *
          (cofactor(r, 0) * normal.lanes[0][i] +
            cofactor(r, 1) * normal.lanes[1][i] +
            cofactor(r, 2) * normal.lanes[2][i]),
      );
      const length = lengthOf(n[0], n[1], n[2]) || 1;
      for (let a = 0; a < 3; a++) lanes[a][i] = n[a] / length;
    }
    corners = withColumns(corners, { normal: makeColumn("vector", lanes) });
  }
  const placed = { ...moved, corners };
  return determinant < 0 ? turnedRound(placed) : placed;
}

/** A domain with its positions by the matrix. */
export function transformPoints(points: Domain, m: readonly number[]): Domain {
  const [x, y, z] = points.columns.position.lanes;
  const position = makeLanes("vector", points.count);
  for (let i = 0; i < points.count; i++) {
    for (let a = 0; a < 3; a++) position[a][i] = m[a] * x[i] + m[a + 4] * y[i] + m[a + 8] * z[i] + m[a + 12];
  }
  return withColumns(points, { position: makeColumn("vector", position) });
}

/** The same faces with their corners in the opposite order. */
export function turnedRound(mesh: Mesh): Mesh {
  const order = new Int32Array(mesh.corners.count);
  for (let f = 0; f < mesh.faces.count; f++) {
    const start = mesh.faceStarts[f];
    const end = mesh.faceStarts[f + 1];
    for (let c = start; c < end; c++) order[c] = end - 1 - (c - start);
  }
  const columns = Object.fromEntries(
    Object.entries(mesh.corners.columns).map(([name, column]) => {
      const lanes = makeLanes(column.kind, mesh.corners.count);
      lanes.forEach((lane, l) => {
        for (let c = 0; c < order.length; c++) lane[c] = column.lanes[l][order[c]];
      });
      return [name, { kind: column.kind, lanes }];
    }),
  );
  const turned: Mesh = {
    ...mesh,
    cornerPoint: Int32Array.from(order, (c) => mesh.cornerPoint[c]),
    corners: { count: mesh.corners.count, columns },
  };
  return mesh.edges ? { ...turned, edges: edgesCarried(mesh, turned, order) } : turned;
}
