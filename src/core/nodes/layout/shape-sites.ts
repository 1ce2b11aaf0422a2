import { tick } from "../../cancelling";
import { carryAcross, incidence } from "../../geometry/across";
import { shapeBounds } from "../../geometry/bounds";
import { type Column, makeColumn, withColumns } from "../../geometry/column";
import { type Curves, curveTangents } from "../../geometry/curves";
import { faceAreaVectors, faceMiddles, type Mesh, pointLanes } from "../../geometry/mesh";
import { pointNormals } from "../../geometry/normals";
import { EMPTY_SHAPE, makeSites, type Shape } from "../../geometry/shape";
import { topologyOf } from "../../geometry/topology";
import { lengthOf } from "../../maths/exact";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, out, shape } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";

const PLACES = [
  "face centres",
  "corners",
  "edge middles",
  "corners and face centres",
  "corners of the bounds",
] as const;
type Places = (typeof PLACES)[number];

export const shapeSites = defineNode({
  type: "shape-sites",
  family: "layout",
  title: "Shape sites",
  about: "Sites at the corners, edge middles or face centres of a mesh, or at the points of curves.",
  synonyms: ["vertices", "points", "edges", "faces", "surface", "on mesh", "on a curve", "copies"],
  inputs: {
    shape: shape({ about: "The mesh to stand on; without one, the curves." }),
    at: choice(PLACES, {
      about: "One site for each of these; curves always take their points.",
    }),
    outward: choice(OUTWARD, {
      default: "y",
      about: "The own axis that points off the surface, or along the curve.",
    }),
  },
  outputs: {
    sites: out.shape(
      "The sites, in the order of the shape; `size` is the side of a square as large as the face, the edge's length, or 1.",
    ),
  },
  summary: ({ at }) => `at the ${at}`,
  cost: ({ shape, at }) => ({ sites: countAt(shape, at) }),
  evaluate({ shape, at, outward }, context) {
    const stands = placesOf(shape, at);
    if (!stands) {
      context.warn("No mesh and no curves arrive, so there are no sites.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const { place, direction, size, uv } = stands;
    const count = size.length;
    const sites = makeSites(count, ({ position, rotation }) => {
      position.forEach((lane, a) => {
        lane.set(place[a]);
      });
      for (let i = 0; i < count; i++) {
        tick();
        const off: Vec3 = [direction[0][i], direction[1][i], direction[2][i]];
        const q = outwardRotation(outward, off, [0, 1, 0]);
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      }
    });
    const carried = { size: makeColumn("number", [size]), ...(uv ? { uv: makeColumn("pair", uv) } : {}) };
    return { sites: { sites: withColumns(sites, carried) } };
  },
});

/** Where sites stand, which way they look (any length), and the `size` they carry. */
interface Stands {
  readonly place: readonly ArrayLike<number>[];
  readonly direction: readonly Float32Array[];
  readonly size: Float32Array;
  /** Where they lie on a picture, if the mesh is laid out for one. */
  readonly uv?: readonly Float32Array[];
}

/** Sites that there will be at most. */
function countAt({ mesh, curves }: Shape, at: Places): number {
  if (at === "corners of the bounds") return 8;
  if (!mesh) return curves?.points.count ?? 0;
  const [points, faces] = [mesh.points.count, mesh.faces.count];
  return {
    corners: points,
    "face centres": faces,
    "edge middles": mesh.corners.count,
    "corners and face centres": points + faces,
  }[at];
}

function placesOf(shape: Shape, at: Places): Stands | null {
  const { mesh, curves } = shape;
  if (at === "corners of the bounds") return onBounds(shape);
  if (!mesh) return curves ? onCurves(curves) : null;
  const areas = faceAreaVectors(mesh);
  const laid = mesh.corners.columns.uv?.lanes;
  const faces = () => ({
    place: faceMiddles(mesh),
    direction: areas,
    size: square(areas),
    uv: mesh.corners.columns.uv && meansOnFaces(mesh, mesh.corners.columns.uv),
  });
  if (at === "face centres") return faces();
  const direction = pointNormals(mesh);
  const corners = {
    place: pointLanes(mesh),
    direction,
    size: square(areasAroundPoints(mesh, areas)),
    uv: mesh.points.columns.uv?.lanes as readonly Float32Array[] | undefined,
  };
  if (at === "corners") return corners;
  if (at === "corners and face centres") return joined(corners, faces());
  return onEdges(mesh, direction, laid);
}

/** The side of a square of that area. @param areas vectors twice as long as an area */
const square = (areas: readonly Float32Array[]): Float32Array =>
  areas[0].map((_, i) => {
    tick();
    return Math.sqrt(lengthOf(areas[0][i], areas[1][i], areas[2][i]) / 2);
  });

/** The area vectors of the faces around each point, added up. */
function areasAroundPoints(mesh: Mesh, areas: readonly Float32Array[]): Float32Array[] {
  const sums = areas.map(() => new Float32Array(mesh.points.count));
  for (let f = 0; f < mesh.faces.count; f++) {
    tick(4);
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
      for (let a = 0; a < 3; a++) sums[a][mesh.cornerPoint[c]] += areas[a][f];
  }
  return sums;
}

/** The eight corners of the box around it, looking away from its middle. */
function onBounds(shape: Shape): Stands | null {
  const bounds = shapeBounds(shape);
  if (!bounds) return null;
  const { min, max } = bounds;
  const corner = (i: number, a: number) => ((i >> a) & 1 ? max[a] : min[a]);
  const lane = (value: (i: number) => number) => Float32Array.from({ length: 8 }, (_, i) => value(i));
  const axes = [0, 1, 2];
  return {
    place: axes.map((a) => lane((i) => corner(i, a))),
    direction: axes.map((a) => lane((i) => corner(i, a) - (min[a] + max[a]) / 2)),
    size: new Float32Array(8).fill(1),
  };
}

/** One after the other. */
function joined(a: Stands, b: Stands): Stands {
  const both = (p: ArrayLike<number>, q: ArrayLike<number>) => {
    const lane = new Float32Array(p.length + q.length);
    lane.set(p);
    lane.set(q, p.length);
    return lane;
  };
  return {
    place: a.place.map((lane, i) => both(lane, b.place[i])),
    direction: a.direction.map((lane, i) => both(lane, b.direction[i])),
    size: both(a.size, b.size),
    uv: a.uv && b.uv ? a.uv.map((lane, i) => both(lane, (b.uv as readonly Float32Array[])[i])) : undefined,
  };
}

function onCurves(curves: Curves): Stands {
  return {
    place: curves.points.columns.position.lanes,
    direction: curveTangents(curves),
    size: new Float32Array(curves.points.count).fill(1),
  };
}

const meansOnFaces = (mesh: Mesh, corners: Column): readonly Float32Array[] =>
  carryAcross(corners, incidence({ mesh }, "corners", "faces"), "mean").lanes as readonly Float32Array[];

/** Middles of all edges; the direction is half-way between both ends' normals. */
function onEdges(
  mesh: Mesh,
  off: readonly Float32Array[],
  laid: readonly ArrayLike<number>[] | undefined,
): Stands {
  const { corners: pairs, count } = topologyOf(mesh).edges;
  const lanes = pointLanes(mesh);
  const place = lanes.map(() => new Float32Array(count));
  const direction = lanes.map(() => new Float32Array(count));
  const size = new Float32Array(count);
  const uv = laid?.map((lane) =>
    Float32Array.from({ length: count }, (_, e) => (lane[pairs[e * 2]] + lane[pairs[e * 2 + 1]]) / 2),
  );
  for (let e = 0; e < count; e++) {
    tick(4);
    const [p, q] = [mesh.cornerPoint[pairs[e * 2]], mesh.cornerPoint[pairs[e * 2 + 1]]];
    for (let a = 0; a < 3; a++) {
      place[a][e] = (lanes[a][p] + lanes[a][q]) / 2;
      direction[a][e] = off[a][p] + off[a][q];
    }
    size[e] = lengthOf(lanes[0][q] - lanes[0][p], lanes[1][q] - lanes[1][p], lanes[2][q] - lanes[2][p]);
  }
  return { place, direction, size, uv };
}
