/** Vertices as other programs have them: a point together with what its corners carry. */
import type { Mesh } from "../geometry/mesh";
import { topologyOf } from "../geometry/topology";

/** The corners that differ from others at their point, and which of them each corner is like. */
export function verticesOf(mesh: Mesh): {
  readonly vertices: readonly number[];
  readonly ofCorner: Int32Array;
} {
  const { starts, items } = topologyOf(mesh).cornersOfPoints;
  const { normal: _facing, ...columns } = mesh.corners.columns;
  const lanes = Object.values(columns).flatMap((column) => column.lanes);
  const vertices: number[] = [];
  const ofCorner = new Int32Array(mesh.corners.count);
  for (let p = 0; p + 1 < starts.length; p++) {
    const first = vertices.length;
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const c = items[k];
      let v = first;
      while (v < vertices.length && lanes.some((lane) => lane[vertices[v]] !== lane[c])) v++;
      if (v === vertices.length) vertices.push(c);
      ofCorner[c] = v;
    }
  }
  return { vertices, ofCorner };
}
