/** Curves rounded, smoothed, simplified, joined, turned round, blended, wound and measured, against worked values. */
import type { Curves } from "../../src/core/geometry/curves";
import { curveLengths, isClosedCurve } from "../../src/core/geometry/curves";
import type { Setting } from "../../src/core/nodes/ports";
import { formed, pointsIn, through } from "../formed";
import type { NodeSpec } from "../run-node";
import { signedArea } from "../shoelace";

const curvesIn = (type: string, set: Record<string, Setting>, from: NodeSpec): Curves =>
  through(from, type, set).curves as Curves;
/** A square's outline by a closed arc of four points, side √2. */
const SQUARE: NodeSpec = { type: "arc", set: { radius: Math.SQRT1_2, points: 4 } };
const HELIX: NodeSpec = {
  type: "helix",
  set: { radius: 2, topRadius: 2, height: Math.PI, turns: 1, points: 512 },
};
const flat = (curves: Curves): number[] => pointsIn(curves).flatMap(([x, , z]) => [x, z]);

describe("round corners", () => {
  it("takes (4 − π) r² off a square and 2 (4 − π) r off its length", () => {
    const made = curvesIn("round-corners", { radius: 0.2, steps: 200 }, SQUARE);
    expect(Math.abs(signedArea(flat(made)))).toBeCloseTo(1 - (4 - Math.PI) * 0.04, 4);
    expect(curveLengths(made)[0]).toBeCloseTo(4 - (8 - 2 * Math.PI) * 0.2, 4);
  });

  it("with more radius than there is room for makes a circle of the square", () => {
    for (const place of pointsIn(curvesIn("round-corners", { radius: 9, steps: 12 }, SQUARE)))
      expect(Math.hypot(...place)).toBeCloseTo(0.5, 5);
  });

  it("leaves the ends of an open curve", () => {
    const zigzag: NodeSpec = { type: "arc", set: { sweep: 270, points: 4 } };
    const [before, after] = [
      formed({ it: zigzag }, []).curves as Curves,
      curvesIn("round-corners", { radius: 0.3 }, zigzag),
    ];
    const ends = (curves: Curves) => [pointsIn(curves)[0], pointsIn(curves)[curves.points.count - 1]];
    expect(ends(after)).toEqual(ends(before));
  });
});

describe("smooth paths", () => {
  it("cutting corners of the unit square has Chaikin's areas and limit [SUB-09]", () => {
    const areas = [0, 1, 2, 3, 4].map((rounds) =>
      Math.abs(signedArea(flat(curvesIn("smooth-paths", { how: "corners cut", rounds }, SQUARE)))),
    );
    for (const [i, area] of [1, 0.875, 0.84375, 0.8359375, 0.833984375].entries())
      expect(areas[i]).toBeCloseTo(area, 5);
    const limit = curvesIn("smooth-paths", { how: "corners cut", rounds: 8 }, SQUARE);
    expect(curveLengths(limit)[0]).toBeCloseTo(3.24645048, 4);
  });

  it("between neighbours a noisy circle becomes rounder, its count the same", () => {
    const made = curvesIn("smooth-paths", { rounds: 50 }, SQUARE);
    expect(made.points.count).toBe(4);
    const line: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [1, 0, 0], points: 9 } };
    expect(pointsIn(curvesIn("smooth-paths", { rounds: 5 }, line))[8]).toEqual([1, 0, 0]);
  });
});

describe("simplify paths", () => {
  it("leaves two points of a straight line and nothing further off than asked of a circle", () => {
    const line: NodeSpec = { type: "line", set: { points: 50 } };
    expect(curvesIn("simplify-paths", { distance: 1e-4 }, line).points.count).toBe(2);
    const circle: NodeSpec = { type: "arc", set: { points: 720 } };
    const made = curvesIn("simplify-paths", { distance: 0.01 }, circle);
    expect(made.points.count).toBeLessThan(40);
    // Sagitta of a chord: what is cut off stays within the distance.
    const places = pointsIn(made);
    for (const [i, place] of places.entries()) {
      const next = places[(i + 1) % places.length];
      const middle = Math.hypot(...place.map((v, a) => (v + next[a]) / 2));
      expect(1 - middle).toBeLessThan(0.0101);
    }
  });
});

