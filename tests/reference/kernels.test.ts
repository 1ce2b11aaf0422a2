/**
 * The kernels against float64: errors in units in the last place of float32 (ulp), over ranges by fast-check; against
 * three and gl-matrix; and the checksums that every machine has to give.
 */
import { createHash } from "node:crypto";
import fc from "fast-check";
import { mat4 } from "gl-matrix";
import { Matrix4, Quaternion, Vector3 } from "three";
import { apply, elementId } from "../../src/core/fields/expression";
import { callOnce, callsOf } from "../../src/core/fields/lower";
import type { Operation } from "../../src/core/fields/operation";
import { OPERATIONS, type OperationName } from "../../src/core/fields/operations";
import { runValues } from "../../src/core/fields/run";
import { makeColumn, makeIntegers } from "../../src/core/geometry/column";
import { laneAt, runRange } from "../../src/core/kernels/job";
import { type Engine, engine, Kernels, NoKernels, Scratch } from "../../src/core/kernels/kernels";
import { KernelMemory } from "../../src/core/kernels/memory";
import { interleave } from "../../src/core/kernels/placing";
import { bakeGradient } from "../../src/core/maths/gradient";
import { OUTSIDE } from "../../src/core/maths/picture";
import { segmentedTable } from "../../src/core/maths/segmented-table";
import { slowly } from "../slow-operations";

const number = (low: number, high: number) =>
  fc.float({ min: Math.fround(low), max: Math.fround(high), noNaN: true });
const call = (op: OperationName, inputs: readonly number[], data?: object) =>
  callOnce(OPERATIONS[op] as Operation, inputs, data && { key: "", ...data });

/** Distance in float32 steps at the size of the expected value, or of `scale` where that is larger. */
function ulps(got: number, expected: number, scale = 0): number {
  if (got === Math.fround(expected)) return 0;
  const size = Math.max(Math.abs(expected), scale, 1.1754944e-38);
  return Math.abs(got - expected) / 2 ** (Math.floor(Math.log2(size)) - 23);
}

describe("pairs that are turned and bent", () => {
  const place = number(-8, 8);
  const angle = number(-7, 7);

  it("are where rotation matrices and arcs put them", () => {
    const length = 2.5;
    fc.assert(
      fc.property(place, place, angle, (u, v, by) => {
        for (const [name, data] of [
          ["turnPair", undefined],
          ["bendPair", { length }],
        ] as const) {
          const got = call(name, [u, v, by], data);
          const wanted = slowly(name, [u, v, by], data && { key: "", ...data });
          for (const [k, value] of wanted.entries()) expect(Math.abs(got[k] - value)).toBeLessThan(1e-5);
        }
      }),
    );
    // A quarter of a circle: its end lies one radius on and one to the side (handbook of geometry).
    const [on, side] = call("bendPair", [length, 0, Math.PI / 2], { length });
    const radius = length / (Math.PI / 2);
    expect([on, side]).toEqual([expect.closeTo(radius, 5), expect.closeTo(radius, 5)]);
    expect(call("bendPair", [1, 0.5, 0], { length })).toEqual([1, 0.5]);
  });
});

