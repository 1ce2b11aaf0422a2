import { faceAreaVectors, faceMiddles, type Mesh, pointLanes } from "../../geometry/mesh";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, out, shape } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";

export const shapeSites = defineNode({
  type: "shape-sites",
  family: "layout",
  title: "Shape sites",
  about: "Sites at the corners or face centres of a mesh, standing off its surface.",
  synonyms: ["vertices", "points", "faces", "surface", "on mesh", "copies"],
  inputs: {
    shape: shape({ about: "The mesh to stand on." }),
    at: choice(["face centres", "corners"], { about: "One site for each of these." }),
    outward: choice(OUTWARD, { default: "y", about: "The own axis that points off the surface." }),
  },
  outputs: {
    sites: out.shape(
      "The sites, in the order of the mesh; `size` is the side of a square as large as the face.",
    ),
  },
  summary: ({ at }) => `at the ${at}`,
  cost: ({ shape, at }) => ({
    sites: (at === "corners" ? shape.mesh?.points.count : shape.mesh?.faces.count) ?? 0,
  }),
  evaluate({ shape, at, outward }, context) {
    const { mesh } = shape;
    if (!mesh) {
      context.warn("No mesh arrives, so there are no sites.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const normals = faceAreaVectors(mesh);
    const place = at === "corners" ? pointLanes(mesh) : faceMiddles(mesh);
    const off = at === "corners" ? spreadToPoints(mesh, normals) : normals;
    const count = place[0].length;
    const size = new Float32Array(count);
    const sites = makeSites(count, ({ position, rotation }) => {
      position.forEach((lane, a) => {
        lane.set(place[a]);
      });
      for (let i = 0; i < count; i++) {
        const direction: Vec3 = [off[0][i], off[1][i], off[2][i]];
        size[i] = Math.sqrt(Math.hypot(...direction) / 2);
        const q = outwardRotation(outward, direction, [0, 1, 0]);
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      }
    });
    const columns = { ...sites.columns, size: { kind: "number" as const, lanes: [size] } };
    return { sites: { sites: { count, columns } } };
  },
});

/** Sum of the area vectors of the faces around each point: a normal weighted by area. */
function spreadToPoints(mesh: Mesh, normals: readonly Float32Array[]): Float32Array[] {
  const sums = normals.map(() => new Float32Array(mesh.points.count));
  for (let f = 0; f < mesh.faces.count; f++) {
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const p = mesh.cornerPoint[c];
      for (let a = 0; a < 3; a++) sums[a][p] += normals[a][f];
    }
  }
  return sums;
}
