/** Curves: their nodes, and that everything that takes shapes takes them. */
import { WebIO } from "@gltf-transform/core";
import { validateBytes } from "gltf-validator";
import { drawingOf } from "../../src/core/draw/drawing";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { writeGlb } from "../../src/core/formats/write/glb";
import { writeObj, writeStl } from "../../src/core/formats/write/triangle-files";
import { shapeBounds } from "../../src/core/geometry/bounds";
import { type Columns, makeColumn, withColumns } from "../../src/core/geometry/column";
import {
  type Curves,
  curveLengths,
  curveTangents,
  isClosedCurve,
  makeCurve,
} from "../../src/core/geometry/curves";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { roundSection } from "../../src/core/surfaces/section";
import { sweep } from "../../src/core/surfaces/sweep";
import { graphOf, outputsOf, runNode } from "../run-node";

const curvesOf = (type: string, set: object = {}): Curves =>
  (runNode(type, set).shape as Shape).curves as Curves;

describe("line, arc and helix", () => {
  it("spaces a line's points evenly, both ends included", () => {
    const { points } = curvesOf("line", { from: [1, 0, 0], to: [3, 4, 0], points: 5 });
    expect([...points.columns.position.lanes[0]]).toEqual([1, 1.5, 2, 2.5, 3]);
    expect([...points.columns.along.lanes[0]]).toEqual([0, 0.25, 0.5, 0.75, 1]);
  });

  it("comes near the circumference 2πr and closes a full circle", () => {
    const circle = curvesOf("arc", { radius: 2, points: 360 });
    expect(isClosedCurve(circle, 0)).toBe(true);
    // A regular polygon of n sides in a circle: 2 n r sin(π/n) (handbook of geometry).
    expect(curveLengths(circle)[0]).toBeCloseTo(2 * 360 * 2 * Math.sin(Math.PI / 360), 4);
    const half = curvesOf("arc", { sweep: 180, points: 181 });
    expect(isClosedCurve(half, 0)).toBe(false);
    expect(curveLengths(half)[0]).toBeCloseTo(Math.PI, 3);
  });

  it("begins along x and goes on towards −z, as rings do", () => {
    const [x, , z] = curvesOf("arc", { sweep: 90, points: 2 }).points.columns.position.lanes;
    expect([x[0], z[0]]).toEqual([1, -0]);
    expect(x[1]).toBeCloseTo(0, 6);
    expect(z[1]).toBeCloseTo(-1, 6);
  });

  it("gives a helix the length √((2πrn)² + h²)", () => {
    // CUR-07: r = 2, c = 0.5, one turn.
    const turn = curvesOf("helix", { radius: 2, topRadius: 2, height: Math.PI, turns: 1, points: 512 });
    expect(curveLengths(turn)[0]).toBeCloseTo(12.95311834, 2);
    // Arc length of a circular helix (handbook of geometry).
    const helix = curvesOf("helix", { radius: 1.5, topRadius: 1.5, height: 4, turns: 3, points: 128 });
    expect(curveLengths(helix)[0]).toBeCloseTo(Math.hypot(2 * Math.PI * 1.5 * 3, 4), 1);
    const { min, max } = shapeBounds({ curves: helix }) ?? { min: [], max: [] };
    expect([min[1], max[1]]).toEqual([0, 4]);
  });

  it("points along the curve at every point", () => {
    const circle = curvesOf("arc", { points: 64 });
    const [x, , z] = circle.points.columns.position.lanes;
    const [tx, , tz] = curveTangents(circle);
    for (let i = 0; i < 64; i++) {
      expect(tx[i] * x[i] + tz[i] * z[i]).toBeCloseTo(0, 5);
      expect(Math.hypot(tx[i], tz[i])).toBeCloseTo(1, 5);
    }
  });
});

