/** A mesh where its picture has it. */
import { gather, withColumns } from "../../geometry/column";
import { type Mesh, makeMesh } from "../../geometry/mesh";

/** Corners at one point stay together where they lie at one place of the picture. Null when nothing says where they lie. */
export function flatByUvs(mesh: Mesh): Mesh | null {
  const ofCorners = mesh.corners.columns.uv;
  const uv = ofCorners ?? mesh.points.columns.uv;
  if (!uv) return null;
  const at = (c: number, lane: 0 | 1) => uv.lanes[lane][ofCorners ? c : mesh.cornerPoint[c]];
  const numbers = new Map<string, number>();
  const first: number[] = [];
  const cornerPoint = Int32Array.from({ length: mesh.corners.count }, (_, c) => {
    const key = `${mesh.cornerPoint[c]} ${at(c, 0)} ${at(c, 1)}`;
    const known = numbers.get(key);
    if (known !== undefined) return known;
    numbers.set(key, first.length);
    return first.push(c) - 1;
  });
  const made = makeMesh({
    position: [
      Float32Array.from(first, (c) => at(c, 0) - 0.5),
      Float32Array.from(first, (c) => 0.5 - at(c, 1)),
      new Float32Array(first.length),
    ],
    cornerPoint,
    faceStarts: mesh.faceStarts,
  });
  const { normal: _round, ...corners } = mesh.corners.columns;
  const {
    position: _place,
    normal: _facing,
    ...points
  } = gather(
    mesh.points,
    Int32Array.from(first, (c) => mesh.cornerPoint[c]),
  ).columns;
  return {
    ...made,
    points: withColumns(made.points, points),
    corners: { count: mesh.corners.count, columns: corners },
    faces: mesh.faces,
  };
}
