/** Polygons cut into triangles. */

import earcut from "earcut";
import { tick } from "../cancelling";
import { faceAreaVectors, type Mesh, pointLanes } from "./mesh";

/** Three corner numbers a triangle, faces in order; polygons of five corners or more may be concave. */
export function triangleCorners(mesh: Mesh): Int32Array {
  const out: number[] = [];
  const [x, y, z] = pointLanes(mesh);
  const areas = faceAreaVectors(mesh);
  for (let f = 0; f < mesh.faces.count; f++) {
    tick();
    const start = mesh.faceStarts[f];
    const size = mesh.faceStarts[f + 1] - start;
    if (size <= 4) {
      for (let c = 1; c + 1 < size; c++) out.push(start, start + c, start + c + 1);
      continue;
    }
    const flat: number[] = [];
    const nx = Math.abs(areas[0][f]);
    const ny = Math.abs(areas[1][f]);
    const nz = Math.abs(areas[2][f]);
    // Seen along the axis that the face looks along most, turned so that it stays counter-clockwise.
    const axis = nx > ny && nx > nz ? 0 : ny > nz ? 1 : 2;
    const [u, v] = axis === 0 ? [y, z] : axis === 1 ? [z, x] : [x, y];
    const flip = areas[axis][f] < 0 ? -1 : 1;
    for (let c = 0; c < size; c++) {
      const p = mesh.cornerPoint[start + c];
      flat.push(u[p] * flip, v[p]);
    }
    const cut = earcut(flat);
    for (let t = 0; t < cut.length; t += 3) out.push(start + cut[t], start + cut[t + 1], start + cut[t + 2]);
  }
  return Int32Array.from(out);
}
