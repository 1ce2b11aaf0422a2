import fc from "fast-check";
import { evaluateArithmetic } from "../../src/core/formula/arithmetic";

const answerTo = (text: string) => {
  const result = evaluateArithmetic(text);
  return result.ok ? result.value : result.what;
};

describe("arithmetic typed into a field", () => {
  it.each([
    ["360/13", 360 / 13],
    ["2+3*4", 14],
    ["(2+3)*4", 20],
    ["2^3^2", 512],
    ["-2^2", -4],
    ["--3", 3],
    ["7 % 3", 1],
    ["-7 % 3", 2],
    [".5", 0.5],
    ["1,5", 1.5],
    ["1.5e2", 150],
    ["pi", Math.PI],
    ["sqrt(16)+abs(-2)", 6],
    ["sin(30)", 0.5],
    ["8 ÷ 4 × 3", 6],
  ])("%s", (text, expected) => expect(answerTo(text)).toBeCloseTo(expected, 12));

  it.each([
    ["", 0, "A number is missing at the end."],
    ["2+", 2, "A number is missing at the end."],
    ["2 3", 2, '"3" does not belong here.'],
    ["(1", 2, "A closing bracket is missing."],
    ["width", 0, '"width" is not known.'],
    ["1/0", 0, "The result is not a finite number."],
  ])("%j is refused at %i", (text, at, what) => {
    expect(evaluateArithmetic(text)).toEqual({ ok: false, at, what });
  });

  it("agrees with JavaScript on sums and products of random numbers", () => {
    const n = fc.integer({ min: -999, max: 999 });
    fc.assert(
      fc.property(n, n, n, (a, b, c) => {
        expect(answerTo(`${a} * (${b} - ${c}) + ${a}`)).toBe(a * (b - c) + a);
      }),
    );
  });

  it("answers any text without crashing", () => {
    fc.assert(
      fc.property(fc.string(), (text) => void evaluateArithmetic(text)),
      { numRuns: 2000 },
    );
    expect(evaluateArithmetic("(".repeat(5000)).ok).toBe(false);
  });
});
