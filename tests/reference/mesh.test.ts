/** Primitives against solid geometry: volume, area, Euler characteristic, closedness. */

import { triangulate } from "../../src/core/draw/triangulate";
import type { Domain } from "../../src/core/geometry/column";
import {
  edgeCount,
  eulerCharacteristic,
  isClosed,
  meshArea,
  meshVolume,
} from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, outputsOf, runNode } from "../run-node";

const meshOf = (type: string, set: object): Mesh => {
  const { mesh } = runNode(type, set).shape as Shape;
  if (!mesh) throw new Error("no mesh");
  return mesh;
};

const SOLIDS: [string, object, number, number | null, number][] = [
  // type, settings, volume, area, Euler characteristic
  ["box", { size: [1, 1, 1] }, 1, 6, 2], // MSH-12
  ["box", { size: [2, 3, 4], cuts: 3 }, 24, 52, 2], // a·b·c
  ["sphere", { radius: 1, around: 16, rings: 8 }, 3.926596389, 12.16668944, 2], // MSH-01
  ["sphere", { radius: 1, around: 64, rings: 32 }, 4.171995762, 12.54115364, 2],
  ["torus", { radius: 1, tube: 0.25, around: 16, across: 8 }, 1.0823922, null, 0], // MSH-03
  ["cylinder", { radius: 1, height: 2, around: 12 }, 6, 18.42331416, 2], // MSH-04
  ["cylinder", { radius: 1, height: 2, around: 12, bands: 5 }, 6, 18.42331416, 2],
  ["cone", { radius: 1, height: 2, around: 12 }, 2, 9.898165242, 2],
];

describe.each(SOLIDS)("%s %j", (type, set, volume, area, euler) => {
  const mesh = meshOf(type, set);
  it("has the volume, area and topology of the solid", () => {
    expect(meshVolume(mesh)).toBeCloseTo(volume, 4);
    if (area !== null) expect(meshArea(mesh)).toBeCloseTo(area, 4);
    expect(eulerCharacteristic(mesh)).toBe(euler);
    expect(isClosed(mesh)).toBe(true);
  });

  it("is drawn with unit normals that look outwards", () => {
    const { positions, normals, indices } = triangulate(mesh);
    for (let v = 0; v < normals.length; v += 3)
      expect(Math.hypot(normals[v], normals[v + 1], normals[v + 2])).toBeCloseTo(1, 4);
    let outward = 0;
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) =>
        Array.from(positions.subarray(indices[t + k] * 3, indices[t + k] * 3 + 3)),
      );
      const u = [0, 1, 2].map((k) => b[k] - a[k]);
      const w = [0, 1, 2].map((k) => c[k] - a[k]);
      const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
      const at = indices[t] * 3;
      if (n[0] * normals[at] + n[1] * normals[at + 1] + n[2] * normals[at + 2] < 0) outward--;
    }
    expect(outward).toBe(0);
  });
});

it("counts a cube's edges: V 8, E 12, F 6 [MSH-09]", () => {
  const cube = meshOf("box", { size: [1, 1, 1] });
  expect([cube.points.count, edgeCount(cube), cube.faces.count]).toEqual([8, 12, 6]);
});

it("converges on the sphere in second order [MSH-02]", () => {
  const error = (around: number) =>
    (4 / 3) * Math.PI - meshVolume(meshOf("sphere", { radius: 1, around, rings: around / 2 }));
  expect(error(16) / error(32)).toBeCloseTo(3.9222, 2);
  expect(error(32) / error(64)).toBeCloseTo(3.9804, 2);
});

it("leaves discs and planes open: χ = 1, area πr² in the limit", () => {
  expect(eulerCharacteristic(meshOf("disc", { radius: 1, around: 48, rings: 3 }))).toBe(1);
  expect(meshArea(meshOf("disc", { radius: 1, around: 2000 }))).toBeCloseTo(Math.PI, 4);
  expect(eulerCharacteristic(meshOf("plane", { across: 4, deep: 3 }))).toBe(1);
  expect(meshArea(meshOf("plane", { width: 3, depth: 2, across: 4, deep: 3 }))).toBeCloseTo(6, 6);
});

/** Faces that a picture lies on the wrong way round, or without any width. */
function mirrored(mesh: Mesh): number {
  const [u, v] = mesh.corners.columns.uv.lanes;
  let count = 0;
  for (let f = 0; f < mesh.faces.count; f++) {
    const [from, until] = [mesh.faceStarts[f], mesh.faceStarts[f + 1]];
    let area = 0;
    for (let c = from; c < until; c++) {
      const d = c + 1 < until ? c + 1 : from;
      area += u[c] * v[d] - u[d] * v[c];
    }
    // Faces run counter-clockwise seen from outside, and v runs downwards (glTF 2.0 § 3.8.4.1).
    if (!(area < 0)) count++;
  }
  return count;
}

