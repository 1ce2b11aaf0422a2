/** A surface as a tree of its triangles, for the closest place on it (kernels/assembly/surface.ts) and where rays meet it (rays.ts). */
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { type BoxTree, boxTree, type FittedTree, fitted, integersPlaced } from "./box-tree";

/** What stays while the faces stay; shared by the tables of a mesh at other moments. */
interface Topology {
  readonly cornerPoint: Int32Array;
  readonly faceStarts: Int32Array;
  /** The mesh's corners of every triangle, three each. */
  readonly corners: Int32Array;
  readonly tree: BoxTree;
}

export class SurfaceTable {
  private constructor(
    readonly topology: Topology,
    private readonly tree: FittedTree,
  ) {}

  /** Made in the current arena. @param before of the same faces, perhaps @returns null for a mesh without triangles */
  static of(mesh: Mesh, before: SurfaceTable | null = null): SurfaceTable | null {
    const { cornerPoint, faceStarts } = mesh;
    const corners = triangleCorners(mesh);
    if (corners.length === 0) return null;
    const places = pointLanes(mesh);
    const known = before?.topology;
    const same =
      known?.cornerPoint === cornerPoint &&
      known.faceStarts === faceStarts &&
      // Faces of more than three corners may be cut otherwise where they have become concave.
      corners.every((corner, i) => corner === known.corners[i]);
    const topology =
      same && known
        ? known
        : {
            cornerPoint,
            faceStarts,
            corners: integersPlaced(corners),
            tree: boxTree(
              places,
              corners.map((corner) => cornerPoint[corner]),
            ),
          };
    return new SurfaceTable(topology, fitted(topology.tree, places, topology.corners));
  }

  /** Address of the table that kernels take. */
  get address(): number {
    return this.tree.address;
  }

  /** What the table stands in: to be kept for as long as it is used. */
  get lanes() {
    return this.tree.lanes;
  }
}
