/** Curves of values over time: their keys and handles, against three's Bézier curves. */
import fc from "fast-check";
import { CubicBezierCurve, Vector2 } from "three";
import type { Track } from "../../src/core/document/schema";
import { valueAt } from "../../src/core/keys/track";
import { curveCount, handleSpots, withHandle, withKeyAt } from "../../src/studio/timeline/curve-edits";

const NUMBER = { kind: "number" } as const;
const TRACK: Track = {
  keys: [
    { frame: 10, value: 2, ease: "ease" },
    { frame: 30, value: 6, ease: "hold" },
    { frame: 50, value: 1 },
  ],
};

describe("handles", () => {
  it("lie where CSS Easing Functions Level 1 has those of its keywords, in frames and values", () => {
    // ease is cubic-bezier(0.25, 0.1, 0.25, 1), § 2.2.1.
    expect(handleSpots(TRACK, 0, 0)).toEqual([
      [15, expect.closeTo(2.4, 9)],
      [15, 6],
    ]);
    expect(handleSpots(TRACK, 1, 0)).toBeNull();
    expect(handleSpots(TRACK, 2, 0)).toBeNull();
  });

  it("are the control points of the curve that is played", () => {
    const part = fc.double({ min: 0, max: 1, noNaN: true });
    const height = fc.double({ min: -4, max: 12, noNaN: true });
    fc.assert(
      fc.property(
        part,
        height,
        part,
        height,
        fc.double({ min: 0.02, max: 0.98, noNaN: true }),
        (x1, y1, x2, y2, t) => {
          const track = withHandle(withHandle(TRACK, 0, 0, 0, [10 + 20 * x1, y1]), 0, 1, 0, [
            10 + 20 * x2,
            y2,
          ]);
          const [a, b] = handleSpots(track, 0, 0) ?? [];
          if (!a || !b) throw new Error("There are no handles.");
          expect(a[0]).toBeCloseTo(10 + 20 * x1, 2);
          expect(b[1]).toBeCloseTo(y2, 2);
          const curve = new CubicBezierCurve(
            new Vector2(10, 2),
            new Vector2(...a),
            new Vector2(...b),
            new Vector2(30, 6),
          );
          const { x, y } = curve.getPoint(t);
          // Where the curve stands upright a frame has all values between; a little aside they enclose it.
          const [before, after] = [
            valueAt(track, NUMBER, x - 1e-4),
            valueAt(track, NUMBER, x + 1e-4),
          ] as number[];
          const room = Math.abs(after - before) + 1e-3;
          expect(y).toBeGreaterThan(Math.min(before, after) - room);
          expect(y).toBeLessThan(Math.max(before, after) + room);
        },
      ),
      { numRuns: 300 },
    );
  });

  it("stay between their keys in time, and keep their height where both keys are alike", () => {
    expect(withHandle(TRACK, 0, 0, 0, [-500, 2]).keys[0].ease).toEqual([0, 0, 0.25, 1]);
    expect(withHandle(TRACK, 0, 1, 0, [500, 6]).keys[0].ease).toEqual([0.25, 0.1, 1, 1]);
    const flat: Track = {
      keys: [
        { frame: 0, value: 3 },
        { frame: 10, value: 3 },
      ],
    };
    expect(withHandle(flat, 0, 0, 0, [5, 99]).keys[0].ease).toEqual([0.5, 1 / 3, 2 / 3, 2 / 3]);
    expect(withHandle(TRACK, 2, 0, 0, [60, 3])).toBe(TRACK);
  });
});

describe("keys on curves", () => {
  it("move in time and value, never past their neighbours, within the input's limits", () => {
    expect(withKeyAt(TRACK, 1, 0, [33, 4.5]).keys[1]).toEqual({ frame: 33, value: 4.5, ease: "hold" });
    expect(withKeyAt(TRACK, 1, 0, [99, 4]).keys[1].frame).toBeCloseTo(50, 2);
    expect(withKeyAt(TRACK, 1, 0, [-99, 4]).keys.map(({ frame }) => frame)).toEqual([
      10,
      expect.closeTo(10, 2),
      50,
    ]);
    expect(withKeyAt(TRACK, 0, 0, [10, 7.6], { whole: true, min: 1, max: 5 }).keys[0].value).toBe(5);
    expect(withKeyAt(TRACK, 0, 0, [10, 3.6], { whole: true }).keys[0].value).toBe(4);
  });

  it("of vectors are moved in one part; colours have no curve", () => {
    const vector: Track = {
      keys: [
        { frame: 0, value: [1, 2, 3] },
        { frame: 5, value: [4, 5, 6] },
      ],
    };
    expect(curveCount(vector)).toBe(3);
    expect(withKeyAt(vector, 0, 1, [1, 9]).keys[0]).toEqual({ frame: 1, value: [1, 9, 3] });
    expect(curveCount({ keys: [{ frame: 0, value: "#ffffff" }] })).toBe(0);
  });
});
