/** What drives by time and angle: the Keys node, Random that changes, Sweep; and soft unions of falloffs. */
import fc from "fast-check";
import type { Key } from "../../src/core/document/schema";
import { blankDocument } from "../../src/core/document/schema";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { graphOf, numbersAt, outputsOf, sitesAt } from "../run-node";

const ORIGIN = [0, 0, 0];
const THREE = [ORIGIN, ORIGIN, ORIGIN];
const { first, last } = blankDocument("").settings;

describe("the Keys node", () => {
  const keys = (list: Key[], rest = {}) => ({ value: { keys: list, ...rest } });
  const rise: Key[] = [
    { frame: 10, value: 0, ease: "ease-in-out" },
    { frame: 30, value: 4 },
  ];
  const at = (frame: number, set = {}, track = keys(rise)) =>
    numbersAt("keys", set, "value", [ORIGIN], frame, track)[0];

  it("follows the curve of CSS Easing Functions Level 1 between two keys", () => {
    // "ease-in-out" is cubic-bezier(0.42, 0, 0.58, 1) there: x and y by the parameter of the curve.
    const part = (p: number, q: number, t: number) =>
      3 * p * t * (1 - t) ** 2 + 3 * q * t * t * (1 - t) + t ** 3;
    for (const t of [0, 0.1, 0.3, 0.5, 0.8, 1])
      expect(at(10 + 20 * part(0.42, 0.58, t))).toBeCloseTo(4 * part(0, 1, t), 4);
    expect([at(0), at(99)]).toEqual([0, 4]);
  });

  it("is read later where there is a delay, and faster where the pace is more", () => {
    expect(at(25, { delay: 5 })).toBeCloseTo(at(20), 5);
    expect(at(15, { pace: 2 })).toBeCloseTo(at(20), 5);
  });

  it("repeats as its keys do: 1° a frame over 90 frames, ten times, is 900° (common practice)", () => {
    const turn: Key[] = [
      { frame: 0, value: 0 },
      { frame: 90, value: 90 },
    ];
    const turning = (after: string, frame: number) =>
      numbersAt("keys", {}, "value", [ORIGIN], frame, keys(turn, { before: after, after }) as never)[0];
    expect(turning("again from there", 900)).toBeCloseTo(900, 3);
    expect(turning("again from there", -45)).toBeCloseTo(-45, 3);
    expect(turning("again", 100)).toBeCloseTo(10, 3);
    expect(turning("to and fro", 100)).toBeCloseTo(80, 3);
    expect(turning("hold", 100)).toBe(90);
  });

  it("holds between keys that hold", () => {
    const steps: Key[] = [
      { frame: 0, value: 1, ease: "hold" },
      { frame: 10, value: 5 },
    ];
    expect([0, 5, 9.9, 10].map((frame) => at(frame, {}, keys(steps)))).toEqual([1, 1, 1, 5]);
  });

  it("without keys gives its value, and says so", () => {
    expect(numbersAt("keys", { value: 3 }, "value", [ORIGIN])).toEqual([3]);
  });
});

describe("Random that changes with time", () => {
  const chances = (set: object, frame: number) => numbersAt("random", { ...set }, "value", THREE, frame);

  it("closes its loop for any speed, seed and way of changing", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 12, noNaN: true }),
        fc.nat(1000),
        fc.constantFrom("glides", "jumps"),
        (speed, seed, change) => {
          const set = { speed, seed, change, loop: true };
          expect(chances(set, last + 1)).toEqual(chances(set, first));
        },
      ),
      { numRuns: 300 },
    );
  });

  it("glides without steps and jumps in steps", () => {
    const glide = Array.from({ length: 100 }, (_, frame) => chances({ speed: 1 }, frame)[1]);
    const jump = Array.from({ length: 100 }, (_, frame) => chances({ speed: 1, change: "jumps" }, frame)[1]);
    const most = (list: number[]) => Math.max(...list.slice(1).map((v, i) => Math.abs(v - list[i])));
    // 25 frames a second: smoothstep's steepest slope is 1.5 a step, so at most 0.06 a frame.
    expect(most(glide)).toBeLessThanOrEqual(0.061);
    expect(new Set(jump).size).toBe(4);
  });

  it("does not change at speed 0, and is then what it was before there was a speed", () => {
    expect(chances({ seed: 5 }, 0)).toEqual(chances({ seed: 5 }, 77));
  });
});

