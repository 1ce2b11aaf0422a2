/** A surface within a closed curve that need not be flat, as a film of soap would lie in it. */

import { AlongCurves } from "../curves/along-curves";
import { makeColumn, withColumns } from "../geometry/column";
import { type Curves, isClosedCurve } from "../geometry/curves";
import { areaVector, type Mesh, makeMesh, pointLanes, withPoints } from "../geometry/mesh";
import { MixtureWriter, mixed } from "../geometry/mixture";
import { normalise } from "../maths/vector";
import { smoothed } from "../meshes/smooth";
import { FacesOfRows } from "./rows";
import { onPath } from "./without-path";

/** Rounds of evening out for each ring: what is left of a wrinkle after that is not seen. */
const ROUNDS = 12;

/**
 * Rings around a middle, inside every closed curve of three points and more; null without any.
 * @param rings how many
 * @param bulge units by which the middle stands out along what the curve encloses
 */
export function patch(curves: Curves, rings: number, bulge: number): Mesh[] {
  const meshes: Mesh[] = [];
  const along = new AlongCurves(curves);
  for (let k = 0; k < along.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    if (!isClosedCurve(curves, k) || end - first < 3) continue;
    meshes.push(domed(film(curves, first, end - first, rings, along.partsOfPoints(k)), rings, bulge));
  }
  return meshes;
}

/** Points ring by ring from the outline inwards, the middle last. */
function film(curves: Curves, first: number, count: number, rings: number, parts: readonly number[]): Mesh {
  const outline = new MixtureWriter(count + 1);
  for (let i = 0; i < count; i++) outline.same(first + i);
  for (let i = 0; i < count; i++) outline.add(first + i, 1 / count);
  outline.next();
  const withMiddle = mixed(onPath(curves.points), outline.done());
  const inwards = new MixtureWriter(rings * count + 1);
  for (let r = 0; r < rings; r++)
    for (let j = 0; j < count; j++) {
      inwards.add(j, 1 - r / rings);
      if (r > 0) inwards.add(count, r / rings);
      inwards.next();
    }
  inwards.same(count);
  const { columns: made } = mixed(withMiddle, inwards.done());
  const faces = new FacesOfRows();
  faces.add({
    rows: rings + 1,
    size: count,
    around: true,
    along: false,
    u: Float64Array.from({ length: rings + 1 }, (_, r) => r / rings),
    v: [...parts, 1],
    at: (i, j) => (i === rings ? rings * count : i * count + j),
  });
  const { position, ...others } = made;
  const mesh = makeMesh({
    position: position.lanes as [Float32Array, Float32Array, Float32Array],
    ...faces.parts,
    pointColumns: others,
  });
  const amount = new Float32Array(mesh.points.count).fill(1);
  return smoothed(mesh, { how: "shrinks", rounds: rings * ROUNDS, amount, keepsBorders: true });
}

/** Lifted as the cap of a paraboloid. */
function domed(mesh: Mesh, rings: number, bulge: number): Mesh {
  if (bulge === 0) return mesh;
  const count = (mesh.points.count - 1) / rings;
  const lanes = pointLanes(mesh);
  const outline = Int32Array.from({ length: count }, (_, j) => j);
  const way = normalise(areaVector(outline, 0, count, lanes));
  const position = lanes.map((lane, a) =>
    lane.map((value, p) => {
      const out = 1 - Math.floor(p / count) / rings;
      return value + way[a] * bulge * (1 - out * out);
    }),
  );
  return withPoints(mesh, withColumns(mesh.points, { position: makeColumn("vector", position) }));
}
