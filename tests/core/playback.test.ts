/** Playing: which frame comes when, and how frames are told. */
import fc from "fast-check";
import { frameAfter, frameTime, ShownRate } from "../../src/studio/state/playback";

describe("the frame that comes", () => {
  const through = (turns: "once" | "round" | "to and fro", start: number, count: number) =>
    Array.from({ length: count }, (_, i) => frameAfter({ first: 3, last: 6, turns }, start, i));

  it("goes once, round, or to and fro without showing an end twice", () => {
    expect(through("once", 4, 5)).toEqual([4, 5, 6, null, null]);
    expect(through("round", 5, 6)).toEqual([5, 6, 3, 4, 5, 6]);
    expect(through("to and fro", 5, 9)).toEqual([5, 6, 5, 4, 3, 4, 5, 6, 5]);
  });

  it("stays in the range whatever it is, a single frame included", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -50, max: 50 }),
        fc.nat(40),
        fc.nat(1000),
        fc.constantFrom("round" as const, "to and fro" as const),
        (first, more, passed, turns) => {
          const frame = frameAfter({ first, last: first + more, turns }, first, passed) as number;
          expect(frame).toBeGreaterThanOrEqual(first);
          expect(frame).toBeLessThanOrEqual(first + more);
        },
      ),
    );
  });
});

describe("frames that are shown", () => {
  it("are counted over the last second", () => {
    const rate = new ShownRate();
    expect(rate.shown(0)).toBeNull();
    let last: number | null = null;
    for (let t = 100; t <= 3000; t += 100) last = rate.shown(t);
    expect(last).toBeCloseTo(10, 5);
  });
});

describe("frames as time", () => {
  it("are told in seconds and in time code as SMPTE ST 12-1 counts without drop frames", () => {
    expect(frameTime(12.5, 25, "frames")).toBe("12.5");
    expect(frameTime(90, 24, "seconds")).toBe("3.75");
    expect(frameTime(90, 24, "time code")).toBe("00:00:03:18");
    expect(frameTime(25 * 3661 + 7, 25, "time code")).toBe("01:01:01:07");
    // 29.97 and 23.976 count by 30 and 24.
    expect(frameTime(1800, 29.97, "time code")).toBe("00:01:00:00");
    expect(frameTime(24, 23.976, "time code")).toBe("00:00:01:00");
    expect(frameTime(-10, 25, "time code")).toBe("-00:00:00:10");
    expect(frameTime(110, 120, "time code")).toBe("00:00:00:110");
  });
});