describe("join and reverse", () => {
  const quarter = (start: number, sweep: number): NodeSpec => ({
    type: "arc",
    set: { start, sweep, points: 9 },
  });
  const joined = (arcs: readonly NodeSpec[]): Curves => {
    const nodes: Record<string, NodeSpec> = { all: { type: "merge" }, it: { type: "join-paths" } };
    for (const [i, arc] of arcs.entries()) nodes[`a${i}`] = arc;
    return formed(nodes, [...arcs.map((_, i) => `a${i}.shape>all.shapes`), "all.shape>it.shape"])
      .curves as Curves;
  };

  it("makes a closed circle of four quarters in any order and direction", () => {
    const made = joined([quarter(0, 90), quarter(270, -90), quarter(90, 90), quarter(270, 90)]);
    expect(made.curves.count).toBe(1);
    expect(isClosedCurve(made, 0)).toBe(true);
    expect(made.points.count).toBe(32);
    expect(Math.abs(signedArea(flat(made)))).toBeCloseTo((32 / 2) * Math.sin((2 * Math.PI) / 32), 4);
  });

  it("keeps apart what does not meet, and leaves what joins open where it is", () => {
    const made = joined([
      quarter(0, 90),
      quarter(90, 90),
      { type: "line", set: { from: [5, 0, 0], to: [6, 0, 0] } },
    ]);
    expect(Array.from({ length: made.curves.count }, (_, k) => isClosedCurve(made, k))).toEqual([
      false,
      false,
    ]);
  });

  it("turned round twice is what it was", () => {
    const nodes = { helix: HELIX, once: { type: "reverse-paths" }, it: { type: "reverse-paths" } };
    const twice = formed(nodes, ["helix.shape>once.shape", "once.shape>it.shape"]).curves as Curves;
    const before = pointsIn(formed({ it: HELIX }, []).curves as Curves);
    for (const [i, place] of pointsIn(twice).entries())
      for (let a = 0; a < 3; a++) expect(place[a]).toBeCloseTo(before[i][a], 7);
    const [first] = pointsIn(curvesIn("reverse-paths", {}, HELIX));
    expect(first[1]).toBeCloseTo(Math.PI, 5);
  });
});

describe("blend paths", () => {
  it("half-way between circles of 24 and 100 points lies the mean circle", () => {
    const nodes = {
      small: { type: "arc", set: { points: 24 } },
      large: { type: "arc", set: { radius: 3, points: 100 } },
      it: { type: "blend-paths" },
    };
    const made = formed(nodes, ["small.shape>it.shape", "large.shape>it.other"]).curves as Curves;
    expect(made.points.count).toBe(100);
    for (const place of pointsIn(made)) expect(Math.hypot(...place)).toBeGreaterThan(1.97);
    for (const place of pointsIn(made)) expect(Math.hypot(...place)).toBeLessThan(2.01);
  });
});

describe("measure and wind", () => {
  const measured = (what: string, from: NodeSpec, name = what): Float32Array =>
    curvesIn("measure-paths", { what }, from).points.columns[name].lanes[0] as Float32Array;

  it("finds curvature and torsion of the helix r = 2, c = 0.5 [CUR-07]", () => {
    for (const value of measured("curvature", HELIX)) expect(value).toBeCloseTo(0.4705882353, 3);
    // From x to −z as it rises: the way in which a right-handed screw goes in. Fewer points, as places are float32.
    const coarse: NodeSpec = { ...HELIX, set: { ...HELIX.set, points: 96 } };
    for (const value of measured("torsion", coarse)) expect(value).toBeCloseTo(0.1176470588, 3);
    expect(Math.max(...measured("whole length", HELIX, "length"))).toBeCloseTo(12.95311834, 2);
  });

  it("turns of a closed outline add up to 360°", () => {
    const sum = measured("turn", SQUARE).reduce((a, b) => a + b, 0);
    expect(sum).toBeCloseTo(2 * Math.PI, 5);
  });

  it("a spiral around a straight line is the helix of that radius and pitch [CUR-08]", () => {
    const line: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [0, 5, 0], points: 2 } };
    const made = curvesIn("wind-around", { radius: 1, turns: 5, points: 200 }, line);
    expect(curveLengths(made)[0]).toBeCloseTo(5 * 6.362265132, 1);
    const around: NodeSpec = { type: "arc", set: { radius: 4, points: 60 } };
    const closed = curvesIn("wind-around", { radius: 0.5, turns: 12 }, around);
    const [first, last] = [pointsIn(closed)[0], pointsIn(closed)[closed.points.count - 1]];
    expect(Math.hypot(...first.map((v, a) => v - last[a]))).toBeLessThan(0.3);
  });
});
