/**
 * Faces split into smaller ones: E. Catmull and J. Clark, "Recursively generated B-spline surfaces on arbitrary topological meshes",
 * Computer-Aided Design 10 (6), 1978; C. Loop, "Smooth subdivision surfaces based on triangles", University of Utah, 1987. Creases as
 * in H. Hoppe et al., "Piecewise smooth surface reconstruction", SIGGRAPH 1994.
 */
import type { Mesh } from "../../geometry/mesh";
import { topologyOf } from "../../geometry/topology";
import { edgesBy, type Remaking, remade } from "../remade";
import { splitFaces } from "./split-faces";
import { loopPoints, quadPoints } from "./split-points";
import { edgeParts, numbered, type Splitting } from "./splitting";

/**
 * One round. `Loop` wants triangles only. Points: those that were there, then of each face one in it (not for `Loop`), then one on each
 * edge. Faces beside split ones get the points on their common edges, so nothing gapes.
 */
function splitOnce(mesh: Mesh, splitting: Splitting): Remaking {
  const topology = topologyOf(mesh);
  const numbers = numbered(mesh, topology, splitting);
  const faces = splitFaces(mesh, topology, numbers, splitting.scheme);
  const points =
    splitting.scheme === "Loop"
      ? loopPoints(mesh, topology, numbers, splitting)
      : quadPoints(mesh, topology, numbers, splitting);
  const edgeOf = edgeParts(mesh, topology, numbers);
  return { ...faces, points, edges: edgesBy(faces, points.starts.length - 1, edgeOf) };
}

/** Several rounds, kept apart from where the points are: they hold for any mesh with the same faces. */
export class Subdivision {
  private readonly rounds: readonly Remaking[];

  /** In memory of its own: that of the mesh may be given to others. */
  private readonly of: Pick<Mesh, "cornerPoint" | "faceStarts">;

  constructor(
    mesh: Mesh,
    private readonly splitting: Splitting,
    rounds: number,
  ) {
    this.of = {
      cornerPoint: Int32Array.from(mesh.cornerPoint),
      faceStarts: Int32Array.from(mesh.faceStarts),
    };
    const made: Remaking[] = [];
    let [{ sharp, chosen }, here]: [Splitting, Mesh] = [splitting, bare(mesh)];
    for (let r = 0; r < rounds; r++) {
      const round = splitOnce(here, { ...splitting, sharp, chosen });
      made.push(round);
      const [edges, before, faces] = [round.edges as Int32Array, sharp, chosen];
      sharp = Float32Array.from(edges, (edge) => (edge < 0 ? 0 : before[edge]));
      chosen = faces && Uint8Array.from(round.faces, (face) => faces[face]);
      here = bareOf(round);
    }
    this.rounds = made;
  }

  /** Whether it holds for a mesh and a way to split it. */
  holdsFor(mesh: Mesh, splitting: Splitting, rounds: number): boolean {
    return (
      sameNumbers(mesh.cornerPoint, this.of.cornerPoint) &&
      sameNumbers(mesh.faceStarts, this.of.faceStarts) &&
      rounds === this.rounds.length &&
      splitting.scheme === this.splitting.scheme &&
      splitting.keepsTips === this.splitting.keepsTips &&
      sameNumbers(splitting.sharp, this.splitting.sharp) &&
      sameNumbers(splitting.chosen, this.splitting.chosen)
    );
  }

  apply(mesh: Mesh): Mesh {
    return this.rounds.reduce(remade, mesh);
  }
}

function sameNumbers(a: ArrayLike<number> | undefined, b: ArrayLike<number> | undefined): boolean {
  if (a === undefined || b === undefined || a.length !== b.length) return a === b;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** A mesh by its faces alone. */
const bare = ({ points, corners, faces, faceStarts, cornerPoint }: Mesh): Mesh => ({
  points: { count: points.count, columns: {} },
  corners: { count: corners.count, columns: {} },
  faces: { count: faces.count, columns: {} },
  faceStarts,
  cornerPoint,
});

const bareOf = ({ points, faces, faceStarts, cornerPoint }: Remaking): Mesh => ({
  points: { count: points.starts.length - 1, columns: {} },
  corners: { count: cornerPoint.length, columns: {} },
  faces: { count: faces.length, columns: {} },
  faceStarts,
  cornerPoint,
});
