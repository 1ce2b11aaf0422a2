/** Faces of any outline: how they are cut, their areas, and which way a surface looks at its points. */
import { triangulate } from "../../src/core/draw/triangulate";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { meshArea, meshVolume } from "../../src/core/geometry/measure";
import { type Mesh, makeMesh, splitVectors } from "../../src/core/geometry/mesh";
import { pointNormals } from "../../src/core/geometry/normals";
import type { Shape } from "../../src/core/geometry/shape";
import { triangleCorners } from "../../src/core/geometry/triangles";
import { graphOf, outputsOf, runNode } from "../run-node";

const meshOf = (type: string, set: object): Mesh => (runNode(type, set).shape as Shape).mesh as Mesh;
const polygon = (...points: [number, number, number][]): Mesh =>
  makeMesh({
    position: splitVectors(points.flat()),
    faceStarts: Int32Array.of(0, points.length),
    cornerPoint: Int32Array.from(points, (_, i) => i),
  });

/** An L of three squares of side 2 less one of side 1 … 4 × 4 without a quarter of 2 × 4. */
const L = [
  [0, 0],
  [4, 0],
  [4, 1],
  [1, 1],
  [1, 5],
  [0, 5],
] as const;

describe("areas of concave faces", () => {
  // Each of the three planes, both ways round: the shoelace formula gives 4·1 + 1·4 = 8.
  it.each([0, 1, 2])("an L across axis %i has 8", (axis) => {
    for (const order of [L, [...L].reverse()]) {
      const mesh = polygon(
        ...order.map(([u, v]) => {
          const p: [number, number, number] = [0, 0, 0];
          p[(axis + 1) % 3] = u;
          p[(axis + 2) % 3] = v;
          return p;
        }),
      );
      expect(meshArea(mesh)).toBeCloseTo(8, 5);
      expect(triangleCorners(mesh)).toHaveLength(3 * 4);
    }
  });

  it("wherever an arrowhead begins, it has 1: half of 2 × 2 without half of 2 × 1", () => {
    const arrow: [number, number, number][] = [
      [-1, 0, 0],
      [0, 1, 0],
      [1, 0, 0],
      [0, 2, 0],
    ];
    for (let from = 0; from < 4; from++)
      for (const order of [arrow, [...arrow].reverse()])
        expect(meshArea(polygon(...order.slice(from), ...order.slice(0, from)))).toBeCloseTo(1, 6);
  });

  it("a star has n·R·r·sin(π/n)", () => {
    expect(meshArea(meshOf("star", { outer: 1, inner: 0.4, points: 5 }))).toBeCloseTo(
      5 * 0.4 * Math.sin(Math.PI / 5),
      5,
    );
  });

  it("OBJ: concave faces of four and six corners, by number from the front and from the end", async () => {
    const file = (face: string, points: readonly (readonly number[])[]) =>
      new TextEncoder().encode(`${points.map(([x, y]) => `v ${x} ${y} 0`).join("\n")}\nf ${face}\n`);
    const area = async (face: string, points: readonly (readonly number[])[]) =>
      meshArea(((await readAsset("l.obj", file(face, points))) as { shape: Shape }).shape.mesh as Mesh);
    expect(await area("1 2 3 4 5 6", L)).toBeCloseTo(8, 5);
    expect(await area("-3 -2 -1 -6 -5 -4", L)).toBeCloseTo(8, 5);
    const arrow = [
      [-1, 0],
      [0, 1],
      [1, 0],
      [0, 2],
    ];
    expect(await area("1 2 3 4", arrow)).toBeCloseTo(1, 5);
  });

  it("relaxed sites on a star keep more than half of the greatest distance", () => {
    const count = 60;
    const sites = (
      outputsOf(
        graphOf(
          {
            star: { type: "star", set: { outer: 2, inner: 0.8, points: 5 } },
            scatter: { type: "scatter-sites", set: { count, spread: "relaxed" } },
          },
          ["star.shape>scatter.shape"],
        ),
        "scatter",
      ).sites as Shape
    ).sites as NonNullable<Shape["sites"]>;
    const [x, y, z] = sites.columns.position.lanes;
    let least = Number.POSITIVE_INFINITY;
    for (let i = 0; i < count; i++)
      for (let j = 0; j < i; j++) least = Math.min(least, Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j]));
    // Discs in the densest packing: area ÷ count = d² √3 ÷ 2 (common knowledge, Lagrange).
    const area = 5 * 2 * 0.8 * Math.sin(Math.PI / 5);
    expect(least / Math.sqrt((2 * area) / (Math.sqrt(3) * count))).toBeGreaterThan(0.5);
  });
});

