/** Primitives against solid geometry: volume, area, Euler characteristic, closedness. */

import { triangulate } from "../../src/core/draw/triangulate";
import {
  edgeCount,
  eulerCharacteristic,
  isClosed,
  meshArea,
  meshVolume,
} from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { runNode } from "../run-node";

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

it("shades a sphere smooth and a box flat", () => {
  const smooth = triangulate(meshOf("sphere", { radius: 1, around: 24, rings: 12 }));
  expect(smooth.positions.length / 3).toBe(2 + 24 * 11);
  const flat = triangulate(meshOf("box", { size: [1, 1, 1] }));
  expect(flat.positions.length / 3).toBe(24);
});
