import { tick } from "../../cancelling";
import { makeColumn, withColumns } from "../../geometry/column";
import { type Mesh, pointLanes } from "../../geometry/mesh";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { triangleCorners } from "../../geometry/triangles";
import { lengthOf } from "../../maths/exact";
import { hash3, unit24 } from "../../maths/random";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, field, integer, out, shape } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";

export const scatterSites = defineNode({
  type: "scatter-sites",
  family: "layout",
  title: "Scatter sites",
  about:
    "Sites by chance or evenly over the surface of a mesh, as many on each part as its area or a weight asks for.",
  synonyms: ["random", "distribute", "sprinkle", "surface", "density", "copies"],
  inputs: {
    shape: shape({ about: "The mesh to scatter on." }),
    count: integer({
      default: 300,
      min: 0,
      soft: [1, 5000],
      about: "How many; more keep the ones that are there.",
    }),
    weight: field.number({
      default: 1,
      min: 0,
      soft: [0, 1],
      about: "How thickly, at each of the mesh's points; a falloff clears a patch.",
    }),
    spread: choice(["by chance", "evenly"], {
      about: "Evenly leaves neither gaps nor heaps, and keeps to it when more are asked for.",
    }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other places." }),
    outward: choice(OUTWARD, { default: "y", about: "The own axis that points off the surface." }),
  },
  outputs: { sites: out.shape("The sites; ids stay when the count changes.") },
  summary: ({ count, spread }) => `${count} ${spread}`,
  cost: ({ count }) => ({ sites: count, milliseconds: count * 0.003 }),
  evaluate({ shape, count, weight, spread, seed, outward }, context) {
    const { mesh } = shape;
    if (!mesh || mesh.faces.count === 0) {
      context.warn("No mesh arrives, so there is nothing to scatter on.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const [weights] = context.run([weight], mesh.points);
    const triangles = weighTriangles(mesh, weights);
    const total = triangles.sums[triangles.sums.length - 1] ?? 0;
    if (!(total > 0)) {
      context.warn("The surface has no area, or the weight is 0 everywhere, so there are no sites.", {
        input: "weight",
      });
      return { sites: EMPTY_SHAPE };
    }
    const own = hash3(context.seed, seed, 0);
    const normal = [0, 1, 2].map(() => new Float32Array(count));
    const sites = makeSites(count, ({ position, rotation }) => {
      for (let i = 0; i < count; i++) {
        tick(8);
        const chance = (channel: number) => unit24(hash3(own, i, channel));
        const draw = spread === "evenly" ? (channel: number) => evenly(own, i, channel) : chance;
        const t = firstAbove(triangles.sums, draw(0) * total) * 3;
        const [a, b, c] = [triangles.points[t], triangles.points[t + 1], triangles.points[t + 2]];
        const place = placeInTriangle(weights[a], weights[b], weights[c], draw);
        const corner = (p: number): Vec3 => [triangles.xyz[0][p], triangles.xyz[1][p], triangles.xyz[2][p]];
        const [pa, pb, pc] = [corner(a), corner(b), corner(c)];
        const u: Vec3 = [pb[0] - pa[0], pb[1] - pa[1], pb[2] - pa[2]];
        const v: Vec3 = [pc[0] - pa[0], pc[1] - pa[1], pc[2] - pa[2]];
        const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
        const length = lengthOf(...n) || 1;
        const q = outwardRotation(outward, n, [0, 1, 0]);
        for (let k = 0; k < 3; k++) {
          position[k][i] = pa[k] * place[0] + pb[k] * place[1] + pc[k] * place[2];
          normal[k][i] = n[k] / length;
        }
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      }
    });
    return { sites: { sites: withColumns(sites, { normal: makeColumn("vector", normal) }) } };
  },
});

/** Powers of the plastic ratio's sibling for three dimensions, the positive root of x⁴ = x + 1. */
const ROOT = 1.2207440846057596;
export const EVEN_STEPS = [1 / ROOT, 1 / (ROOT * ROOT), 1 / (ROOT * ROOT * ROOT)];

/**
 * An additive sequence that fills the unit cube evenly at any length (M. Roberts, "The unreasonable effectiveness
 * of quasirandom sequences", 2018; R₃), begun at a place that the seed decides. Channels past the third, which only
 * thinning asks for, are left to chance.
 */
function evenly(seed: number, i: number, channel: number): number {
  if (channel > 2) return unit24(hash3(seed, i, channel));
  const at = unit24(hash3(seed, 0, channel)) + (i + 1) * EVEN_STEPS[channel];
  return at - Math.floor(at);
}

/** Triangles' points (three each) and the running sums of area × mean weight. */
function weighTriangles(mesh: Mesh, weights: Float32Array) {
  const xyz = pointLanes(mesh);
  const points = triangleCorners(mesh).map((corner) => mesh.cornerPoint[corner]);
  const sums = new Float64Array(points.length / 3);
  let sum = 0;
  for (let t = 0; t < sums.length; t++) {
    const [a, b, c] = [points[t * 3], points[t * 3 + 1], points[t * 3 + 2]];
    const [ux, uy, uz] = xyz.map((lane) => lane[b] - lane[a]);
    const [vx, vy, vz] = xyz.map((lane) => lane[c] - lane[a]);
    const area = lengthOf(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    sum += (area * Math.max(0, weights[a] + weights[b] + weights[c])) / 3;
    sums[t] = sum;
  }
  return { xyz, points, sums };
}

/** The first index whose running sum is above `value`. */
function firstAbove(sums: Float64Array, value: number): number {
  let low = 0;
  let high = sums.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sums[middle] > value) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Tries at most before a draw is taken as it is; only weights that change steeply within a triangle need many. */
const TRIES = 32;

/**
 * Barycentric place, even over the triangle (Osada et al., 2002, eq. 1) and then thinned by the weight that
 * changes across it.
 */
function placeInTriangle(wa: number, wb: number, wc: number, draw: (channel: number) => number): Vec3 {
  const most = Math.max(wa, wb, wc);
  let place: Vec3 = [1, 0, 0];
  for (let k = 0; k < TRIES; k++) {
    const root = Math.sqrt(draw(1 + k * 3));
    const v = draw(2 + k * 3);
    place = [1 - root, root * (1 - v), root * v];
    if (draw(3 + k * 3) * most <= place[0] * wa + place[1] * wb + place[2] * wc) break;
  }
  return place;
}
