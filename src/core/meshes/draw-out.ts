/** Faces drawn out of their mesh, with walls around them. */
import { concatenate, countUp, type Domain, gather, makeColumn, withColumns } from "../geometry/column";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { faceNormals } from "../geometry/normals";
import { keepFaces, numbersWhere } from "../geometry/subset";
import { type Topology, topologyOf } from "../geometry/topology";
import { dot, normalise, type Vec3 } from "../maths/vector";
import { FaceWriter, wall } from "./joined-faces";
import { MOST_MITRE } from "./thicken";

export interface DrawnOut {
  /** By face 1 for those that are drawn out; all when missing. */
  readonly chosen?: Uint8Array;
  /** Units along the facing, by face. */
  readonly distance: Float32Array;
  /** By face: 0 as large as it was, 1 drawn together into its middle. */
  readonly inset: Float32Array;
  /** Each face by itself, or those that hang together as one. */
  readonly together: boolean;
}

/** Faces have `side`: 0 those that stay, 1 the walls, 2 those that are drawn out. */
export function drawnOut(mesh: Mesh, { chosen, distance, inset, together }: DrawnOut): Mesh {
  const isChosen = (f: number) => chosen === undefined || chosen[f] === 1;
  const topology = topologyOf(mesh);
  const normals = faceNormals(mesh);
  const raised = new Raised(mesh);
  const chosenFaces = numbersWhere(mesh.faces.count, isChosen);
  if (together)
    for (const f of chosenFaces)
      raised.withOthers(f, (p) => meanShift(topology, p, isChosen, normals, distance));
  else
    for (const f of chosenFaces)
      raised.byItself(f, inset[f], [
        normals[0][f] * distance[f],
        normals[1][f] * distance[f],
        normals[2][f] * distance[f],
      ]);
  return withWalls(mesh, { isChosen, raised, together, topology });
}

/** The new points above the corners of faces that are drawn out. */
class Raised {
  /** By corner, −1 for those of other faces. */
  readonly above: Int32Array;
  /** The point that each was. */
  private readonly of: number[] = [];
  private readonly places: [number[], number[], number[]] = [[], [], []];
  private readonly lanes: readonly Float32Array[];
  private readonly known: Int32Array;

  constructor(private readonly mesh: Mesh) {
    this.above = new Int32Array(mesh.corners.count).fill(-1);
    this.lanes = pointLanes(mesh);
    this.known = new Int32Array(mesh.points.count).fill(-1);
  }

  /** Points of its own. @param inset how far to the middle @param shift after that */
  byItself(face: number, inset: number, shift: Vec3): void {
    const [start, end] = [this.mesh.faceStarts[face], this.mesh.faceStarts[face + 1]];
    for (let c = start; c < end; c++) this.above[c] = this.of.push(this.mesh.cornerPoint[c]) - 1;
    for (let a = 0; a < 3; a++) {
      let middle = 0;
      for (let c = start; c < end; c++) middle += this.lanes[a][this.mesh.cornerPoint[c]] / (end - start);
      for (let c = start; c < end; c++) {
        const at = this.lanes[a][this.mesh.cornerPoint[c]];
        this.places[a].push(at + (middle - at) * inset + shift[a]);
      }
    }
  }

  /** Points that it shares with others that are drawn out. */
  withOthers(face: number, shiftOf: (point: number) => Vec3): void {
    for (let c = this.mesh.faceStarts[face]; c < this.mesh.faceStarts[face + 1]; c++) {
      const p = this.mesh.cornerPoint[c];
      if (this.known[p] < 0) {
        this.known[p] = this.of.push(p) - 1;
        const shift = shiftOf(p);
        for (let a = 0; a < 3; a++) this.places[a].push(this.lanes[a][p] + shift[a]);
      }
      this.above[c] = this.known[p];
    }
  }

  get points(): Domain {
    const position = this.places.map((lane) => Float32Array.from(lane));
    return withColumns(gather(this.mesh.points, Int32Array.from(this.of)), {
      position: makeColumn("vector", position),
    });
  }
}

interface Above {
  readonly isChosen: (face: number) => boolean;
  readonly raised: Raised;
  readonly together: boolean;
  readonly topology: Topology;
}

function withWalls(mesh: Mesh, { isChosen, raised, together, topology }: Above): Mesh {
  const { above } = raised;
  const faces = new FaceWriter(mesh);
  const { count } = mesh.points;
  for (let f = 0; f < mesh.faces.count; f++)
    faces.whole(f, (c) => (isChosen(f) ? count + above[c] : mesh.cornerPoint[c]), isChosen(f) ? 2 : 0);
  for (let c = 0; c < mesh.corners.count; c++) {
    const face = topology.faceOfCorner[c];
    if (!isChosen(face)) continue;
    const other = topology.across[c];
    // Where both sides go up together there is nothing between them.
    if (together && other >= 0 && isChosen(topology.faceOfCorner[other])) continue;
    wall(
      faces,
      face,
      [c, topology.after(c)],
      (corner) => count + above[corner],
      (corner) => mesh.cornerPoint[corner],
    );
  }
  const made = faces.mesh(concatenate([mesh.points, raised.points]), true);
  // What was under faces that went up by themselves belongs to nothing any more.
  return keepFaces(made, countUp(made.faces.count));
}

/** How a point moves with the chosen faces around it: so that those move by their distances, on average. */
function meanShift(
  topology: Topology,
  p: number,
  isChosen: (face: number) => boolean,
  normals: readonly Float32Array[],
  distance: Float32Array,
): Vec3 {
  const { starts, items } = topology.cornersOfPoints;
  const around = Array.from(items.subarray(starts[p], starts[p + 1]), (c) => topology.faceOfCorner[c]).filter(
    isChosen,
  );
  const facing = (f: number): Vec3 => [normals[0][f], normals[1][f], normals[2][f]];
  const sum: [number, number, number] = [0, 0, 0];
  for (const f of around) for (let a = 0; a < 3; a++) sum[a] += normals[a][f];
  const way = normalise(sum);
  const mean = (of: (f: number) => number) => around.reduce((all, f) => all + of(f), 0) / around.length;
  const length =
    mean((f) => distance[f]) /
    Math.max(
      1 / MOST_MITRE,
      mean((f) => dot(way, facing(f))),
    );
  return [way[0] * length, way[1] * length, way[2] * length];
}
