/** Curves sampled anew, trimmed, offset and combined, against worked values. */

import fc from "fast-check";
import { type Curves, curveLengths } from "../../src/core/geometry/curves";
import {
  BOOLEANS,
  combinedOutlines,
  JOINS,
  type Outline,
  offsetOutlines,
  regionsOf,
} from "../../src/core/geometry/outlines";
import type { Shape } from "../../src/core/geometry/shape";
import { validateShape } from "../../src/core/geometry/validate";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";
import { signedArea } from "../shoelace";

const made = (
  type: string,
  set: Record<string, Setting>,
  curve: NodeSpec,
  more: Record<string, NodeSpec> = {},
  links: readonly string[] = [],
): Shape => {
  const nodes = { curve, ...more, node: { type, set } };
  const shape = outputsOf(graphOf(nodes, ["curve.shape>node.shape", ...links]), "node").shape as Shape;
  expect(validateShape(shape)).toEqual([]);
  return shape;
};
const places = ({ points }: Curves): number[][] => {
  const [x, y, z] = points.columns.position.lanes;
  return Array.from({ length: points.count }, (_, i) => [x[i], y[i], z[i]]);
};
const gaps = (list: readonly number[][], closed: boolean): number[] =>
  list.flatMap((a, i) => {
    const b = list[i + 1] ?? (closed ? list[0] : null);
    return b ? [Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2])] : [];
  });
const CIRCLE: NodeSpec = { type: "arc", set: { radius: 1, points: 2000 } };
/** A square's outline by a closed arc of four points: side √2. */
const SQUARE: NodeSpec = { type: "arc", set: { radius: 1, points: 4 } };
const LINE: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [2, 0, 0], points: 5 } };

describe("resample", () => {
  it("spaces thirteen points around a circle with chords of 0.4786313286 [CUR-03]", () => {
    const { curves } = made("resample", { count: 13 }, CIRCLE);
    const found = gaps(places(curves as Curves), true);
    expect(found.length).toBe(13);
    for (const chord of found) expect(chord).toBeCloseTo(0.4786313286, 4);
  });

  it("gives all curves as many points, both ends of an open one among them", () => {
    const shape = made("resample", { count: 9 }, { type: "merge" }, { line: LINE, circle: CIRCLE }, [
      "line.shape>curve.shapes",
      "circle.shape>curve.shapes",
    ]);
    expect([...(shape.curves?.curveStarts ?? [])]).toEqual([0, 9, 18]);
    const line = places(shape.curves as Curves).slice(0, 9);
    line.forEach((place, i) => expect(place).toEqual([expect.closeTo(i / 4, 6), 0, 0]));
  });

  it("keeps corners on request, and the length with them", () => {
    const at = (corners: string) => made("resample", { count: 10, corners }, SQUARE).curves as Curves;
    expect(curveLengths(at("stay"))[0]).toBeCloseTo(4 * Math.SQRT2, 5);
    expect(curveLengths(at("are evened too"))[0]).toBeLessThan(4 * Math.SQRT2 - 0.05);
    expect(at("stay").points.count).toBe(10);
    // Where there are more corners than pieces there are more points.
    expect(made("resample", { count: 2, corners: "stay" }, SQUARE).curves?.points.count).toBe(4);
  });

  it("goes by spacing, mixes what points have and keeps what curves have", () => {
    const shape = made(
      "resample",
      { by: "spacing", spacing: 0.25 },
      { type: "store-attribute", set: { name: "heat", on: "curve points" } },
      { line: LINE, along: { type: "attribute", set: { name: "along" } } },
      ["line.shape>curve.shape", "along.value>curve.number"],
    );
    const { points } = shape.curves as Curves;
    expect(points.count).toBe(9);
    expect([...points.columns.heat.lanes[0]]).toEqual(
      Array.from({ length: 9 }, (_, i) => expect.closeTo(i / 8, 6)),
    );
    expect([...points.columns.along.lanes[0]]).toEqual(
      Array.from({ length: 9 }, (_, i) => expect.closeTo(i / 8, 6)),
    );
  });
});

describe("part of path", () => {
  it("leaves the part that is asked for, of any curve", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(LINE, CIRCLE, SQUARE),
        fc.double({ min: -0.5, max: 1.5, noNaN: true }),
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        (curve, from, size) => {
          const whole =
            curve === LINE
              ? 2
              : curveLengths((outputsOf(graphOf({ curve }), "curve").shape as Shape).curves as Curves)[0];
          const { curves } = made("part-of-path", { from, to: from + size }, curve);
          const wanted = curve === LINE ? Math.max(0, Math.min(1, from + size) - Math.max(0, from)) : size;
          const length = curves && curves.curves.count > 0 ? curveLengths(curves)[0] : 0;
          expect(length).toBeCloseTo(wanted * whole, 3);
        },
      ),
      { numRuns: 60 },
    );
  });

  it("goes once around where all is asked for, and leaves nothing where the end is before the beginning", () => {
    const whole = made("part-of-path", { from: 0.3, to: 1.3 }, SQUARE).curves as Curves;
    expect([whole.points.count, whole.curves.columns.closed.lanes[0][0]]).toEqual([4, 1]);
    expect(made("part-of-path", { from: 0.6, to: 0.4 }, SQUARE).curves?.curves.count).toBe(0);
    const part = places(made("part-of-path", { from: 0, to: 0.5, shift: 0.25 }, LINE).curves as Curves);
    expect([part[0][0], part.at(-1)?.[0]]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(1.5, 6)]);
  });
});

