/** Rewriting: lengths of words [GRO-05], the Koch curve [GRO-06], Hilbert's and the dragon curve [GRO-07, ABOP], and growth between generations. */
import { curveLengths } from "../../src/core/geometry/curves";
import type { Shape } from "../../src/core/geometry/shape";
import { rewritten, rulesOf } from "../../src/core/growth/rewriting";
import { drawnWord, type TurtleSettings } from "../../src/core/growth/turtle";
import { RADIANS } from "../../src/core/maths/quaternion";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, outputsOf, reportOf } from "../run-node";

const SETTINGS: TurtleSettings = {
  step: 1,
  angle: Math.PI / 2,
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

describe("letters with numbers", () => {
  // ABOP, section 1.10.1, figure 1.39: its derivation of the first steps, word by word (from memory).
  it("go on as the book's example does", () => {
    const rules = rulesOf(
      "A(x, y): y <= 3 = A(x * 2, x + y); A(x, y): y > 3 = B(x)A(x / y, 0); B(x): x < 1 = C; B(x): x >= 1 = B(x - 1)",
    );
    const told = (n: number) => {
      const { symbols, numbers } = rewritten("B(2)A(4, 4)", rules, n, 0);
      return [...symbols]
        .map((s, i) => (numbers[i].length > 0 ? `${s}(${numbers[i].join(",")})` : s))
        .join("");
    };
    expect([0, 1, 2, 3, 4].map(told)).toEqual([
      "B(2)A(4,4)",
      "B(1)B(4)A(1,0)",
      "B(0)B(3)A(2,1)",
      "CB(2)A(4,3)",
      "CB(1)A(8,7)",
    ]);
  });

  it("draw as many steps, turn by as many degrees, and are as thick as they say", () => {
    const { places, curves } = drawn("F(2)+(90)!(0.25)F(3)", "F = F", 0);
    expect(places.at(-1)).toEqual([-3, 2, 0].map((v) => expect.closeTo(v, 5)));
    expect(curves.points.columns.radius.lanes[0].at(-1)).toBeCloseTo(0.25, 6);
    expect(curveLengths(curves)[0]).toBeCloseTo(5, 5);
  });

  // ABOP, section 1.10.3: branches a fixed ratio R shorter each time; a stem of 1 and 2ⁿ branches of R⁻ⁿ each.
  it("make a tree whose branches shorten by a ratio, as far as a condition lets them", () => {
    const { curves } = drawn(
      "A(1)",
      "A(s): s > 0.2 = F(s)[+A(s / 1.5)][-A(s / 1.5)]",
      12,
      { angle: 85 * RADIANS },
      "A",
    );
    const total = curveLengths(curves).reduce((a, b) => a + b, 0);
    // 1.5⁻⁴ is below 0.2: four generations drew.
    expect(total).toBeCloseTo(1 + 2 / 1.5 + 4 / 1.5 ** 2 + 8 / 1.5 ** 3, 4);
  });

  it("are refused in words where a rule cannot be read", () => {
    for (const [rules, words] of [
      ["A(x) = F(x +)", "is no number"],
      ["A(x) = F(x", "not closed"],
      ["A(x) = F(y)", "y"],
      ["A(x) x > 1 = F", "is no rule"],
    ])
      expect(() => rulesOf(rules)).toThrow(words);
  });
});

describe("the turtle", () => {
  // GRO-06: 4ⁿ segments, each a third as long.
  it.each([1, 2, 3, 4])("draws Koch's curve of generation %d", (n) => {
    const { curves } = drawn("F", "F = F+F--F+F", n, { angle: 60 * RADIANS, step: 1 / 3 ** n });
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

  it("turns by the degrees that it is given", () => {
    const square = node({ axiom: "F+F+F+F", rules: "", still: "", step: 1, angle: 90 });
    const { shape } = outputsOf(square, "it") as unknown as { shape: Shape };
    const [x, y] = shape.curves?.points.columns.position.lanes ?? [];
    // The turtle sets out along y; + is to the left.
    for (const [lane, wanted] of [
      [x, [0, 0, -1, -1, 0]],
      [y, [0, 1, 1, 0, 0]],
    ] as const)
      for (const [i, v] of wanted.entries()) expect(lane[i]).toBeCloseTo(v, 5);
  });

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