describe("elementwise kernels", () => {
  const any = number(-1e6, 1e6);
  it.each<[OperationName, number, fc.Arbitrary<number>, number]>([
    // Exact operations of IEEE 754 round once: half a step.
    ["add", 2, any, 0.5],
    ["subtract", 2, any, 0.5],
    ["multiply", 2, any, 0.5],
    ["divide", 2, any, 0.5],
    ["squareRoot", 1, number(0, 1e6), 0.5],
    ["minimum", 2, any, 0],
    ["maximum", 2, any, 0],
    ["less", 2, any, 0],
    ["select", 3, number(-1, 2), 0],
    ["absolute", 1, any, 0],
    ["floor", 1, any, 0],
    ["ceiling", 1, any, 0],
    ["round", 1, any, 0],
    ["sign", 1, any, 0],
    ["clamp", 3, any, 0],
    ["exponential", 1, number(-60, 60), 2],
    ["logarithm", 1, number(1e-6, 1e6), 1.5],
    ["power", 2, number(0.01, 20), 1.5],
    // 1.84 at most in 400,000 random directions.
    ["arcTangent2", 2, number(-100, 100), 2],
    ["arcSine", 1, number(-1, 1), 1.5],
    ["arcCosine", 1, number(-1, 1), 1.5],
  ])("%s is within its error", (op, inputs, range, most) => {
    fc.assert(
      fc.property(fc.array(range, { minLength: inputs, maxLength: inputs }), (x) => {
        expect(ulps(call(op, x)[0], slowly(op, x)[0])).toBeLessThanOrEqual(most + 1e-6);
      }),
      { numRuns: 2000 },
    );
  });

  it.each<[OperationName, number]>([
    ["sine", 2],
    ["cosine", 2],
  ])("%s is within 2 ulp of one, out to 4,000 turns", (op, most) => {
    fc.assert(
      fc.property(number(-25_000, 25_000), (x) => {
        // Reduction by π/2 in three parts leaves an error that grows with x, far below a degree's hundredth.
        const allowed = most + Math.abs(x) / 2000;
        expect(ulps(call(op, [x])[0], slowly(op, [x])[0], 1)).toBeLessThanOrEqual(allowed);
      }),
      { numRuns: 5000 },
    );
  });

  it("treat special numbers as they should", () => {
    expect(call("divide", [1, 0])[0]).toBe(0);
    expect(call("modulo", [1, 0])[0]).toBe(0);
    expect(call("pingPong", [1, 0])[0]).toBe(0);
    expect(call("round", [0.49999997])[0]).toBe(0);
    expect(call("round", [-0.5])[0]).toBeCloseTo(0, 10);
    expect(call("exponential", [200])[0]).toBe(Infinity);
    expect(call("exponential", [-200])[0]).toBe(0);
    expect(call("exponential", [Number.NaN])[0]).toBeNaN();
    expect(call("logarithm", [0])[0]).toBe(-Infinity);
    expect(call("power", [-8, 1 / 3])[0]).toBeNaN();
    expect(call("logarithm", [-1])[0]).toBeNaN();
    expect(call("logarithm", [Infinity])[0]).toBe(Infinity);
    expect(call("logarithm", [2 ** -140])[0]).toBeCloseTo(-140 * Math.LN2, 4);
    // IEEE 754-2019 §9.2.1: what atan2 gives for zeros and infinities.
    for (const [y, x] of [
      [0, 1],
      [0, -1],
      [-0, -1],
      [0, -0],
      [-0, 0],
      [Infinity, -Infinity],
      [1, -Infinity],
      [-Infinity, 3],
    ])
      expect(call("arcTangent2", [y, x])[0]).toBeCloseTo(Math.atan2(y, x), 6);
    expect(call("clamp", [Number.NaN, 0, 1])[0]).toBeNaN();
    const response = segmentedTable({
      knots: [0, 1, 1, 2],
      lanes: 1,
      before: [5],
      after: [9],
      steps: () => 2,
      between: (k, t) => [[5 + 2 * t], [Number.NaN], [8 + t]][k],
    });
    expect(
      [-1, 0, 0.25, 0.5, 0.999, 1, 1.5, 2, 99, Number.NaN].map((x) => call("lookup", [x], response)[0]),
    ).toEqual([5, 5, 5.5, 6, Math.fround(5 + 2 * Math.fround(0.999)), 8, 8.5, 9, 9, 5]);
  });
});

