/** Lines that grow: what is kept when edges are split [GRO-13], how a ring folds [GRO-14, GRO-15], and where it may go. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { type Curves, curveLengths, makeCurve } from "../../src/core/geometry/curves";
import { begun, grownLines, type LineSettings } from "../../src/core/growth/lines";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const none = ({ count }: { count: number }) => new Float32Array(count);
const SETTINGS: LineSettings = {
  apart: 0,
  edge: 0.15,
  pull: 0,
  push: 0,
  growth: none,
  held: none,
  hold: null,
  most: 5000,
  seed: 1,
};
/** A regular polygon of radius 1. */
const ring = (n: number): Curves =>
  begun(makeCurve(n, true, (i) => [Math.cos((i / n) * 2 * Math.PI), 0, Math.sin((i / n) * 2 * Math.PI)]));
const grown = (curves: Curves, set: Partial<LineSettings>, rounds: number): Curves => {
  let made = curves;
  for (let round = 1; round <= rounds; round++) made = grownLines(made, { ...SETTINGS, ...set }, round);
  return made;
};
const perimeter = (curves: Curves): number => curveLengths(curves)[0];
/** Enclosed area in the plane of x and z (shoelace). */
const area = ({ points }: Curves): number => {
  const [x, , z] = points.columns.position.lanes;
  let sum = 0;
  for (let i = 0; i < x.length; i++) {
    const n = (i + 1) % x.length;
    sum += x[i] * z[n] - x[n] * z[i];
  }
  return Math.abs(sum) / 2;
};
const quotient = (curves: Curves): number => (4 * Math.PI * area(curves)) / perimeter(curves) ** 2;
const longest = ({ points }: Curves): number => {
  const lanes = points.columns.position.lanes;
  return Math.max(
    ...Array.from(lanes[0], (_, i) =>
      Math.hypot(...lanes.map((lane) => lane[i] - lane[(i + 1) % lane.length])),
    ),
  );
};

describe("splitting", () => {
  // GRO-13.
  it("alone keeps length and area, and leaves no edge longer than allowed", () => {
    const before = ring(12);
    const after = grown(before, {}, 4);
    expect(perimeter(after)).toBeCloseTo(perimeter(before), 5);
    expect(area(after)).toBeCloseTo(area(before), 5);
    expect(longest(after)).toBeLessThanOrEqual(0.15 + 1e-6);
    expect(after.points.count).toBe(48);
  });

  // GRO-14: (π ÷ n) ÷ tan(π ÷ n).
  it.each([
    [12, 0.9770486167],
    [13, 0.9804571103],
  ])("keeps the isoperimetric quotient of %d sides", (n, wanted) => {
    expect(quotient(grown(ring(n), {}, 3))).toBeCloseTo(wanted, 5);
  });

  it("stops at the most points, exactly", () => {
    expect(grown(ring(12), { edge: 0.001, most: 100 }, 20).points.count).toBe(100);
  });
});

