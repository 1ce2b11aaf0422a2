/** Formulas over fields, against JavaScript's own arithmetic; functions after GLSL 4.60 §8. */
import fc from "fast-check";
import { plainNumber, type Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeSites } from "../../src/core/geometry/shape";
import { graphOf, reportOf, runNode } from "../run-node";

const resultOf = (formula: string, set: object = {}): number =>
  plainNumber(runNode("formula", { formula, ...set }).value as Value) as number;

describe("formula", () => {
  it.each([
    ["1 + 2 * 3", 7],
    ["-2 ^ 2", -4],
    ["2 ^ -1", 0.5],
    ["7 % 4 + 0.5", 3.5],
    ["sin(30) + cos(60)", 1],
    ["atan(1, 1)", 45],
    ["atan(1)", 45],
    ["asin(2)", 90],
    ["clamp(5, 0, 2)", 2],
    ["mix(10, 20, 0.25)", 12.5],
    ["step(2, 2)", 1],
    ["step(2, 1.9)", 0],
    ["smoothstep(0, 2, 1)", 0.5],
    ["fract(-0.25)", 0.75],
    ["length(vec3(3, 4, 0))", 5],
    ["dot(vec3(1, 2, 3), vec3(4, 5, 6))", 32],
    ["cross(vec3(1, 0, 0), vec3(0, 1, 0)).z", 1],
    ["cross(vec3(0, 1, 0), vec3(0, 0, 1)).x", 1],
    ["normalize(vec3(0, 0, 9)).z", 1],
    ["distance(vec3(1), vec3(1, 1, 4))", 3],
    ["max(2, 3) > 2 ? 10 : 20", 10],
    ["1 < 2 && !(3 <= 2)", 1],
    ["0 || 0", 0],
    ["2 == 2 && 2 != 3", 1],
    ["(vec3(1, 2, 3) * 2).y", 4],
    ["tau / pi", 2],
    ["a * b + c", 10],
  ])("%s is %f", (formula, expected) => {
    expect(resultOf(formula, { a: 2, b: 3, c: 4 })).toBeCloseTo(expected, 6);
  });

  it("works on every element, with its place", () => {
    const { value } = runNode("formula", { formula: "place.x > 1 ? place.y * a : -1", a: 10 });
    const sites = makeSites(4, ({ position }) => {
      position[0].set([0, 1, 2, 3]);
      position[1].set([5, 6, 7, 8]);
    });
    expect([...runValues([value as Value], sites).lanes[0]]).toEqual([-1, -1, 70, 80]);
  });

  it.each([
    ["sin(place.x", 12, "A closing bracket is missing."],
    ["a + foo * 2", 5, '"foo" is not known'],
    ["sin", 1, '"sin" needs brackets.'],
    ["mix(1, 2)", 1, '"mix" takes 3 values, not 2.'],
    ["a.x", 2, "Only a vector has parts"],
    ["v.q", 2, '".q" is no part'],
    ["vec3(v, 1, 2)", 6, "takes three numbers"],
    ["1 ? 2", 6, 'A ":" is missing'],
    ["constructor(1)", 1, "is no function"],
    ["", 1, "A number is missing"],
    ["2 $ 3", 3, '"$" does not belong here.'],
  ])("%j points at character %i", (formula, character, what) => {
    const document = graphOf({ node: { type: "formula", set: { formula } } });
    const [problem] = reportOf(document, "node").problems;
    expect(problem).toMatchObject({ level: "error", input: "formula" });
    expect(problem.what).toMatch(new RegExp(`^Character ${character}: `));
    expect(problem.what).toContain(what);
  });

  it("agrees with JavaScript on random sums, products and comparisons", () => {
    const tree = fc.letrec<{ node: string }>((tie) => ({
      node: fc.oneof(
        { depthSize: "small", withCrossShrink: true },
        fc.integer({ min: -99, max: 99 }).map((n) => (n < 0 ? `(${n})` : String(n))),
        fc
          .tuple(tie("node"), fc.constantFrom("+", "-", "*", "<", ">="), tie("node"))
          .map(([a, op, b]) => `(${a} ${op} ${b})`),
        fc.tuple(tie("node"), tie("node"), tie("node")).map(([a, b, c]) => `((${a}) > 0.5 ? ${b} : ${c})`),
      ),
    })).node;
    fc.assert(
      fc.property(tree, (text) => {
        // The tree holds only numbers and operators, so JavaScript may be asked for the same.
        const expected = Number(new Function(`return ${text}`)());
        expect(resultOf(text)).toBeCloseTo(expected, 3);
      }),
      { numRuns: 300 },
    );
  });

  it("answers any text with a result or a message, never a crash", () => {
    const parts = fc.constantFrom(
      "a",
      "v",
      "(",
      ")",
      "+",
      "*",
      ".x",
      "sin",
      ",",
      "2",
      "?",
      ":",
      "^",
      " ",
      "&&",
      "\n",
    );
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.array(parts).map((p) => p.join("")),
        ),
        (formula) => {
          const report = reportOf(graphOf({ node: { type: "formula", set: { formula } } }), "node");
          for (const { what } of report.problems) expect(what).not.toContain("unexpectedly");
        },
      ),
      { numRuns: 2000 },
    );
    const deep = graphOf({ node: { type: "formula", set: { formula: "-".repeat(3000) } } });
    expect(reportOf(deep, "node").problems[0].what).toContain("too many signs");
  });
});
