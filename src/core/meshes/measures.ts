/** What a mesh is like at each of its elements, by name. */
import { shapeBounds } from "../geometry/bounds";
import { makeFloats } from "../geometry/column";
import type { DomainName } from "../geometry/domains";
import { faceAreaVectors, type Mesh, pointLanes } from "../geometry/mesh";
import { cornerAngles, faceNormals, pointNormals } from "../geometry/normals";
import { topologyOf } from "../geometry/topology";
import { arcCosine, lengthOf } from "../maths/exact";
import { curvatureOf } from "./curvature";
import { edgeAngles } from "./edge-angles";
import { connectedParts } from "./parts";
import { borderPoints } from "./smooth";

interface Measure {
  readonly on: DomainName;
  readonly about: string;
  readonly of: (mesh: Mesh) => Float32Array;
}

/** Without those that ask rays. */
export const MESH_MEASURES = {
  curvature: {
    on: "points",
    about: "1 ÷ the radius of a ball that bends as much; less than 0 in hollows.",
    of: (mesh) => curvatureOf(mesh).mean,
  },
  saddle: {
    on: "points",
    about: "Product of both main curvatures: less than 0 on saddles, more on bumps and in dents.",
    of: (mesh) => curvatureOf(mesh).gaussian,
  },
  slope: { on: "points", about: "0 where it looks up, 0.5 upright, 1 where it looks down.", of: slopes },
  height: { on: "points", about: "From 0 at its lowest point to 1 at its highest.", of: heights },
  border: { on: "points", about: "1 on open borders, else 0.", of: borders },
  "edge angle": {
    on: "edges",
    about: "How far it bends there, radians; less than 0 in hollows.",
    of: edgeAngles,
  },
  "edge length": { on: "edges", about: "Units.", of: edgeLengths },
  area: { on: "faces", about: "Units².", of: areas },
  "corner angle": {
    on: "corners",
    about: "Within the face, radians.",
    of: (mesh) => cornerAngles(mesh, faceNormals(mesh)),
  },
  part: {
    on: "faces",
    about: "The number of the part that hangs together.",
    of: (mesh) => Float32Array.from(connectedParts(mesh).of),
  },
  "part size": { on: "faces", about: "How many faces that part has.", of: partSizes },
} as const satisfies Readonly<Record<string, Measure>>;

function slopes(mesh: Mesh): Float32Array {
  const up = pointNormals(mesh)[1];
  return up.map((y) => arcCosine(Math.min(1, Math.max(-1, y))) / Math.PI);
}

function heights(mesh: Mesh): Float32Array {
  const bounds = shapeBounds({ mesh });
  const [low, high] = bounds ? [bounds.min[1], bounds.max[1]] : [0, 0];
  return pointLanes(mesh)[1].map((y) => (high > low ? (y - low) / (high - low) : 0));
}

function borders(mesh: Mesh): Float32Array {
  const out = makeFloats(mesh.points.count);
  for (const p of borderPoints(topologyOf(mesh))) out[p] = 1;
  return out;
}

function edgeLengths(mesh: Mesh): Float32Array {
  const topology = topologyOf(mesh);
  const lanes = pointLanes(mesh);
  return Float32Array.from({ length: topology.edges.count }, (_, e) => {
    const [p, q] = [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)];
    return lengthOf(lanes[0][q] - lanes[0][p], lanes[1][q] - lanes[1][p], lanes[2][q] - lanes[2][p]);
  });
}

function areas(mesh: Mesh): Float32Array {
  const [x, y, z] = faceAreaVectors(mesh);
  return x.map((_, f) => lengthOf(x[f], y[f], z[f]) / 2);
}

function partSizes(mesh: Mesh): Float32Array {
  const { of, count } = connectedParts(mesh);
  const sizes = new Float32Array(count);
  for (const part of of) sizes[part]++;
  return Float32Array.from(of, (part) => sizes[part]);
}
