/** Outlines filled and given a depth, by hand-worked figures and by what holds of any. */

import fc from "fast-check";
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import { faceAreaVectors } from "../../src/core/geometry/mesh";
import { type Outline, regionsOf } from "../../src/core/geometry/outlines";
import type { Shape } from "../../src/core/geometry/shape";
import { solidOf } from "../../src/core/geometry/solid-of-regions";
import { graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";
import { signedArea } from "../shoelace";

const square = (size: number, x = 0, y = 0): Outline => [x, y, x + size, y, x + size, y + size, x, y + size];
const backwards = (outline: Outline): Outline =>
  Array.from({ length: outline.length / 2 }, (_, i) =>
    outline.slice(-2 * i - 2, outline.length - 2 * i),
  ).flat();
const FLAT = { depth: 0, bevel: 0, steps: 1 };

it("cuts a square with two holes into n + 2h − 2 triangles of its area [MSH-18]", () => {
  const outlines = [square(10), backwards(square(2, 1, 1)), backwards(square(2, 6, 5))];
  const mesh = solidOf(regionsOf(outlines, "where it winds"), FLAT);
  expect(mesh.faces.count).toBe(14);
  expect(meshArea(mesh)).toBeCloseTo(92, 5);
});

it("has the area of the shoelace formula [MSH-17]", () => {
  const mesh = solidOf(regionsOf([[0, 0, 4, 0, 4, 3, 2, 3, 2, 1, 0, 1]], "where it winds"), FLAT);
  expect(meshArea(mesh)).toBeCloseTo(8, 6);
});

it("decides by the rule what is inside where squares lie in each other", () => {
  const nested = [square(6), square(4, 1, 1), square(2, 2, 2)];
  const area = (outlines: readonly Outline[], rule: Parameters<typeof regionsOf>[1]) =>
    meshArea(solidOf(regionsOf(outlines, rule), FLAT));
  expect(area(nested, "where it winds")).toBeCloseTo(36, 5);
  expect(area(nested, "every other one")).toBeCloseTo(36 - 16 + 4, 5);
  const hole = [nested[0], backwards(nested[1]), nested[2]];
  expect(area(hole, "where it winds")).toBeCloseTo(24, 5);
  expect(area(hole, "all that is outlined")).toBeCloseTo(36, 5);
  // Inside out as a whole it is the same.
  expect(area(hole.map(backwards), "where it winds")).toBeCloseTo(24, 5);
});

it("fills what crosses itself: the points of a five-pointed star in one stroke, with and without its middle", () => {
  const tips = Array.from({ length: 5 }, (_, i) => {
    const angle = Math.PI / 2 + (i * 4 * Math.PI) / 5;
    return [Math.cos(angle), Math.sin(angle)];
  }).flat();
  const area = (rule: Parameters<typeof regionsOf>[1]) => meshArea(solidOf(regionsOf([tips], rule), FLAT));
  // Of the pentagram of circumradius 1: its star has the area 10 tan 18° / (3 − tan² 18°), its pentagon 5/2 sin 72° (φ⁻²)² (derived).
  const t = Math.tan(Math.PI / 10);
  const star = (10 * t) / (3 - t * t);
  const pentagon = 2.5 * Math.sin((2 * Math.PI) / 5) * ((3 - Math.sqrt(5)) / 2) ** 2;
  expect(area("where it winds")).toBeCloseTo(star, 4);
  expect(area("every other one")).toBeCloseTo(star - pentagon, 4);
});

it("gives a square with edges cut straight the volume of a box and two frusta", () => {
  const [s, c, d] = [2, 0.1, 0.5];
  const mesh = solidOf(regionsOf([square(s)], "where it winds"), { depth: d, bevel: c, steps: 1 });
  const small = s - 2 * c;
  const frustum = (c / 3) * (s * s + small * small + s * small);
  expect(meshVolume(mesh)).toBeCloseTo(s * s * (d - 2 * c) + 2 * frustum, 5);
  expect(isClosed(mesh)).toBe(true);
  // Cut right to the middle both frusta meet.
  const pointed = solidOf(regionsOf([square(s)], "where it winds"), { depth: d, bevel: 5, steps: 1 });
  expect(isClosed(pointed)).toBe(true);
  expect(pointed.points.count).toBe(12);
});

it("loses nothing where an outline goes back the way that it came", () => {
  // Two triangles that meet where the last edge crosses the third: 1/2 · 1/2 · 1 and 1/2 · 1/2 · 3 (derived).
  const outline = [-1, 0, 0, 0, -1, 0, 0, -1, 0, 0, 3, -2];
  for (const rule of ["where it winds", "every other one"] as const)
    expect(meshArea(solidOf(regionsOf([outline], rule), FLAT))).toBeCloseTo(1, 5);
});

it("makes closed solids of any outlines, however they cross", () => {
  const coordinate = fc.integer({ min: -20, max: 20 });
  let amiss = 0;
  const outline = fc
    .array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 9 })
    .map((points) => points.flat());
  fc.assert(
    fc.property(
      fc.array(outline, { minLength: 1, maxLength: 4 }),
      fc.constantFrom("where it winds", "every other one", "all that is outlined"),
      (outlines, rule) => {
        const regions = regionsOf(outlines, rule);
        const solid = solidOf(regions, { depth: 2, bevel: 0, steps: 1 });
        const flat = meshArea(solidOf(regions, FLAT));
        const wanted = regions.reduce(
          (sum, { edge, holes }) => sum + signedArea(edge) + holes.reduce((s, h) => s + signedArea(h), 0),
          0,
        );
        // Outlines that touch themselves at a place between their points may be cut amiss, by earcut and by Clipper.
        if (Math.abs(flat - wanted) > 1e-3 * wanted) {
          amiss++;
          return;
        }
        expect(meshVolume(solid)).toBeCloseTo(2 * flat, 2);
        // Faces of a corner look away from what is solid; a region that touches itself in a point is no harm.
        for (const lane of solid.corners.columns.normal?.lanes ?? [])
          for (const v of lane) expect(Math.abs(v)).toBeLessThanOrEqual(1 + 1e-6);
      },
    ),
    { numRuns: 150 },
  );
  expect(amiss).toBeLessThan(4);
});