describe("growing", () => {
  const SET = { apart: 0.3, edge: 0.15, pull: 0.3, push: 0.5 };

  // GRO-15.
  it("makes a ring longer and fold, while it stays in its plane", () => {
    let made = ring(40);
    let [length, count] = [perimeter(made), made.points.count];
    const first = quotient(made);
    for (let sample = 0; sample < 6; sample++) {
      made = grown(made, { ...SET, growth: ({ count: n }) => new Float32Array(n).fill(0.02) }, 20);
      expect(perimeter(made)).toBeGreaterThanOrEqual(length);
      expect(made.points.count).toBeGreaterThanOrEqual(count);
      [length, count] = [perimeter(made), made.points.count];
    }
    expect(quotient(made)).toBeLessThan(first * 0.8);
    expect(Math.max(...made.points.columns.position.lanes[1].map(Math.abs))).toBeLessThan(1e-5);
  });

  it("keeps parts of the line that are not neighbours from each other", () => {
    const made = grown(ring(40), { ...SET, growth: ({ count: n }) => new Float32Array(n).fill(0.01) }, 120);
    const [x, , z] = made.points.columns.position.lanes;
    const n = made.points.count;
    let least = Number.POSITIVE_INFINITY;
    for (let i = 0; i < n; i++)
      for (let j = i + 8; j < n; j++)
        if (i + n - j >= 8) least = Math.min(least, Math.hypot(x[i] - x[j], z[i] - z[j]));
    expect(least).toBeGreaterThan(0.3 * 0.4);
  });

  it("grows where it is told to, and holds what is held", () => {
    const right = ({ columns, count }: { columns: Curves["points"]["columns"]; count: number }) =>
      Float32Array.from({ length: count }, (_, i) => (columns.position.lanes[0][i] > 0 ? 1 : 0));
    const held = grown(ring(40), { ...SET, growth: (p) => right(p).map((v) => v * 0.05), held: right }, 3);
    const [x] = held.points.columns.position.lanes;
    expect(x.filter((v) => v > 0).length).toBeGreaterThan(x.filter((v) => v < 0).length);
    expect(Math.max(...x)).toBeCloseTo(1, 6);
  });
});

describe("the node", () => {
  const RING: NodeSpec = { type: "arc", set: { radius: 0.6, points: 40 } };
  const growth = (set: Record<string, Setting> = {}): NodeSpec => ({
    type: "line-growth",
    set: { apart: 0.15, edge: 0.07, growth: 0.03, ...set },
  });
  const at = (
    frame: number,
    set: Record<string, Setting>,
    region?: NodeSpec,
    evaluator = new Evaluator(),
  ): Curves | undefined =>
    evaluator.evaluate(
      graphOf({ ring: RING, it: growth(set), stage: { type: "stage" }, ...(region ? { region } : {}) }, [
        "ring.shape>it.shape",
        "it.shape>stage.shape",
        ...(region ? ["region.shape>it.region"] : []),
      ]),
      frame,
    ).shape?.curves;
  const places = (curves: Curves | undefined) => curves?.points.columns.position.lanes ?? [];

  it("stays within walls", () => {
    const made = at(30, { where: "within walls" }, { type: "box", set: { size: [1.6, 0.4, 1.6] } });
    const [x, y, z] = places(made);
    expect(made?.points.count).toBeGreaterThan(60);
    for (const lane of [x, z]) expect(Math.max(...lane.map(Math.abs))).toBeLessThan(0.801);
    expect(Math.max(...y.map(Math.abs))).toBeLessThan(0.201);
  });

  it("stays on a surface", () => {
    const made = at(
      12,
      { where: "on a surface" },
      { type: "sphere", set: { radius: 0.8, build: "geodesic", detail: 4 } },
    );
    const [x, y, z] = places(made);
    for (let i = 0; i < x.length; i++) {
      const far = Math.hypot(x[i], y[i], z[i]);
      expect(far).toBeGreaterThan(0.79);
      expect(far).toBeLessThan(0.8001);
    }
  });

  it("is the same at a frame however one comes there", () => {
    const played = new Evaluator();
    for (const frame of [0, 4, 9]) at(frame, {}, undefined, played);
    expect(places(at(14, {}, undefined, played))).toEqual(places(at(14, {})));
  });

  it("says so when nothing arrives, when nothing holds it, and when it can slip through itself", () => {
    const words = (nodes: Record<string, NodeSpec>, links: string[]) =>
      reportOf(graphOf(nodes, links), "it")
        .problems.map(({ what }) => what)
        .join();
    expect(words({ it: growth() }, [])).toContain("No curves arrive");
    const linked = ["ring.shape>it.shape"];
    expect(words({ ring: RING, it: growth({ where: "within walls" }) }, linked)).toContain("is free");
    expect(words({ ring: RING, it: growth({ edge: 0.4 }) }, linked)).toContain("slip through");
  });
});
