/** Nothing that the core works out may differ between engines of JavaScript. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import * as exact from "../../src/core/maths/exact";

describe("exact functions", () => {
  const anywhere = fc.double({ min: -1e4, max: 1e4, noNaN: true });
  const unit = fc.double({ min: -1, max: 1, noNaN: true });
  const above = fc.double({ min: 1e-9, max: 1e9, noNaN: true });
  /** Both are within a step or two of the true value; a step is 2⁻⁵² of it. */
  const agree = (got: number, expected: number) =>
    expect(Math.abs(got - expected)).toBeLessThanOrEqual(4 * 2 ** -52 * Math.max(Math.abs(expected), 1e-300));

  it("are what the engine's own Math gives, to its last digits", () => {
    fc.assert(
      fc.property(anywhere, unit, above, (x, u, p) => {
        agree(exact.sine(x), Math.sin(x));
        agree(exact.cosine(x), Math.cos(x));
        agree(exact.tangent(u), Math.tan(u));
        agree(exact.arcSine(u), Math.asin(u));
        agree(exact.arcCosine(u), Math.acos(u));
        agree(exact.arcTangent2(x, u), Math.atan2(x, u));
        agree(exact.exponential(u * 50), Math.exp(u * 50));
        agree(exact.logarithm(p), Math.log(p));
        agree(exact.power(p, u), p ** u);
        agree(exact.cubeRoot(x), Math.cbrt(x));
        agree(exact.lengthOf(x, u, 3, 4), Math.hypot(x, u, 3, 4));
      }),
      { numRuns: 2000 },
    );
  });

  it("are used in the core in place of those whose last digits are an engine's own", () => {
    const inexact =
      /Math\.(sin|cos|tan|asin|acos|atan|atan2|exp|log|log2|log10|pow|hypot|cbrt|sinh|cosh|tanh)\b/;
    // Words of a message, and sizes of what nobody sees.
    const words = ["evaluate/budget.ts"];
    const faults = readdirSync("src/core", { recursive: true, encoding: "utf8" })
      .filter((file) => file.endsWith(".ts") && !file.includes("assembly") && !words.includes(file))
      .filter((file) =>
        inexact.test(readFileSync(join("src/core", file), "utf8").replace(/\/\*\*[\s\S]*?\*\//g, "")),
      );
    expect(faults).toEqual([]);
  });
});
