/** Rewriting: lengths of words [GRO-05], the Koch curve [GRO-06], Hilbert's and the dragon curve [GRO-07, ABOP], and growth between generations. */
import { curveLengths } from "../../src/core/geometry/curves";
import type { Shape } from "../../src/core/geometry/shape";
import { drawnWord, rewritten, rulesOf, type TurtleSettings } from "../../src/core/growth/rewriting";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, outputsOf, reportOf } from "../run-node";

const SETTINGS: TurtleSettings = {
  step: 1,
  angle: 90,
  shorter: 1,
  thinner: 1,
  radius: 1,
  unfolded: 1,
  last: 0,
  wander: 0,
  seed: 0,
};
const drawn = (
  axiom: string,
  rules: string,
  generations: number,
  set: Partial<TurtleSettings> = {},
  still = "",
) => {
  const curves = drawnWord(rewritten(axiom, rulesOf(rules), generations, 0), { ...SETTINGS, ...set }, still);
  if (!curves) throw new Error("nothing is drawn");
  const [x, y, z] = curves.points.columns.position.lanes;
  return { curves, places: Array.from(x, (v, i) => [v, y[i], z[i]]) };
};
const key = (p: readonly number[]) => p.map((v) => Math.round(v)).join(" ");

describe("words", () => {
  // GRO-05.
  it("grow as Fibonacci's numbers do: A → AB, B → A", () => {
    const rules = rulesOf("A = AB; B = A");
    expect(Array.from({ length: 11 }, (_, n) => rewritten("A", rules, n, 0).symbols.length)).toEqual([
      1, 2, 3, 5, 8, 13, 21, 34, 55, 89, 144,
    ]);
    expect(rewritten("A", rules, 5, 0).symbols).toBe("ABAABABAABAAB");
  });

  it("take rules as often as they say, the same for one seed", () => {
    const rules = rulesOf("0.25: A = AB\n0.75: A = AC");
    const long = "A".repeat(4000);
    const made = rewritten(long, rules, 1, 3).symbols;
    expect([...made].filter((c) => c === "B").length / 4000).toBeCloseTo(0.25, 1.3);
    expect(rewritten(long, rules, 1, 3).symbols).toBe(made);
    expect(rewritten(long, rules, 1, 4).symbols).not.toBe(made);
  });
});

describe("the turtle", () => {
  // GRO-06: 4ⁿ segments, each a third as long.
  it.each([1, 2, 3, 4])("draws Koch's curve of generation %d", (n) => {
    const { curves } = drawn("F", "F = F+F--F+F", n, { angle: 60, step: 1 / 3 ** n });
    expect(curves.points.count - 1).toBe(4 ** n);
    expect(curveLengths(curves)[0]).toBeCloseTo((4 / 3) ** n, 4);
    const [x, y] = curves.points.columns.position.lanes;
    expect(Math.hypot(x[x.length - 1], y[y.length - 1])).toBeCloseTo(1, 4);
  });

  // GRO-07.
  it("draws Hilbert's curve through 64 places, once each", () => {
    const { places } = drawn("A", "A = +BF-AFA-FB+; B = -AF+BFB+FA-", 3, {}, "AB");
    expect(places).toHaveLength(64);
    expect(new Set(places.map(key)).size).toBe(64);
    for (let i = 1; i < 64; i++)
      expect(Math.hypot(...places[i].map((v, a) => v - places[i - 1][a]))).toBeCloseTo(1, 4);
  });

  it("draws the dragon curve: 1,024 segments, none twice, ending 32 away", () => {
    const { places } = drawn("FX", "X = X+YF+; Y = -FX-Y", 10, {}, "XY");
    expect(places).toHaveLength(1025);
    const [from, to] = [places[0], places[1024]];
    expect(Math.hypot(...to.map((v, a) => v - from[a]))).toBeCloseTo(32, 3);
    const edges = places.slice(1).map((p, i) => [key(p), key(places[i])].sort().join("|"));
    expect(new Set(edges).size).toBe(1024);
  });

  it("begins branches where it stands, and goes on there afterwards", () => {
    const { curves, places } = drawn("F[+F]F", "", 0, { thinner: 0.5 });
    expect(curves.curves.count).toBe(3);
    const starts = Array.from(curves.curveStarts.subarray(0, 3), (s) => key(places[s]));
    expect(starts).toEqual(["0 0 0", "0 1 0", "0 1 0"]);
    expect([...curves.points.columns.radius.lanes[0]]).toEqual([1, 1, 0.5, 0.5, 1, 1]);
  });
});

describe("the node", () => {
  const node = (set: Record<string, Setting> = {}) => graphOf({ it: { type: "rewriting", set } });
  const lengthAt = (generations: number): number => {
    const { shape } = outputsOf(node({ generations }), "it") as unknown as { shape: Shape };
    return curveLengths(shape.curves as NonNullable<Shape["curves"]>).reduce((a, b) => a + b, 0);
  };
  const problems = (set: Record<string, Setting>) => reportOf(node(set), "it").problems;

  it("unfolds from one generation to the next without a jump", () => {
    const [before, early, late, after] = [3, 3.001, 3.999, 4].map(lengthAt);
    // F = FF: what is new of each letter begins with nothing, and so does what it was of.
    expect(early).toBeLessThan(before * 1.01);
    expect(late / after).toBeCloseTo(1, 2);
    expect(lengthAt(3.5)).toBeGreaterThan(early);
  });

  it("says which line is no rule, which generation is too much, and what fits", () => {
    expect(problems({ rules: "F = FF; nonsense" })[0].what).toContain('Line 2, "nonsense"');
    const [tooLong] = problems({ axiom: "F", rules: "F = FFFF", still: "", generations: 20 });
    expect(tooLong.what).toContain("generation 11");
    expect(tooLong.repair?.value).toBe(10);
    expect(problems({ axiom: "x", rules: "" })[0].what).toContain("Capitals draw");
  });
});
