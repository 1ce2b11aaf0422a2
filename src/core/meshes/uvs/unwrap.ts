/** A mesh taken apart along seams and laid flat. */
import { makeColumn, withColumns } from "../../geometry/column";
import { type Mesh, makeMesh, pointLanes } from "../../geometry/mesh";
import { topologyOf } from "../../geometry/topology";
import { triangleCorners } from "../../geometry/triangles";
import type { Vec3 } from "../../maths/vector";
import { chartsOf } from "./charts";
import { flattened } from "./flatten";
import { packed } from "./pack";
import { withUvs } from "./project";
import { straightened } from "./straighten";

/** Attribute of faces: the number of the island that they are on. */
export const ISLAND = "island";

export interface Unwrapped {
  readonly mesh: Mesh;
  /** The islands as they lie: a mesh from −0.5 to 0.5, facing z. */
  readonly flat: Mesh;
  readonly islands: number;
  /** Part of the picture that is covered. */
  readonly covered: number;
  /** Triangles that lie upside down. */
  readonly folded: number;
}

export interface Unwrapping {
  /** By edge. */
  readonly isSeam: Uint8Array;
  /** As `chartsOf` has it. */
  readonly spread: number;
  /** As `packed` has it. */
  readonly gap: number;
  /** Islands whose faces are rows and columns are laid flat as such. */
  readonly straight: boolean;
}

export function unwrapped(mesh: Mesh, { isSeam, spread, gap, straight }: Unwrapping): Unwrapped {
  const { of, count } = chartsOf(mesh, isSeam, spread);
  const { faceOfCorner } = topologyOf(mesh);
  const triangles = triangleCorners(mesh);
  const numbers: Map<number, number>[] = Array.from({ length: count }, () => new Map());
  const ofCorner = new Int32Array(mesh.corners.count);
  for (let c = 0; c < ofCorner.length; c++) {
    const own = numbers[of[faceOfCorner[c]]];
    const p = mesh.cornerPoint[c];
    if (!own.has(p)) own.set(p, own.size);
    ofCorner[c] = own.get(p) as number;
  }
  const whole: number[][][] = Array.from({ length: count }, () => []);
  for (let f = 0; straight && f < mesh.faces.count; f++)
    whole[of[f]].push(Array.from(ofCorner.subarray(mesh.faceStarts[f], mesh.faceStarts[f + 1])));
  const cut: number[][] = Array.from({ length: count }, () => []);
  for (const c of triangles) cut[of[faceOfCorner[c]]].push(ofCorner[c]);
  const lanes = pointLanes(mesh);
  const islands = packed(
    numbers.map((own, chart) => {
      const places = Array.from(own.keys(), (p): Vec3 => [lanes[0][p], lanes[1][p], lanes[2][p]]);
      const rows = straight ? straightened(places, whole[chart]) : null;
      return rows ?? flattened({ places, triangles: Int32Array.from(cut[chart]) });
    }),
    gap,
  );
  const u = Float32Array.from(ofCorner, (i, c) => islands[of[faceOfCorner[c]]][2 * i]);
  const v = Float32Array.from(ofCorner, (i, c) => 1 - islands[of[faceOfCorner[c]]][2 * i + 1]);
  const laid = withUvs(mesh, u, v);
  const areas = areasOf(islands, cut);
  return {
    mesh: { ...laid, faces: withColumns(laid.faces, { [ISLAND]: makeColumn("integer", [of]) }) },
    flat: flatMesh(mesh, ofCorner, of, islands),
    islands: count,
    covered: areas.reduce((sum, area) => sum + Math.max(0, area), 0),
    folded: areas.filter((area) => area < 0).length,
  };
}

/** Of every triangle as it lies, less than 0 when it is upside down. */
const areasOf = (islands: readonly Float64Array[], cut: readonly (readonly number[])[]): number[] =>
  islands.flatMap((flat, chart) =>
    Array.from({ length: cut[chart].length / 3 }, (_, t) => {
      const [a, b, c] = [0, 1, 2].map((k) => 2 * cut[chart][3 * t + k]);
      return (
        ((flat[b] - flat[a]) * (flat[c + 1] - flat[a + 1]) -
          (flat[b + 1] - flat[a + 1]) * (flat[c] - flat[a])) /
        2
      );
    }),
  );

function flatMesh(mesh: Mesh, ofCorner: Int32Array, of: Int32Array, islands: readonly Float64Array[]): Mesh {
  const first = [0];
  for (const flat of islands) first.push(first[first.length - 1] + flat.length / 2);
  const total = first[islands.length];
  const position: [Float32Array, Float32Array, Float32Array] = [
    new Float32Array(total),
    new Float32Array(total),
    new Float32Array(total),
  ];
  for (const [i, flat] of islands.entries())
    for (let k = 0; k < flat.length; k++) position[k & 1][first[i] + (k >> 1)] = flat[k] - 0.5;
  const { faceOfCorner } = topologyOf(mesh);
  const made = makeMesh({
    position,
    faceStarts: mesh.faceStarts,
    cornerPoint: ofCorner.map((p, c) => first[of[faceOfCorner[c]]] + p),
  });
  return { ...made, faces: mesh.faces };
}