describe("normals at points do not depend on how flat parts are cut (Thürmer and Wüthrich 1998)", () => {
  /** A cube of triangles with one diagonal a side: corners have one, two or three triangles a side. */
  const cube = (flip: number): Mesh => {
    const sides = [
      [0, 4, 6, 2],
      [1, 3, 7, 5],
      [0, 1, 5, 4],
      [2, 6, 7, 3],
      [0, 2, 3, 1],
      [4, 5, 7, 6],
    ];
    const corners = sides.flatMap(([a, b, c, d], i) =>
      (flip >> i) & 1 ? [a, b, c, a, c, d] : [b, c, d, b, d, a],
    );
    return makeMesh({
      position: splitVectors(
        Array.from({ length: 8 }, (_, p) => [p & 1 ? 1 : -1, p & 2 ? 1 : -1, p & 4 ? 1 : -1]).flat(),
      ),
      faceStarts: Int32Array.from({ length: 13 }, (_, f) => f * 3),
      cornerPoint: Int32Array.from(corners),
    });
  };

  it("a welded cube of triangles looks along its diagonals, whichever way its sides are cut", () => {
    for (let flip = 0; flip < 64; flip += 7) {
      const mesh = cube(flip);
      expect(meshVolume(mesh)).toBeCloseTo(8, 5);
      const normals = pointNormals(mesh);
      for (let p = 0; p < 8; p++)
        for (let a = 0; a < 3; a++)
          expect(normals[a][p]).toBeCloseTo(mesh.points.columns.position.lanes[a][p] / Math.sqrt(3), 6);
    }
  });

  it("Shape sites at the corners of that cube stand along the diagonals too", async () => {
    const box = outputsOf(
      graphOf(
        { box: { type: "box" }, sites: { type: "shape-sites", set: { at: "corners", outward: "z" } } },
        ["box.shape>sites.shape"],
      ),
      "sites",
    ).sites as Shape;
    const { position, rotation } = (box.sites as NonNullable<Shape["sites"]>).columns;
    for (let i = 0; i < 8; i++) {
      const [x, y, z, w] = rotation.lanes.map((lane) => lane[i]);
      // Where +Z goes by the rotation.
      const front = [2 * (x * z + w * y), 2 * (y * z - w * x), 1 - 2 * (x * x + y * y)];
      front.forEach((v, a) => {
        expect(v).toBeCloseTo(Math.sign(position.lanes[a][i]) / Math.sqrt(3), 5);
      });
    }
  });

  it("an STL column of 24 sides is shaded along its radii", async () => {
    const around = 24;
    const triangles: number[][][] = [];
    const at = (k: number, y: number) => {
      const t = (2 * Math.PI * k) / around;
      return [Math.fround(Math.cos(t)), y, Math.fround(Math.sin(t))];
    };
    for (let k = 0; k < around; k++) {
      const [a, b] = [k, (k + 1) % around];
      triangles.push([at(a, 0), at(a, 1), at(b, 1)], [at(a, 0), at(b, 1), at(b, 0)]);
    }
    const bytes = new Uint8Array(84 + 50 * triangles.length);
    const view = new DataView(bytes.buffer);
    view.setUint32(80, triangles.length, true);
    triangles.forEach((corners, t) => {
      corners.flat().forEach((v, i) => {
        view.setFloat32(84 + 50 * t + 12 + 4 * i, v, true);
      });
    });
    const { shape } = (await readAsset("column.stl", bytes)) as { shape: Shape };
    const { positions, normals } = triangulate(shape.mesh as Mesh);
    for (let v = 0; v < positions.length; v += 3) {
      const along = normals[v] * positions[v] + normals[v + 2] * positions[v + 2];
      expect((Math.acos(Math.min(1, along)) * 180) / Math.PI).toBeLessThan(0.1);
    }
  });

  it("a concave corner counts by its angle of more than half a turn", () => {
    // The inner corner of an L-shaped prism: its top takes 270°, its two walls 90° each.
    const n = L.length;
    const points = [...L.map(([x, y]) => [x, y, 0]), ...L.map(([x, y]) => [x, y, 1])];
    const faces = [
      L.map((_, i) => n - 1 - i),
      L.map((_, i) => n + i),
      ...L.map((_, i) => [i, (i + 1) % n, n + ((i + 1) % n), n + i]),
    ];
    const mesh = makeMesh({
      position: splitVectors(points.flat()),
      faceStarts: Int32Array.from([0, ...faces.map((_, f) => faces.slice(0, f + 1).flat().length)]),
      cornerPoint: Int32Array.from(faces.flat()),
    });
    expect(meshVolume(mesh)).toBeCloseTo(8, 5);
    const normals = pointNormals(mesh);
    const inner = n + 3;
    const wanted = [1, 1, 3].map((v) => v / Math.sqrt(11));
    wanted.forEach((v, a) => {
      expect(normals[a][inner]).toBeCloseTo(v, 5);
    });
  });
});