describe("what takes shapes takes curves", () => {
  const nodes = {
    arc: { type: "arc", set: { points: 8 } },
    move: { type: "move", set: { by: [0, 2, 0] } },
    mirror: { type: "mirror", set: { across: "y" } },
    place: { type: "transform", set: { move: [5, 0, 0], size: 2 } },
    ring: { type: "ring-sites", set: { count: 3 } },
    clones: { type: "clone-onto-sites" },
    stand: { type: "shape-sites", set: { outward: "z" } },
  };
  const links = [
    "arc.shape>move.shape",
    "move.shape>mirror.shape",
    "mirror.shape>place.shape",
    "ring.sites>clones.sites",
    "arc.shape>clones.shapes",
    "arc.shape>stand.shape",
  ];
  const shapeAt = (node: string, port = "shape") => outputsOf(graphOf(nodes, links), node)[port] as Shape;

  it("moves, mirrors, merges and transforms them", () => {
    expect(shapeBounds(shapeAt("move"))?.max[1]).toBe(2);
    const both = shapeAt("mirror");
    expect(both.curves?.curves.count).toBe(2);
    expect([...(both.curves?.curveStarts ?? [])]).toEqual([0, 8, 16]);
    expect(shapeBounds(both)).toMatchObject({ min: [-1, -2, -1], max: [1, 2, 1] });
    expect(shapeBounds(shapeAt("place"))).toMatchObject({ min: [3, -4, -2], max: [7, 4, 2] });
  });

  it("clones them and draws every segment of every copy once", () => {
    const { lines, clones } = drawingOf(shapeAt("clones", "clones"));
    expect(clones).toBe(3);
    expect(lines?.count).toBe(3 * 8);
  });

  it("puts sites on their points, looking along them", () => {
    const { sites } = shapeAt("stand", "sites");
    expect(sites?.count).toBe(8);
    const [qx, qy, qz, qw] = (sites?.columns.rotation.lanes ?? []).map((lane) => lane[0]);
    // The own z axis under the rotation; at the first point of the circle the direction is −z.
    expect(2 * (qx * qz + qy * qw)).toBeCloseTo(0, 5);
    expect(1 - 2 * (qx * qx + qy * qy)).toBeCloseTo(-1, 5);
  });

  it("leaves as glTF lines and OBJ l elements that come back the same", async () => {
    const drawing = drawingOf(shapeAt("mirror"));
    const glb = await writeGlb(drawing, { copies: "baked", name: "lines" });
    const { issues } = await validateBytes(glb);
    expect(issues.numErrors + issues.numWarnings).toBe(0);
    const [mesh] = (await new WebIO().readBinary(glb)).getRoot().listMeshes();
    // glTF 2.0 §5.24.5: mode 1 is LINES.
    expect(mesh.listPrimitives()[0].getMode()).toBe(1);
    for (const [file, bytes] of [
      ["a.glb", glb],
      ["a.obj", writeObj(drawing)],
    ] as const) {
      const content = await readAsset(file, bytes);
      const { curves } = content.kind === "shape" ? content.shape : {};
      expect([...(curves?.curveStarts ?? [])]).toEqual([0, 8, 16]);
      expect(curves && isClosedCurve(curves, 1)).toBe(true);
    }
  });

  it("refuses formats that hold no lines", () => {
    expect(() => writeStl(drawingOf(shapeAt("arc")))).toThrow("no faces");
  });

  it("takes edge middles of a mesh: a cube has twelve, each a unit long", () => {
    const document = graphOf(
      { box: { type: "box" }, at: { type: "shape-sites", set: { at: "edge middles" } } },
      ["box.shape>at.shape"],
    );
    const { sites } = outputsOf(document, "at").sites as Shape;
    expect(sites?.count).toBe(12);
    expect([...(sites?.columns.size.lanes[0] ?? [])]).toEqual(new Array(12).fill(1));
  });
});

test("radius and tilt of the points shape what is put around a curve", () => {
  const line = makeCurve(3, false, (i) => [0, 0, i]);
  const carrying = (columns: Columns) => ({ ...line, points: withColumns(line.points, columns) });
  const number = (...values: number[]) => makeColumn("number", [Float32Array.from(values)]);
  const ringOf = (curves: Curves, i: number) => {
    const { lanes } = (
      sweep(curves, { sections: [roundSection(4)], size: new Float32Array(3).fill(0.5), caps: false }) as Mesh
    ).points.columns.position;
    return Array.from({ length: 4 }, (_, j) => [lanes[0][i * 4 + j], lanes[1][i * 4 + j]]);
  };
  const size = ([x, y]: number[]) => Math.hypot(x, y);
  const grown = carrying({ radius: number(1, 2, 0) });
  expect([0, 1, 2].map((i) => size(ringOf(grown, i)[0]))).toEqual([0.5, 1, 0]);
  // A quarter turn puts each corner of a square ring where the next one was: a rotation by 90° is (x, y) → (−y, x).
  const turned = ringOf(carrying({ tilt: number(0, 90, 0) }), 1);
  ringOf(line, 1).forEach(([x, y], j) => {
    expect(turned[j][0]).toBeCloseTo(-y, 6);
    expect(turned[j][1]).toBeCloseTo(x, 6);
  });
});
