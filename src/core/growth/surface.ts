/**
 * Surfaces that grow: where they have vigour they are pushed out and their points away from each other, long edges are split and short ones taken
 * together, so there is more and more of them and they fold (after the differential growth of lines; remeshing by Botsch and Kobbelt, 2004).
 */
import { type Domain, makeColumn, withColumns } from "../geometry/column";
import { type Mesh, pointLanes, withPoints } from "../geometry/mesh";
import { pointNormals } from "../geometry/normals";
import { topologyOf } from "../geometry/topology";
import { copyInMemory, passing } from "../kernels/arena";
import { lengthOf } from "../maths/exact";
import { remeshed } from "../meshes/remesh";
import { borderPoints, smoothed } from "../meshes/smooth";
import { PointGrid } from "../spatial/point-grid";
import { pushedApart } from "./pushed-apart";

export interface SurfaceSettings {
  /** Units that edges are long. */
  readonly edge: number;
  readonly remeshRounds: number;
  /** Units that points keep from each other, and how often they are pushed. */
  readonly apart: number;
  readonly pushRounds: number;
  readonly smoothRounds: number;
  /** Units along the direction in a round. */
  readonly speed: number;
  /** How far each point goes, in parts of the speed. */
  readonly wild: (points: Domain, round: number) => ArrayLike<number>;
  /** Added to the direction at each point. */
  readonly lean: (points: Domain) => readonly ArrayLike<number>[];
  readonly keepsBorders: boolean;
  readonly most: number;
}

/** Of what is missing between two points that a push makes up. */
const PUSH = 0.2;
/** Of the way to the middle of its neighbours that smoothing takes a point of full vigour. */
const SMOOTH = 0.5;

/** @param mesh triangles @param vigour of each point, 0 to 1: what grows */
export function begunSurface(mesh: Mesh, vigour: ArrayLike<number>): Mesh {
  const { count } = mesh.points;
  return {
    points: {
      count,
      columns: {
        position: mesh.points.columns.position,
        vigour: makeColumn("number", [Float32Array.from(vigour)]),
        age: makeColumn("number", [new Float32Array(count)]),
        moved: makeColumn("number", [new Float32Array(count)]),
      },
    },
    corners: { count: mesh.corners.count, columns: {} },
    faces: { count: mesh.faces.count, columns: {} },
    faceStarts: mesh.faceStarts,
    cornerPoint: mesh.cornerPoint,
  };
}

const laneOf = ({ points }: Mesh, name: "vigour" | "age" | "moved"): Float32Array =>
  points.columns[name].lanes[0] as Float32Array;

/** One round later. @param round its number, from which the noise follows @returns the same when it is full */
export function grownSurface(before: Mesh, settings: SurfaceSettings, round: number): Mesh {
  if (before.points.count >= settings.most || before.points.count === 0) return before;
  return passing(() => {
    const pushed = pushedOut(before, settings, round);
    const even = settings.remeshRounds > 0 ? evened(pushed, settings) : pushed;
    return smoothedWhereMoved(even, settings);
  });
}

/** Along the direction, and away from each other. */
function pushedOut(mesh: Mesh, settings: SurfaceSettings, round: number): Mesh {
  const { apart, pushRounds, keepsBorders } = settings;
  const from = pointLanes(mesh);
  const vigour = Float32Array.from(laneOf(mesh, "vigour"));
  if (keepsBorders) for (const p of borderPoints(topologyOf(mesh))) vigour[p] = 0;
  const places = from.map(copyInMemory);
  alongWays(mesh, places, vigour, settings, round);
  const held = vigour.map((v) => 1 - v);
  for (let push = 0; push < pushRounds; push++) pushedApart(places, held, apart, PUSH);
  const moved = Float32Array.from(laneOf(mesh, "moved"));
  const [[x, y, z], [fx, fy, fz]] = [places, from];
  for (let p = 0; p < moved.length; p++) moved[p] += lengthOf(x[p] - fx[p], y[p] - fy[p], z[p] - fz[p]);
  return withPoints(
    mesh,
    withColumns(mesh.points, {
      position: makeColumn(
        "vector",
        places.map((lane) => Float32Array.from(lane)),
      ),
      age: makeColumn("number", [laneOf(mesh, "age").map((age) => age + 1)]),
      moved: makeColumn("number", [moved]),
    }),
  );
}

/** By facings, each its own way as far, and a lean. */
function alongWays(
  mesh: Mesh,
  places: readonly Float32Array[],
  vigour: Float32Array,
  { speed, wild, lean }: SurfaceSettings,
  round: number,
): void {
  if (speed === 0) return;
  const facings = pointNormals(mesh);
  const [leaning, parts] = [lean(mesh.points), wild(mesh.points, round)];
  for (let p = 0; p < vigour.length; p++) {
    const by = speed * vigour[p];
    if (by === 0) continue;
    for (let a = 0; a < 3; a++) places[a][p] += by * (facings[a][p] * parts[p] + leaning[a][p]);
  }
}

/** Edges of one length again. What points have is taken from the nearest one before. */
function evened(mesh: Mesh, { edge, remeshRounds, most }: SurfaceSettings): Mesh {
  const made = remeshed(mesh, {
    rounds: remeshRounds,
    lengths: (lanes) => new Float32Array(lanes[0].length).fill(edge),
    onto: (lanes) => lanes,
    sharp: Math.PI,
  });
  if (made.points.count > most * 1.5) return mesh;
  const { numbers } = new PointGrid(pointLanes(mesh)).nearest(
    pointLanes(made).map((lane) => Float32Array.from(lane)),
  );
  const carried = (["vigour", "age", "moved"] as const).map((name) => {
    const [lane, out] = [laneOf(mesh, name), new Float32Array(numbers.length)];
    for (let p = 0; p < out.length; p++) out[p] = lane[numbers[p]];
    return [name, makeColumn("number", [out])] as const;
  });
  return withPoints(made, withColumns(made.points, Object.fromEntries(carried)));
}

/** Only what has vigour: what never moved keeps its form. */
function smoothedWhereMoved(mesh: Mesh, { smoothRounds, keepsBorders }: SurfaceSettings): Mesh {
  if (smoothRounds === 0) return mesh;
  const made = smoothed(mesh, {
    how: "shrinks",
    rounds: smoothRounds,
    amount: laneOf(mesh, "vigour").map((v) => v * SMOOTH),
    keepsBorders,
  });
  const lanes = pointLanes(made).map((lane) => Float32Array.from(lane));
  return withPoints(made, withColumns(made.points, { position: makeColumn("vector", lanes) }));
}