describe("the nodes", () => {
  const ring = (radius: number, points = 24): NodeSpec => ({ type: "arc", set: { radius, points } });
  const made = (nodes: Record<string, NodeSpec>, links: readonly string[]) =>
    outputsOf(graphOf(nodes, links), "node").shape as Shape;

  it("fill rings that lie on the ground, facing up, and extrude them about it", () => {
    const nodes = { outer: ring(2), inner: ring(1), all: { type: "merge" } };
    const links = ["outer.shape>all.shapes", "inner.shape>all.shapes", "all.shape>node.shape"];
    const polygon = (r: number) => 12 * r * r * Math.sin(Math.PI / 12);
    const flat = made(
      { ...nodes, node: { type: "fill-outline", set: { inside: "every other one" } } },
      links,
    );
    expect(meshArea(flat.mesh as never)).toBeCloseTo(polygon(2) - polygon(1), 4);
    const normals = flat.mesh?.corners.columns.normal?.lanes[1] ?? [];
    for (const y of normals) expect(y).toBeCloseTo(1, 5);
    const solid = made(
      { ...nodes, node: { type: "extrude", set: { inside: "every other one", depth: 0.5 } } },
      links,
    ).mesh;
    if (!solid) throw new Error("There is no mesh.");
    expect(meshVolume(solid)).toBeCloseTo((polygon(2) - polygon(1)) * 0.5, 4);
    expect([isClosed(solid), eulerCharacteristic(solid)]).toEqual([true, 0]);
    const heights = solid.points.columns.position.lanes[1];
    expect([Math.min(...heights), Math.max(...heights)]).toEqual([
      expect.closeTo(-0.25, 5),
      expect.closeTo(0.25, 5),
    ]);
  });

  it("give outlines depths of their own", () => {
    const solid = made(
      {
        one: ring(1),
        two: ring(1),
        moved: { type: "transform", set: { move: [5, 0, 0] } },
        all: { type: "merge" },
        index: { type: "index" },
        deep: { type: "arithmetic", set: { do: "add", b: 1 } },
        node: { type: "extrude" },
      },
      [
        "one.shape>all.shapes",
        "two.shape>moved.shape",
        "moved.shape>all.shapes",
        "index.index>deep.a",
        "deep.value>node.depth",
        "all.shape>node.shape",
      ],
    ).mesh;
    if (!solid) throw new Error("There is no mesh.");
    const area = 12 * Math.sin(Math.PI / 12);
    expect(meshVolume(solid)).toBeCloseTo(area * (1 + 2), 4);
  });

  it("say what is open, not flat, or nothing at all", () => {
    const told = (nodes: Record<string, NodeSpec>, links: readonly string[]) =>
      reportOf(graphOf({ ...nodes, node: { type: "fill-outline" } }, links), "node").problems.map(
        (p) => p.what,
      );
    expect(told({}, [])[0]).toMatch(/No curves/);
    expect(told({ line: { type: "line" } }, ["line.shape>node.shape"])[0]).toMatch(/1 of 1 curves are open/);
    expect(told({ arc: ring(0) }, ["arc.shape>node.shape"]).join()).toMatch(/enclose nothing/);
    const bent = { round: ring(1), wave: { type: "formula", set: { formula: "sin(place.x * 200)" } } };
    const lift = { lift: { type: "join-vector" }, moved: { type: "move" } };
    expect(
      told({ ...bent, ...lift }, [
        "wave.value>lift.y",
        "lift.vector>moved.by",
        "round.shape>moved.shape",
        "moved.shape>node.shape",
      ]).join(),
    ).toMatch(/not lie in one plane/);
  });
});

it("keeps edges that are cut back from crossing: fronts look to the front, however narrow it is", () => {
  const circle = (radius: number, count: number, back = false): Outline =>
    Array.from({ length: count }, (_, i) => ((back ? -i : i) / count) * 2 * Math.PI).flatMap((angle) => [
      radius * Math.cos(angle),
      radius * Math.sin(angle),
    ]);
  const leaf: Outline = Array.from({ length: 24 }, (_, i) => i / 12).flatMap((t) =>
    t < 1 ? [t, 0.3 * Math.sin(Math.PI * t)] : [2 - t, -0.3 * Math.sin(Math.PI * (t - 1))],
  );
  for (const outlines of [
    [circle(2, 60), circle(1.7, 47, true)],
    [backwards(leaf)],
    [[0, 0, 4, -0.1, 4, 0.1]],
  ]) {
    const mesh = solidOf(regionsOf(outlines, "where it winds"), { depth: 1, bevel: 0.12, steps: 3 });
    const up = faceAreaVectors(mesh)[2];
    const side = mesh.faces.columns.side.lanes[0];
    expect(Math.min(...up.filter((_, f) => side[f] === 0))).toBeGreaterThanOrEqual(0);
    expect(Math.max(...up.filter((_, f) => side[f] === 2))).toBeLessThanOrEqual(0);
    expect(isClosed(mesh)).toBe(true);
  }
});