describe("Sweep", () => {
  /** A place at an angle by the right-hand rule round +y, from +x. */
  const around = (degrees: number) => {
    const a = (degrees * Math.PI) / 180;
    return [2 * Math.cos(a), 1, -2 * Math.sin(a)];
  };
  const at = (set: object, ...angles: number[]) =>
    numbersAt("sweep", { ...set }, "value", angles.map(around));

  it("is 1 where the hand has been and 0 ahead, by the right-hand rule", () => {
    const hard = { swept: 90, soft: 0 };
    expect(at(hard, 1, 45, 89, 91, 180, 359)).toEqual([1, 1, 1, 0, 0, 0]);
    expect(at({ swept: -90, soft: 0 }, 1, 271, 359)).toEqual([0, 1, 1]);
    expect(at({ ...hard, begin: 180 }, 90, 181, 269)).toEqual([0, 1, 1]);
  });

  it("slopes down ahead of the hand and before its start", () => {
    const soft = at({ swept: 90, soft: 20, ease: "linear" }, 95, 100, 110, 350, 340);
    [0.75, 0.5, 0, 0.5, 0].forEach((v, i) => {
      expect(soft[i]).toBeCloseTo(v, 4);
    });
  });

  it("covers all when it has gone round, and nothing before it starts", () => {
    expect(at({ swept: 360, soft: 0 }, 0, 90, 359.9)).toEqual([1, 1, 1]);
    expect(at({ swept: 0, soft: 30 }, 0, 90, 359.9)).toEqual([0, 0, 0]);
  });

  it("fades behind the hand with a trail, and tells the angle", () => {
    const trail = at({ swept: 100, soft: 0, trail: true }, 25, 50, 99);
    [0.25, 0.5, 0.99].forEach((v, i) => {
      expect(trail[i]).toBeCloseTo(v, 4);
    });
    expect(numbersAt("sweep", {}, "angle", [around(135)])[0]).toBeCloseTo(135, 3);
  });
});

describe("falloffs that run together", () => {
  it("soft least and greatest: a quarter of the width beyond where both are the same (I. Quilez, 2013)", () => {
    const soft = (what: string, a: number, b: number, width = 0.8) =>
      numbersAt("arithmetic", { do: what, a, b, width }, "value", [ORIGIN])[0];
    expect(soft("soft least", 0.5, 0.5)).toBeCloseTo(0.3, 6);
    expect(soft("soft greatest", 0.5, 0.5)).toBeCloseTo(0.7, 6);
    expect(soft("soft least", 0, 1)).toBe(0);
    expect(soft("soft greatest", 3, 1)).toBe(3);
    expect(soft("soft least", 2, 2, 0)).toBe(2);
  });

  it("a falloff shapes a distance that arrives", () => {
    const set = { form: "given distance", given: 2, inner: 1, outer: 3, ease: "linear" };
    expect(numbersAt("falloff", set, "value", [ORIGIN])[0]).toBeCloseTo(0.5, 6);
  });
});

describe("loop mode", () => {
  it("closes for a thousand set-ups of all that moves by itself: the frame after the last is the first", () => {
    const speed = fc.double({ min: 0.05, max: 8, noNaN: true });
    const size = fc.double({ min: 0.2, max: 5, noNaN: true });
    const setup = fc.oneof(
      fc.record({
        type: fc.constant("noise"),
        speed,
        size,
        seed: fc.nat(99),
        octaves: fc.integer({ min: 1, max: 3 }),
      }),
      fc.record({ type: fc.constant("swirl"), speed, size, seed: fc.nat(99) }),
      fc.record({ type: fc.constant("cells"), speed, size, seed: fc.nat(99) }),
      fc.record({
        type: fc.constant("random"),
        speed,
        seed: fc.nat(99),
        change: fc.constantFrom("glides", "jumps"),
      }),
      fc.record({
        type: fc.constant("wave"),
        speed,
        wavelength: size,
        form: fc.constantFrom("sine", "triangle"),
        travels: fc.constantFrom("straight", "in rings"),
      }),
    );
    const port: Record<string, string> = { swirl: "flow", cells: "nearest" };
    const part = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(setup, part, part, part, ({ type, ...set }, x, y, z) => {
        const at = (frame: number) => {
          const { [port[type] ?? "value"]: output } = outputsOf(
            graphOf({ node: { type, set: { ...set, loop: true } } }),
            "node",
            frame,
          );
          const values = (Array.isArray(output) ? output : [output]) as Value[];
          return runValues(values, sitesAt([[x, y, z]])).lanes.map(([v]) => v);
        };
        const [begin, end] = [at(first), at(last + 1)];
        // To float precision: a wave's phase is a number of turns, whose sine is taken.
        begin.forEach((v, i) => {
          expect(Math.abs(end[i] - v)).toBeLessThan(type === "wave" ? 1e-4 : 1e-6);
        });
      }),
      { numRuns: 1000 },
    );
  });
});
