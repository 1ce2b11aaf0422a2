/** Field programs against a slow interpreter that walks the expression one element at a time in float64. */
import fc from "fast-check";
import {
  apply,
  applyAll,
  column,
  constant,
  elementCount,
  elementIndex,
  plainNumber,
  type Value,
} from "../../src/core/fields/expression";
import { OPERATIONS, type OperationName } from "../../src/core/fields/operations";
import { compile, MAX_STEPS, ProgramTooLong } from "../../src/core/fields/program";
import { runValues } from "../../src/core/fields/run";
import { runSample } from "../../src/core/fields/sample";
import { makeColumn } from "../../src/core/geometry/column";
import { BLOCK } from "../../src/core/kernels/job";
import { slowly } from "../slow-operations";

const COUNT = BLOCK + 77;
const lanes = [0, 1, 2].map((l) =>
  Float32Array.from({ length: COUNT }, (_, i) => Math.fround(Math.sin(i * 1.3 + l) * 4)),
);
const domain = { count: COUNT, columns: { position: makeColumn("vector", lanes) } };

/** One element at a time, float32 after every step as in a register. */
function interpret(value: Value, element: number): number {
  const { op, inputs, data } = value.step;
  if (op === "constant") return Math.fround(data?.value as number);
  if (op === "index") return element;
  if (op === "count") return COUNT;
  if (op === "column") return lanes[data?.lane as number][element];
  const plain = inputs.map((input) => interpret(input, element));
  return Math.fround(slowly(op, plain, data)[value.lane]);
}

/** Operations that round once: float64 rounded to float32 is then exactly what a float32 kernel gives. */
const EXACT: OperationName[] = [
  "add",
  "subtract",
  "multiply",
  "divide",
  "minimum",
  "maximum",
  "less",
  "select",
  "absolute",
  "floor",
  "ceiling",
  "round",
  "fraction",
  "sign",
  "clamp",
];

/** Random expression graphs in which parts are shared. */
const expression: fc.Arbitrary<Value[]> = fc
  .array(fc.tuple(fc.nat(EXACT.length - 1), fc.array(fc.nat(1000), { minLength: 8, maxLength: 8 })), {
    minLength: 1,
    maxLength: 25,
  })
  .map((steps) => {
    const pool: Value[] = [
      constant(0.75),
      constant(-2),
      column("position", 0),
      column("position", 1),
      column("position", 2),
      elementIndex(),
      elementCount(),
    ];
    for (const [op, picks] of steps) {
      const name = EXACT[op];
      pool.push(
        ...applyAll(
          name,
          picks.slice(0, OPERATIONS[name].inputs).map((p) => pool[p % pool.length]),
        ),
      );
    }
    return pool.slice(-3);
  });

describe("field programs", () => {
  it("give the very numbers that the slow interpreter gives, for random programs, across block ends", () => {
    fc.assert(
      fc.property(expression, (values) => {
        const { lanes: results } = runValues(values, domain);
        for (const element of [0, 1, BLOCK - 1, BLOCK, COUNT - 1]) {
          values.forEach((value, i) => {
            const plain = plainNumber(value);
            // Constants are folded in float64 and rounded once.
            const expected = plain === null ? interpret(value, element) : Math.fround(plain);
            // Zeros of either sign are the same number.
            if (Number.isFinite(expected)) expect(results[i][element] + 0).toBe(expected + 0);
          });
        }
      }),
      { numRuns: 300 },
    );
  });

  it("work equal parts out once", () => {
    const twice = () => apply("sine", [apply("multiply", [column("position", 0), constant(3)])]);
    expect(compile([apply("add", [twice(), twice()])]).instructions).toHaveLength(3);
    expect(compile([twice(), twice()]).instructions).toHaveLength(2);
  });

  it("gives the program of before to elements that have the same, and another one to those that have not", () => {
    const size = [0, 1, 2].map((lane) => column("scale", lane, 1));
    const values = size.map((part) => apply("multiply", [part, part]));
    const [a, b, c] = [1, 2, 3].map((v) => new Float32Array(4).fill(v));
    const even = { scale: makeColumn("vector", [a, a, a]) };
    const first = compile(values, even);
    expect(compile(values, { scale: makeColumn("vector", [b, b, b]) })).toBe(first);
    const uneven = { scale: makeColumn("vector", [a, b, c]) };
    expect(compile(values, uneven).instructions).toHaveLength(3);
    expect(first.instructions).toHaveLength(1);
    expect(compile(values, {}).instructions).toHaveLength(1);
    expect(compile(values.slice(0, 2), uneven).results).toHaveLength(2);
    // Whatever was compiled in between, the numbers are right.
    for (const [columns, wanted] of [
      [even, [1, 1, 1]],
      [uneven, [1, 4, 9]],
      [{}, [1, 1, 1]],
      [even, [1, 1, 1]],
    ] as const)
      expect(runValues(values, { count: 4, columns }).lanes.map((lane) => lane[3])).toEqual(wanted);
  });

  it("work out what several columns share once, and what attributes lack that stand in alike", () => {
    const size = new Float32Array([1, 2]);
    const domain = { count: 2, columns: { scale: makeColumn("vector", [size, size, new Float32Array(2)]) } };
    const doubled = [0, 1, 2].map((lane) => apply("multiply", [column("scale", lane, 1), constant(2)]));
    const missing = [0, 1].map((lane) => apply("multiply", [column("weight", lane, 5), constant(2)]));
    const other = apply("multiply", [column("heat", 0, 5), constant(2)]);
    const { lanes, report } = runValues([...doubled, ...missing, other], domain);
    expect(lanes.map((lane) => [...lane])).toEqual([
      [2, 4],
      [2, 4],
      [0, 0],
      [10, 10],
      [10, 10],
      [10, 10],
    ]);
    expect(lanes[1]).toBe(lanes[0]);
    expect(lanes[4]).toBe(lanes[3]);
    // Attributes that are missing are told by their names.
    expect(report.missing).toEqual(["weight", "heat"]);
  });

  it("reuse registers: a long chain needs only a few", () => {
    let value: Value = column("position", 0);
    for (let i = 0; i < 500; i++) value = apply("sine", [value]);
    expect(compile([value]).registers).toBeLessThan(5);
  });

  it("fold constants, in float64", () => {
    expect(plainNumber(apply("divide", [constant(360), constant(13)]))).toBe(360 / 13);
  });

  it("refuse a program that is too long with a clear error", () => {
    let value: Value = column("position", 0);
    for (let i = 0; i < MAX_STEPS + 10; i++) value = apply("add", [value, constant(i)]);
    expect(() => compile([value])).toThrow(ProgramTooLong);
  });

  it("run on nothing", () => {
    expect(runValues([column("position", 0)], { count: 0, columns: {} }).lanes[0]).toHaveLength(0);
  });

  it("report attributes that are missing, once, but not those every element has", () => {
    const values = [column("heat", 0, 5), column("heat", 1, 5), column("color", 0, 1), column("id", 0)];
    const { lanes: results, report } = runValues(values, domain);
    expect(report.missing).toEqual(["heat"]);
    expect([results[0][3], results[2][3], results[3][1030]]).toEqual([5, 1, 1030]);
  });

  it("sample a large domain with the elements' own numbers", () => {
    const large = { count: 100_000, columns: {} };
    const [index, count, id] = runSample([elementIndex(), elementCount(), column("id", 0)], large);
    expect(index[2047]).toBe(Math.floor((2047 * 100_000) / 2048));
    expect([count[0], id[1]]).toEqual([100_000, index[1]]);
  });
});