describe("kernels of several numbers", () => {
  const unit = number(-1, 1);
  const rotation = fc
    .tuple(unit, unit, unit, unit)
    .filter((q) => Math.hypot(...q) > 0.1)
    .map((q) => q.map((v) => v / Math.hypot(...q)));
  const close = (got: readonly number[], expected: readonly number[], digits = 5) =>
    got.forEach((v, i) => expect(v).toBeCloseTo(expected[i], digits));

  it("agree with the slow form", () => {
    const gradient = bakeGradient({
      space: "oklab",
      stops: [
        { at: 0, color: "#123456" },
        { at: 1, color: "#fedcba" },
      ],
    });
    // More knots than are counted four places at a time.
    const manyKnots = segmentedTable({
      knots: Array.from({ length: 90 }, (_, k) => k / 80),
      lanes: 1,
      before: [-1],
      after: [3],
      steps: (k) => 1 + (k % 3),
      between: (k, t) => [Math.sin(k) + t * Math.cos(3 * k)],
    });
    const cases: [OperationName, number, object | undefined][] = [
      ["mix", 3, undefined],
      ["length3", 3, undefined],
      ["fraction", 1, undefined],
      ["modulo", 2, undefined],
      ["pingPong", 2, undefined],
      ["eulerToRotation", 3, undefined],
      ["multiplyRotations", 8, undefined],
      ["rotateVector", 7, undefined],
      ["partOfRotation", 5, undefined],
      ["toOklab", 3, undefined],
      ["fromOklab", 3, undefined],
      ["mixColors", 7, undefined],
      ["gradient", 1, gradient],
      ["lookup", 1, manyKnots],
      ...["linear", "smooth", "cosine", "in", "out", "in-out", "overshoot"].map(
        (ease): [OperationName, number, object] => ["ease", 1, { ease }],
      ),
    ];
    for (const [op, inputs, data] of cases) {
      fc.assert(
        fc.property(fc.array(number(0.015625, 1), { minLength: inputs, maxLength: inputs }), (x) => {
          // A remainder near a whole multiple may fall to either side.
          if (op === "modulo" || op === "pingPong") fc.pre(Math.abs((x[0] / x[1]) % 1) > 1e-4);
          close(call(op, x, data), slowly(op, x, data as never), op === "fromOklab" ? 4 : 5);
        }),
        { numRuns: 400 },
      );
    }
  });

  it("turn vectors as three does", () => {
    fc.assert(
      fc.property(rotation, number(-5, 5), number(-5, 5), number(-5, 5), (q, x, y, z) => {
        const expected = new Vector3(x, y, z).applyQuaternion(new Quaternion(...q));
        close(call("rotateVector", [...q, x, y, z]), expected.toArray(), 4);
      }),
    );
  });

  it("compose matrices as three and gl-matrix do, block ends included", () => {
    const count = 7;
    const lanes = Array.from({ length: 10 }, (_, l) =>
      Float32Array.from(
        { length: count },
        (_, i) => Math.sin(i * 1.7 + l) * (l < 3 ? 9 : 1) + (l > 6 ? 2 : 0),
      ),
    );
    for (let i = 0; i < count; i++) {
      const norm = Math.hypot(...[3, 4, 5, 6].map((l) => lanes[l][i]));
      for (const l of [3, 4, 5, 6]) lanes[l][i] /= norm;
    }
    const matrices = interleave("composeMatrices", lanes, 16, new Float32Array(count * 16));
    for (let i = 0; i < count; i++) {
      const v = lanes.map((lane) => lane[i]);
      const got = [...matrices.subarray(i * 16, i * 16 + 16)];
      const three = new Matrix4().compose(
        new Vector3(v[0], v[1], v[2]),
        new Quaternion(v[3], v[4], v[5], v[6]),
        new Vector3(v[7], v[8], v[9]),
      );
      close(got, three.elements, 4);
      const other = mat4.fromRotationTranslationScale(
        mat4.create(),
        [v[3], v[4], v[5], v[6]],
        [v[0], v[1], v[2]],
        [v[7], v[8], v[9]],
      );
      close(got, [...other], 4);
    }
  });
});

describe("random and noise kernels", () => {
  it("give the very numbers of the slow form for every id", () => {
    const id = makeIntegers(64);
    fc.assert(
      fc.property(
        fc.array(fc.integer(), { minLength: 64, maxLength: 64 }),
        fc.nat(),
        fc.nat(8),
        (ids, seed, channel) => {
          id.set(ids);
          const field = apply("random", [elementId()], { key: "", seed, channel });
          const [lane] = runValues([field], {
            count: 64,
            columns: { id: makeColumn("integer", [id]) },
          }).lanes;
          ids.forEach((id, i) => {
            expect(lane[i]).toBe(slowly("random", [id], { seed, channel })[0]);
          });
        },
      ),
      { numRuns: 100 },
    );
  });

  it("noise is the slow form within float32, moving and looping, at any octave", () => {
    const place = number(-200, 200);
    const options = fc.record({
      seed: fc.nat(),
      w: fc.double({ min: -20, max: 20, noNaN: true }),
      octaves: fc.integer({ min: 1, max: 6 }),
      roughness: fc.constantFrom(0, 0.3, 0.5, 1),
      lacunarity: fc.constantFrom(1, 2, 2.5),
      period: fc.constantFrom(0, 4),
    });
    fc.assert(
      fc.property(place, place, place, options, (x, y, z, data) => {
        // Float32 places the highest octave within 2⁻¹⁶ of where float64 does; slopes are below 3 a lattice step.
        const allowed = 4e-4 * data.lacunarity ** (data.octaves - 1) + 1e-5;
        expect(
          Math.abs(call("noise", [x, y, z], data)[0] - slowly("noise", [x, y, z], data)[0]),
        ).toBeLessThan(allowed);
        // Three at once are each by itself, bit for bit.
        const seeds = [data.seed, data.seed + 1, data.seed + 2];
        expect(call("noise3", [x, y, z], { ...data, seeds })).toEqual(
          seeds.map((seed) => call("noise", [x, y, z], { ...data, seed })[0]),
        );
      }),
      { numRuns: 2000 },
    );
  });

  it("is 0 at every lattice point and keeps its bound [NOI-04]", () => {
    const data = { seed: 9, w: 0, octaves: 1, roughness: 0.5, lacunarity: 2, period: 0 };
    fc.assert(
      fc.property(
        fc.integer({ min: -999, max: 999 }),
        fc.integer({ min: -999, max: 999 }),
        number(-9, 9),
        (i, j, z) => {
          expect(call("noise", [i, j, -i], data)[0]).toBeCloseTo(0, 12);
          expect(Math.abs(call("noise", [i + 0.37, j + 0.61, z], data)[0])).toBeLessThan(1.0365);
        },
      ),
    );
  });
});

