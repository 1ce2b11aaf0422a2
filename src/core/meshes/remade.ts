/** A mesh made of another one: which of its elements the new ones come from. */
import { type Domain, gather } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { type Mixture, mixed } from "../geometry/mixture";
import { topologyOf } from "../geometry/topology";

export interface Remaking extends Pick<Mesh, "faceStarts" | "cornerPoint"> {
  readonly points: Mixture;
  readonly corners: Mixture;
  /** The face that each new one comes from. */
  readonly faces: Int32Array;
  /** The edge that each new edge is a part of, −1 for one that is new. */
  readonly edges?: Int32Array;
}

/** With all that the elements carry; facings of corners are left out, as they no longer hold. */
export function remade(
  mesh: Mesh,
  { points, corners, faces, edges, faceStarts, cornerPoint }: Remaking,
): Mesh {
  const { normal: _dropped, ...columns } = mesh.corners.columns;
  const made: Mesh = {
    points: mixed(mesh.points, points),
    corners: mixed({ count: mesh.corners.count, columns }, corners),
    faces: gather(mesh.faces, faces),
    faceStarts,
    cornerPoint,
  };
  return mesh.edges && edges ? { ...made, edges: partsOfEdges(mesh.edges, edges) } : made;
}

/** New edges have 0 in everything. */
function partsOfEdges(before: Domain, edges: Int32Array): Domain {
  const kept = edges.map((edge) => Math.max(0, edge));
  const made = gather(before, kept);
  for (const { lanes } of Object.values(made.columns))
    for (const lane of lanes) for (let e = 0; e < edges.length; e++) if (edges[e] < 0) lane[e] = 0;
  return made;
}

/** The edges of a mesh by the edges that they are part of: `of` tells it from the two points of one. */
export function edgesBy(
  made: Pick<Mesh, "faceStarts" | "cornerPoint">,
  points: number,
  of: (a: number, b: number) => number,
): Int32Array {
  const topology = topologyOf({ ...made, points: { count: points, columns: {} } } as Mesh);
  return Int32Array.from({ length: topology.edges.count }, (_, e) =>
    of(topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)),
  );
}