describe("laid out for pictures", () => {
  const solids: [string, Record<string, Setting>][] = [
    ["box", { size: [1, 2, 3], cuts: 1 }],
    ["sphere", { around: 12, rings: 6 }],
    ["sphere", { build: "geodesic", detail: 2 }],
    ["cylinder", {}],
    ["cone", {}],
    ["torus", {}],
    ["disc", { hole: 0.3 }],
    ["plane", { across: 3, deep: 2 }],
    ["polygon", {}],
    ["star", {}],
  ];

  it("tubes are as well: along their curve and around it", () => {
    for (const set of [
      { sweep: 200, points: 20 },
      { sweep: 360, points: 24 },
    ]) {
      const tube = graphOf({ arc: { type: "arc", set }, tube: { type: "tube", set: { radius: 0.2 } } }, [
        "arc.shape>tube.shape",
      ]);
      const { mesh } = outputsOf(tube, "tube").shape as Shape;
      expect(mirrored(mesh as Mesh)).toBe(0);
      const [u, v] = (mesh as Mesh).corners.columns.uv.lanes;
      for (const lane of [u, v]) expect([Math.min(...lane), Math.max(...lane)]).toEqual([0, 1]);
    }
  });

  it.each(solids)("a %s is nowhere mirrored, and all of it is on the picture", (type, set) => {
    const mesh = meshOf(type, set);
    const [u, v] = mesh.corners.columns.uv.lanes;
    expect(mirrored(mesh)).toBe(0);
    for (const lane of [u, v]) {
      expect(Math.min(...lane)).toBeGreaterThanOrEqual(0);
      expect(Math.max(...lane)).toBeLessThan(1.2);
    }
    // Points have what their first corner has.
    const first = mesh.cornerPoint.indexOf(0);
    expect(mesh.points.columns.uv.lanes.map((lane) => lane[0])).toEqual([u[first], v[first]]);
  });

  it.each([
    { around: 24, rings: 12 },
    { build: "geodesic", detail: 3 },
  ] as const)("a ball is laid out as three's SphereGeometry is, but for where it begins", (set) => {
    const mesh = meshOf("sphere", { radius: 1, ...set });
    const [u, v] = mesh.corners.columns.uv.lanes;
    const [x, y, z] = mesh.points.columns.position.lanes;
    mesh.cornerPoint.forEach((p, c) => {
      // three 0.187, SphereGeometry.js: x = −cos 2πu sin πv, y = cos πv, z = sin 2πu sin πv; its v is turned over when stored.
      const [turn, down] = [2 * Math.PI * (u[c] + 0.5), Math.PI * v[c]];
      expect(y[p]).toBeCloseTo(Math.cos(down), 5);
      expect(x[p]).toBeCloseTo(-Math.cos(turn) * Math.sin(down), 5);
      expect(z[p]).toBeCloseTo(Math.sin(turn) * Math.sin(down), 5);
    });
  });

  it("goes along with scattered sites, also across the seam, and into files", () => {
    const ball = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 5 } };
    const scattered = graphOf({ ball, scatter: { type: "scatter-sites", set: { count: 2000 } } }, [
      "ball.shape>scatter.shape",
    ]);
    const { sites } = outputsOf(scattered, "scatter").sites as Shape;
    const { position, uv } = (sites as Domain).columns;
    const [x, , z] = position.lanes;
    const [u] = uv.lanes;
    let wrong = 0;
    for (let i = 0; i < 2000; i++) {
      if (x[i] * x[i] + z[i] * z[i] < 0.05) continue;
      const turn = u[i] - Math.atan2(-z[i], x[i]) / (2 * Math.PI);
      if (Math.abs(turn - Math.round(turn)) > 0.01) wrong++;
    }
    expect(wrong).toBe(0);
    const laid = triangulate(meshOf("sphere", {}), true);
    expect(laid.uvs?.length).toBe((laid.positions.length / 3) * 2);
    expect(triangulate(meshOf("sphere", {})).uvs).toBeUndefined();
  });
});

it("shades a sphere smooth and a box flat", () => {
  const smooth = triangulate(meshOf("sphere", { radius: 1, around: 24, rings: 12 }));
  expect(smooth.positions.length / 3).toBe(2 + 24 * 11);
  const flat = triangulate(meshOf("box", { size: [1, 1, 1] }));
  expect(flat.positions.length / 3).toBe(24);
});