describe("cells and swirl", () => {
  const place = fc.tuple(number(-50, 50), number(-50, 50), number(-50, 50));
  const time = { w: fc.double({ min: -9, max: 9, noNaN: true }), period: fc.constantFrom(0, 3) };

  it("cells are the nearest two points by trying all [NOI-14]", () => {
    const options = fc.record({ seed: fc.nat(), jitter: fc.constantFrom(0, 0.4, 1), ...time });
    fc.assert(
      fc.property(place, options, (at, data) => {
        const [nearest, second, own] = call("cells", at, data);
        const expected = slowly("cells", at, data);
        expect(nearest).toBeCloseTo(expected[0], 3);
        expect(second).toBeCloseTo(expected[1], 3);
        // Where two points are equally near, either cell will do.
        if (expected[1] - expected[0] > 1e-3) expect(own).toBeCloseTo(expected[2], 6);
        expect(nearest).toBeLessThanOrEqual(second);
      }),
      { numRuns: 600 },
    );
  });

  it("distances change no faster than the place [NOI-14]", () => {
    const data = { seed: 3, jitter: 1, w: 0, period: 0 };
    fc.assert(
      fc.property(place, fc.tuple(number(-1, 1), number(-1, 1), number(-1, 1)), (at, by) => {
        const there = at.map((v, a) => Math.fround(v + by[a]));
        const apart = Math.hypot(...at.map((v, a) => there[a] - v));
        const [a, b] = [at, there].map((p) => call("cells", p, data));
        for (const k of [0, 1]) expect(Math.abs(a[k] - b[k])).toBeLessThanOrEqual(apart + 1e-4);
      }),
    );
  });

  const fractal = { octaves: 1, roughness: 0.5, lacunarity: 2 };

  it("swirl is the curl of its potential by central differences, moving and looping, in layers", () => {
    const options = fc.record({ octaves: fc.integer({ min: 1, max: 3 }), ...time });
    const seeds = [11, 22, 33];
    fc.assert(
      fc.property(place, options, (at, given) => {
        const data = { ...fractal, ...given, seeds };
        const expected = slowly("swirl", at, data);
        // Slopes of the noise's slope are below 30 a lattice step, and float32 places it within 4e-6.
        const allowed = 2e-3 * 2 ** (2 * (given.octaves - 1));
        call("swirl", at, data).forEach((v, i) => expect(Math.abs(v - expected[i])).toBeLessThan(allowed));
      }),
      { numRuns: 400 },
    );
  });

  it("swirl neither begins nor ends anywhere [NOI-11: exact curl, step 0.01: divergence up to 0.0044]", () => {
    const data = { ...fractal, w: 0, period: 0, seeds: [5, 6, 7] };
    let [most, size] = [0, 0];
    for (let i = 0; i < 300; i++) {
      const at = [Math.sin(i) * 3, Math.cos(i * 1.7) * 3, Math.sin(i * 2.3) * 3];
      const flow = (axis: number, by: number) =>
        call(
          "swirl",
          at.map((v, a) => (a === axis ? v + by : v)),
          data,
        )[axis];
      const divergence = [0, 1, 2].reduce((sum, a) => sum + (flow(a, 0.01) - flow(a, -0.01)) / 0.02, 0);
      most = Math.max(most, Math.abs(divergence));
      size += Math.hypot(...[0, 1, 2].map((a) => flow(a, 0))) / 300;
    }
    // Float32 adds about 1e-6 ÷ 0.02 an axis to the published bound.
    expect(most).toBeLessThan(0.0044 * 2);
    expect(size).toBeGreaterThan(1);
  });
});

