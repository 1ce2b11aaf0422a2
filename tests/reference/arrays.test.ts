/** Layouts against the geometry of arrays; ids in brackets are rows of the check list named in docs/CHECKS.md. */
import type { Shape } from "../../src/core/geometry/shape";
import { runNode } from "../run-node";

const sitesOf = (
  type: string,
  set: object,
): { x: Float32Array; y: Float32Array; z: Float32Array; count: number } => {
  const { sites } = runNode(type, set).sites as Shape;
  const [x, y, z] = (sites?.columns.position.lanes ?? []) as Float32Array[];
  return { x, y, z, count: sites?.count ?? 0 };
};
const angleOf = (s: { x: Float32Array; y: Float32Array }, i: number) =>
  (Math.atan2(s.y[i], s.x[i]) * 180) / Math.PI;

describe("ring sites", () => {
  it.each([
    [12, 30, 0.5176380902],
    [13, 27.69230769, 0.4786313286],
    [7, 360 / 7, 0.8677674782],
  ])("%i around 360° step %f° [ARR-05, ARR-06: 360/n, 2 sin(π/n)]", (count, step, distance) => {
    const s = sitesOf("ring-sites", { count, radius: 1, around: "z" });
    expect(s.count).toBe(count);
    expect(angleOf(s, 1)).toBeCloseTo(step, 4);
    expect(Math.hypot(s.x[1] - s.x[0], s.y[1] - s.y[0])).toBeCloseTo(distance, 6);
    expect(Math.hypot(s.x[count - 1] - s.x[0], s.y[count - 1] - s.y[0])).toBeCloseTo(distance, 6);
  });

  it("places twelve counter-clockwise from +X [ARR-07]", () => {
    const s = sitesOf("ring-sites", { count: 12, radius: 2, around: "z" });
    for (const [i, x, y] of [
      [1, 1.732050808, 1],
      [2, 1, 1.732050808],
      [5, -1.732050808, 1],
    ]) {
      expect(s.x[i]).toBeCloseTo(x, 5);
      expect(s.y[i]).toBeCloseTo(y, 5);
    }
  });

  it("sums to nothing for thirteen, squares to n/2 [ARR-09: roots of unity]", () => {
    const s = sitesOf("ring-sites", { count: 13, radius: 1, around: "z" });
    const sum = (f: (i: number) => number) =>
      Array.from({ length: 13 }, (_, i) => f(i)).reduce((a, b) => a + b);
    expect(sum((i) => s.x[i])).toBeCloseTo(0, 5);
    expect(sum((i) => s.y[i])).toBeCloseTo(0, 5);
    expect(sum((i) => s.x[i] ** 2)).toBeCloseTo(6.5, 5);
  });

  it("includes both ends of an arc [ARR-10: span/(n−1)]", () => {
    const s = sitesOf("ring-sites", { count: 7, radius: 1, sweep: 90, around: "z" });
    for (let i = 0; i < 7; i++) expect(angleOf(s, i)).toBeCloseTo(15 * i, 4);
  });

  it.each(["x", "y", "z"] as const)("points the own %s axis out", (axis) => {
    for (const around of ["x", "y", "z"]) {
      const { sites } = runNode("ring-sites", { count: 5, radius: 3, outward: axis, around }).sites as Shape;
      const p = sites?.columns.position.lanes ?? [];
      const q = sites?.columns.rotation.lanes ?? [];
      for (let i = 0; i < 5; i++) {
        const [x, y, z, w] = q.map((lane) => lane[i]);
        // First, second or third column of the rotation matrix.
        const column = {
          x: [1 - 2 * (y * y + z * z), 2 * (x * y + w * z), 2 * (x * z - w * y)],
          y: [2 * (x * y - w * z), 1 - 2 * (x * x + z * z), 2 * (y * z + w * x)],
          z: [2 * (x * z + w * y), 2 * (y * z - w * x), 1 - 2 * (x * x + y * y)],
        }[axis];
        for (let a = 0; a < 3; a++) expect(column[a]).toBeCloseTo(p[a][i] / 3, 5);
      }
    }
  });
});

describe("grid sites", () => {
  it("has 121 sites for 10 × 10 cells (common practice, no source)", () => {
    expect(sitesOf("grid-sites", { across: 10, up: 0, deep: 10, counted: "cells" }).count).toBe(121);
  });

  it("is centred: 5 × 4 × 3 with spacing (2, 1, 0.5) [ARR-11]", () => {
    const s = sitesOf("grid-sites", { across: 5, up: 4, deep: 3, spacing: [2, 1, 0.5] });
    expect(s.count).toBe(60);
    const variance = (lane: Float32Array) => lane.reduce((sum, v) => sum + v * v, 0) / lane.length;
    expect([Math.max(...s.x), Math.max(...s.y), Math.max(...s.z)]).toEqual([4, 1.5, 0.5]);
    expect(variance(s.x)).toBeCloseTo(8, 5);
    expect(variance(s.y)).toBeCloseTo(1.25, 5);
    expect(variance(s.z)).toBeCloseTo(0.1666666667, 6);
  });
});

describe("spiral sites", () => {
  it("turns by the golden angle [ARR-01: 137.5077640500378°, Vogel 1979]", () => {
    const s = sitesOf("spiral-sites", { count: 100, on: "disc", radius: 1 });
    const turn = (i: number) => Math.atan2(-s.z[i], s.x[i]);
    for (let i = 1; i < 99; i++) {
      const step = (((((turn(i + 1) - turn(i)) * 180) / Math.PI) % 360) + 360) % 360;
      expect(step).toBeCloseTo(137.5077640500378, 3);
    }
  });

  it("gives every site the same area of the disc [ARR-04: n within √n]", () => {
    const s = sitesOf("spiral-sites", { count: 625, on: "disc", radius: 25 });
    const within = (radius: number) => s.x.filter((x, i) => Math.hypot(x, s.z[i]) <= radius).length;
    expect(within(10)).toBe(100);
    expect(within(25)).toBe(625);
  });

  it("is the Fibonacci lattice on a ball [ARR-14: González 2010]", () => {
    const s = sitesOf("spiral-sites", { count: 100, on: "ball", radius: 1 });
    expect(s.y.reduce((a, b) => a + b)).toBeCloseTo(0, 4);
    expect(s.y.reduce((a, b) => a + b * b, 0) / 100).toBeCloseTo(0.3333, 5);
    expect([s.x[0], s.y[0]]).toEqual([expect.closeTo(0.1410673598, 5), expect.closeTo(0.99, 6)]);
    expect([s.x[50], -s.z[50], s.y[50]]).toEqual([
      expect.closeTo(0.8152062921, 5),
      expect.closeTo(0.5790843646, 5),
      expect.closeTo(-0.01, 5),
    ]);
  });
});
