/** Profiles against d3-shape's monotone curve (M. Steffen, 1990); freezing values on elements. */
import { curveMonotoneX, line } from "d3-shape";
import fc from "fast-check";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { type Profile, type ProfilePoint, profileAt } from "../../src/core/maths/profile";
import { graphOf, numbersAt, outputsOf, reportOf, runNode } from "../run-node";

/** As the Profile node reads it, in a kernel. */
const at = (curve: Profile, t: number) =>
  numbersAt("profile", { value: t, curve: curve as never }, "value", [[0, 0, 0]])[0];

/** d3's curve through the points, at x = t: its Bézier segments have evenly spaced x, so t is linear in x. */
function reference(points: readonly ProfilePoint[], t: number): number {
  const path =
    line<ProfilePoint>(
      (p) => p.at,
      (p) => p.value,
    ).curve(curveMonotoneX)([...points]) ?? "";
  const numbers = path.match(/-?[\d.]+(?:e-?\d+)?/g)?.map(Number) ?? [];
  let [x0, y0] = numbers;
  for (let k = 2; k < numbers.length; k += 6) {
    const [, y1, , y2, x3, y3] = numbers.slice(k, k + 6);
    if (t <= x3) {
      const s = (t - x0) / (x3 - x0);
      return (1 - s) ** 3 * y0 + 3 * (1 - s) ** 2 * s * y1 + 3 * (1 - s) * s * s * y2 + s ** 3 * y3;
    }
    [x0, y0] = [x3, y3];
  }
  return y0;
}

describe("profile", () => {
  const points: ProfilePoint[] = [
    { at: 0, value: 0.1 },
    { at: 0.25, value: 0.9 },
    { at: 0.5, value: 0.9 },
    { at: 0.75, value: 0.2 },
    { at: 1, value: 1 },
  ];

  it("agrees with d3-shape's curveMonotoneX between its points", () => {
    // d3 takes another slope at both ends.
    for (let i = 16; i <= 48; i++)
      expect(at({ form: "smooth", points }, i / 64)).toBeCloseTo(reference(points, i / 64), 4);
  });

  it("has Steffen's slopes at its ends: his parabola through three points, limited", () => {
    const slopes = (...values: number[]) => {
      const list = values.map((value, i) => ({ at: i / 2, value }));
      const [h, end] = [1e-6, (values.length - 1) / 2];
      const f = (t: number) => profileAt({ form: "smooth", points: list }, t);
      return [(f(h) - f(0)) / h / 2, (f(end) - f(end - h)) / h / 2];
    };
    // 0, 1, 1.5: secants 1 and ½ a step, so 1·(1 + ½) − ½·½ = 1.25 and ½·1.5 − 1·½ = 0.25 (his equation 25).
    const [first, last] = slopes(0, 1, 1.5);
    expect(first).toBeCloseTo(1.25, 4);
    expect(last).toBeCloseTo(0.25, 4);
    // A parabola that turns back at the end gives 0, one that is too steep twice the secant.
    expect(slopes(0, 0.1, 1)[0]).toBeCloseTo(0, 4);
    expect(slopes(0, 1, -5)[0]).toBeCloseTo(2, 4);
  });

  it("goes through its points exactly, wherever they stand", () => {
    const anyPoints = fc.uniqueArray(
      fc.record({
        at: fc.double({ min: 0, max: 1, noNaN: true }).map(Math.fround),
        value: fc.double({ min: 0, max: 1, noNaN: true }).map(Math.fround),
      }),
      { minLength: 1, maxLength: 40, selector: (p) => p.at },
    );
    for (const form of ["smooth", "straight", "steps"] as const)
      fc.assert(
        fc.property(anyPoints, (list) => {
          for (const p of list) expect(at({ form, points: list }, p.at)).toBe(p.value);
        }),
        { numRuns: 20 },
      );
  });

  it("never goes past its neighbours", () => {
    const anyPoints = fc.uniqueArray(
      fc.record({
        at: fc.integer({ min: 0, max: 64 }).map((n) => n / 64),
        value: fc.double({ min: 0, max: 1, noNaN: true }),
      }),
      { minLength: 2, maxLength: 8, selector: (p) => p.at },
    );
    fc.assert(
      fc.property(anyPoints, (list) => {
        const sorted = [...list].sort((a, b) => a.at - b.at);
        for (let k = 0; k + 1 < sorted.length; k++) {
          const [low, high] = [sorted[k].value, sorted[k + 1].value].sort((a, b) => a - b);
          const [from, to] = [sorted[k].at, sorted[k + 1].at];
          const between = Array.from({ length: 33 }, (_, i) =>
            profileAt({ form: "smooth", points: list }, from + ((to - from) * i) / 32),
          );
          expect(Math.min(...between)).toBeGreaterThanOrEqual(low - 1e-6);
          expect(Math.max(...between)).toBeLessThanOrEqual(high + 1e-6);
        }
      }),
    );
  });

  it("is straight or stepped when asked, and holds beyond its ends", () => {
    const two = [
      { at: 0.25, value: 0 },
      { at: 0.75, value: 1 },
    ];
    const straight = { form: "straight", points: two } as const;
    expect([at(straight, 0), at(straight, 0.5), at(straight, 1)]).toEqual([0, 0.5, 1]);
    const steps = { form: "steps", points: two } as const;
    expect([at(steps, 0.74), at(steps, 0.75 - 2 ** -24), at(steps, 0.75)]).toEqual([0, 0, 1]);
  });

  it("reshapes numbers and falloffs", () => {
    const drawn: Profile = {
      form: "straight",
      points: [
        { at: 0, value: 1 },
        { at: 1, value: 0 },
      ],
    };
    const sites = makeSites(3, ({ position }) => position[0].set([0, 1, 2]));
    const slope = runNode("falloff", { inner: 0, outer: 2, ease: "profile", profile: drawn }).value as Value;
    expect([...runValues([slope], sites).lanes[0]]).toEqual([0, 0.5, 1]);
  });

  it.each([
    [{ form: "smooth", points: [] }, "needs at least one point"],
    [{ form: "curly", points: [{ at: 0, value: 0 }] }, "form must be one of"],
    [{ form: "smooth", points: [{ at: 2, value: 0 }] }, "point 1 needs a place from 0 to 1"],
    [3, "must be a profile"],
  ])("refuses %j", (curve, what) => {
    const document = graphOf({ node: { type: "profile", set: { curve: curve as never } } });
    expect(reportOf(document, "node").problems[0].what).toContain(what);
  });
});

describe("freeze", () => {
  it("keeps what was true before the clones moved", () => {
    const document = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 3, deep: 1, spacing: [1, 1, 1] } },
        keep: { type: "freeze" },
        up: { type: "move", set: { by: [100, 0, 0] } },
        back: { type: "move", set: { by: [0, 0, 0] } },
      },
      ["grid.sites>keep.shape", "keep.shape>up.shape", "up.shape>back.shape", "keep.vector>back.by"],
    );
    const { sites } = outputsOf(document, "back").shape as Shape;
    // 100 farther, and by its first place again.
    expect([...(sites?.columns.position.lanes[0] ?? [])]).toEqual([98, 100, 102]);
  });
});