describe("pictures", () => {
  it("are read as the slow form reads them, everywhere and with any edge", () => {
    const pixels = { width: 5, height: 3 };
    const bytes = Uint8Array.from({ length: 60 }, (_, i) => (i * 73) % 256);
    const words = Uint16Array.from({ length: 60 }, (_, i) => (i * 7919) % 65536);
    fc.assert(
      fc.property(
        number(-3, 3),
        number(-3, 3),
        fc.constantFrom(...OUTSIDE),
        fc.boolean(),
        fc.constantFrom(bytes, words),
        (u, v, outside, smooth, samples) => {
          // On the border between two pixels either is right.
          if (!smooth && [u * 5, v * 3].some((x) => Math.abs(x - Math.round(x)) < 1e-3)) return;
          const data = { picture: { ...pixels, samples }, outside, smooth };
          const expected = slowly("picture", [u, v], data);
          const got = call("picture", [u, v], data);
          expect(got[3]).toBeCloseTo(expected[3], 4);
          // Colour means little where there is next to no pixel.
          if (expected[3] > 0.01) got.forEach((c, i) => expect(c).toBeCloseTo(expected[i], 2));
        },
      ),
      { numRuns: 2000 },
    );
    const data = { picture: { ...pixels, samples: bytes }, outside: "hold", smooth: true };
    expect(call("picture", [Number.NaN, 0], data)).toEqual([0, 0, 0, 0]);
    expect(call("picture", [1e30, 0.5], data)[3]).toBeGreaterThan(0);
  });
});

describe("the same bits everywhere", () => {
  /** SHA-256 over the outputs of every kernel on the same 4,096 inputs. */
  function checksum(on: Engine): string {
    const hash = createHash("sha256");
    const count = 4096;
    const data = {
      ease: "cosine",
      seed: 7,
      channel: 2,
      w: 0.4,
      octaves: 3,
      roughness: 0.5,
      lacunarity: 2,
      period: 0,
      jitter: 1,
      seeds: [1, 2, 3],
      table: Float32Array.from({ length: 64 }, (_, i) => i / 63),
    };
    for (const [name, operation] of Object.entries<Operation>(OPERATIONS)) {
      // Pictures, grids and trees lie in this thread's own memory, not in one made for a test.
      if (
        operation.inputs === 0 ||
        [
          ...["picture", "nearest", "closest", "within", "near"],
          ...[
            "ofNumber",
            "castRay",
            "alongCurve",
            "nearCurve",
            "blendNearest",
            "touch",
            "latticeShift",
            "inVolume",
          ],
        ].includes(name)
      )
        continue;
      const scratch = new Scratch(on);
      const inputs = Array.from({ length: operation.inputs }, (_, l) =>
        laneAt(
          scratch.place(Float32Array.from({ length: count }, (_, i) => ((i * (l + 3)) % 977) / 61 - 7.5)),
        ),
      );
      const outputs = Array.from({ length: operation.outputs }, () => laneAt(scratch.room(count * 4)));
      const calls = callsOf(
        operation,
        inputs,
        outputs,
        { key: "", ...data },
        {
          place: (table) => scratch.place(table),
          spare: (width) => laneAt(scratch.room(width * count * 4)),
        },
      );
      runRange(on.kernels, { scratch: 0, fills: [], bring: [], calls, take: [] }, 0, 0, count);
      for (const { at } of outputs) hash.update(on.kernels.floats.slice(at / 4, at / 4 + count));
      scratch.release();
    }
    return hash.digest("hex");
  }

  it("two instances give the same bytes", () => {
    const memory = KernelMemory.create();
    expect(checksum({ memory, kernels: Kernels.load(memory.memory) })).toBe(checksum(engine()));
  });
});

describe("a browser without what the kernels need", () => {
  it("is told what is missing", () => {
    const module = jest.spyOn(WebAssembly, "Module").mockImplementation(() => {
      throw new TypeError("invalid value type 's128'");
    });
    const { memory } = KernelMemory.create(2 ** 20);
    expect(() => Kernels.load(memory)).toThrow(NoKernels);
    expect(() => Kernels.load(memory)).toThrow(/has no WebAssembly with SIMD and shared memory \(invalid/);
    module.mockRestore();
    const refused = jest.spyOn(WebAssembly, "Memory").mockImplementation(() => {
      throw new RangeError("shared memory is not allowed");
    });
    expect(() => Kernels.withoutMemory()).toThrow(NoKernels);
    refused.mockRestore();
  });
});