describe("dashes", () => {
  const lengths = (shape: Shape) => Array.from(curveLengths(shape.curves as Curves));

  it("are a whole number on an open line, with a dash at both of its ends", () => {
    // 2 = 4 × 0.35 + 3 × 0.2: as long as they are, nothing is stretched.
    const shape = made("dashes", { dash: 0.35, gap: 0.2 }, LINE);
    expect(lengths(shape)).toEqual(new Array(4).fill(expect.closeTo(0.35, 5)));
    const all = places(shape.curves as Curves).map(([x]) => x);
    expect([all[0], all.at(-1)]).toEqual([expect.closeTo(0, 6), expect.closeTo(2, 5)]);
  });

  it("close on a closed curve, and run around it without a change", () => {
    const whole = 4 * Math.SQRT2;
    const total = (run: number) => {
      const shape = made("dashes", { dash: 0.3, gap: 0.3, run }, SQUARE);
      return [lengths(shape).length, lengths(shape).reduce((sum, one) => sum + one, 0)];
    };
    // 5.657 ÷ 0.6 is nearest to nine pairs of a dash and a gap as long.
    for (const run of [0, 0.37, -5, 1000]) expect(total(run)).toEqual([9, expect.closeTo(whole / 2, 3)]);
  });

  it("come in at the beginning of an open line and go out at its end", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        fc.double({ min: -5, max: 5, noNaN: true }),
        (dash, gap, run) => {
          const shape = made("dashes", { dash, gap, run, fit: "as long as they are" }, LINE);
          // Worked out: what of [0, 2] lies in [run + n (dash + gap), and a dash on].
          let wanted = 0;
          for (let n = -200; n < 400; n++) {
            const a = run + n * (dash + gap);
            wanted += Math.max(0, Math.min(2, a + dash) - Math.max(0, a));
          }
          expect(lengths(shape).reduce((sum, one) => sum + one, 0)).toBeCloseTo(wanted, 3);
        },
      ),
      { numRuns: 60 },
    );
  });
});

const square = (size: number, x = 0, y = 0): Outline => [x, y, x + size, y, x + size, y + size, x, y + size];
const areaOf = (outlines: readonly Outline[]): number =>
  outlines.reduce((sum, outline) => sum + signedArea(outline), 0);

describe("offset", () => {
  const regions = regionsOf([square(2)], "where it winds");
  // J. Steiner's formula for parallel bodies; a mitred square is a larger square, a bevelled one lacks four triangles (derived).
  it.each([
    ["round", 4 + 8 * 0.3 + Math.PI * 0.09],
    ["mitre", 2.6 * 2.6],
    ["bevel", 4 + 8 * 0.3 + 2 * 0.09],
  ] as const)("goes around a square with %s corners", (join, area) => {
    expect(areaOf(offsetOutlines(regions, 0.3, join))).toBeCloseTo(area, 2);
  });

  it("shrinks until nothing is left, and widens holes as it shrinks", () => {
    for (const join of JOINS) expect(areaOf(offsetOutlines(regions, -0.4, join))).toBeCloseTo(1.2 * 1.2, 5);
    expect(offsetOutlines(regions, -1.01, "round")).toEqual([]);
    const ring = regionsOf([square(4), square(1, 1.5, 1.5)], "every other one");
    expect(areaOf(offsetOutlines(ring, -0.25, "mitre"))).toBeCloseTo(3.5 * 3.5 - 1.5 * 1.5, 5);
  });

  it("is told how many have nothing left", () => {
    const graph = graphOf(
      { curve: SQUARE, node: { type: "offset-outline", set: { distance: -0.3, times: 5 } } },
      ["curve.shape>node.shape"],
    );
    // The square's inner radius is √2/2: two fit.
    expect(reportOf(graph, "node").problems[0].what).toBe(
      "3 of 5 have nothing left: the shape is too narrow for them.",
    );
    expect((outputsOf(graph, "node").shape as Shape).curves?.curves.count).toBe(2);
  });
});

describe("booleans of outlines", () => {
  const region = (outline: Outline) => regionsOf([outline], "where it winds");
  const area = (a: Outline, b: Outline, how: (typeof BOOLEANS)[number]) =>
    areaOf(combinedOutlines(region(a), region(b), how));

  it("keep inclusion and exclusion", () => {
    const coordinate = fc.integer({ min: -20, max: 20 });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 15 }),
        fc.integer({ min: 1, max: 15 }),
        coordinate,
        coordinate,
        (s, t, x, y) => {
          const [a, b] = [square(s), square(t, x, y)];
          const [union, difference, both, either] = BOOLEANS.map((how) => area(a, b, how));
          const overlap =
            Math.max(0, Math.min(s, x + t) - Math.max(0, x)) *
            Math.max(0, Math.min(s, y + t) - Math.max(0, y));
          expect(both).toBeCloseTo(overlap, 4);
          expect(union).toBeCloseTo(s * s + t * t - overlap, 4);
          expect(difference).toBeCloseTo(s * s - overlap, 4);
          expect(either).toBeCloseTo(union - overlap, 4);
        },
      ),
      { numRuns: 120 },
    );
  });

  it("of something and nothing are what they must be", () => {
    const [some, none] = [region(square(2)), []];
    expect(BOOLEANS.map((how) => areaOf(combinedOutlines(some, none, how)))).toEqual([4, 4, 0, 4]);
    expect(BOOLEANS.map((how) => areaOf(combinedOutlines(none, some, how)))).toEqual([4, 0, 0, 4]);
  });

  it("cut a hole where one ring lies in the other, in their own plane", () => {
    const shape = made(
      "outline-boolean",
      { how: "difference" },
      { type: "arc", set: { radius: 2, points: 64 } },
      { small: { type: "arc", set: { radius: 1, points: 64 } } },
      ["small.shape>node.other"],
    );
    expect(shape.curves?.curves.count).toBe(2);
    for (const [, y] of places(shape.curves as Curves)) expect(y).toBeCloseTo(0, 5);
  });
});
