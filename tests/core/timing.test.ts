/** Falloffs of every form by their distances, and staggered starts. */
import fc from "fast-check";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeSites } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, numbersAt, outputsOf } from "../run-node";

type Set = Record<string, Setting>;
const distance = (set: Set, place: readonly number[]) => numbersAt("falloff", set, "distance", [place])[0];

describe("forms of a falloff", () => {
  it("a cylinder is measured from its side, and from its rim when it ends", () => {
    const endless = { form: "cylinder", radius: 1 };
    expect(distance(endless, [3, 50, 0])).toBeCloseTo(2, 5);
    expect(distance(endless, [0.5, 50, 0])).toBe(0);
    const short = { ...endless, length: 4 };
    expect(distance(short, [4, 6, 0])).toBeCloseTo(5, 5);
    expect(distance(short, [0, 6, 0])).toBeCloseTo(4, 5);
    expect(distance({ ...endless, facing: [1, 0, 0] }, [50, 0, 3])).toBeCloseTo(2, 5);
  });

  it("a ring is measured from its circle", () => {
    const ring = { form: "ring", radius: 2 };
    expect(distance(ring, [2, 0, 0])).toBeCloseTo(0, 6);
    expect(distance(ring, [0, 0, 0])).toBeCloseTo(2, 6);
    expect(distance(ring, [0, 4, 5])).toBeCloseTo(5, 5);
  });

  it("a cone opens from its middle: 0 inside, else the way to its side or tip", () => {
    const cone = { form: "cone", opening: 45 };
    expect(distance(cone, [0.9, 1, 0])).toBe(0);
    expect(distance(cone, [2, 0, 0])).toBeCloseTo(Math.SQRT2, 5);
    expect(distance(cone, [0, -3, 0])).toBeCloseTo(3, 5);
  });

  it("no distance grows faster than one goes, whatever the form", () => {
    const part = fc.double({ min: -5, max: 5, noNaN: true });
    const place = fc.tuple(part, part, part);
    fc.assert(
      fc.property(
        fc.constantFrom("ball", "box", "plane", "cylinder", "ring", "cone"),
        place,
        place,
        (form, a, b) => {
          const [p, q] = numbersAt("falloff", { form, length: 2, opening: 25 }, "distance", [a, b]);
          expect(Math.abs(p - q)).toBeLessThanOrEqual(
            Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) + 1e-4,
          );
        },
      ),
    );
  });
});

describe("stagger", () => {
  const FOUR = [0, 1, 2, 3].map((x) => [x, 0, 0]);
  const at = (frame: number, set: Set = {}) =>
    numbersAt("stagger", { ease: "linear", step: 5, lasts: 10, ...set }, "value", FOUR, frame);

  it("starts each so many frames after the one before", () => {
    expect(at(0)).toEqual([0, 0, 0, 0]);
    expect(at(10)).toEqual([1, 0.5, 0, 0]);
    expect(at(25)).toEqual([1, 1, 1, 1]);
    expect(at(12, { begin: 7 })).toEqual([0.5, 0, 0, 0]);
    expect(at(3, { lasts: 0 })).toEqual([1, 0, 0, 0]);
  });

  it("goes back, or begins again every so often", () => {
    expect(at(15, { returns: "goes back" })).toEqual([0.5, 1, 0.5, 0]);
    expect(at(200, { returns: "goes back" })).toEqual([0, 0, 0, 0]);
    const again = { returns: "begins again", every: 40 };
    expect(at(45, again)).toEqual(at(5, again));
    expect(at(45, again)).toEqual([0.5, 0, 1, 1]);
  });

  it("shares the same time out by chance, and takes delays from a field", () => {
    const passed = numbersAt("stagger", { order: "by chance", step: 5 }, "passed", FOUR, 100);
    for (const since of passed) {
      expect(since).toBeGreaterThan(80 - 1e-6);
      expect(since).toBeLessThanOrEqual(100);
    }
    expect(new Set(passed).size).toBe(4);
    const document = graphOf(
      { place: { type: "position" }, node: { type: "stagger", set: { order: "by delay" } } },
      ["place.x>node.delay"],
    );
    const outputs = outputsOf(document, "node", 50);
    const sites = makeSites(3, ({ position }) => position[0].set([0, 10, 20]));
    expect([...runValues([outputs.passed as Value], sites).lanes[0]]).toEqual([50, 40, 30]);
  });
});
