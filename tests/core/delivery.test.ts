/** Ranges of frames that leave as files. */
import fc from "fast-check";
import { framesOf, frameText } from "../../src/studio/export/frame-range";

describe("frames that are taken away", () => {
  it("hold both ends where the step meets them", () => {
    expect(framesOf({ first: 0, last: 4, step: 1 })).toEqual([0, 1, 2, 3, 4]);
    expect(framesOf({ first: -2, last: 7, step: 4 })).toEqual([-2, 2, 6]);
    expect(framesOf({ first: 5, last: 5, step: 10 })).toEqual([5]);
    expect(framesOf({ first: 5, last: 4, step: 1 })).toEqual([]);
    expect(framesOf({ first: 0, last: 2, step: 0 })).toEqual([0, 1, 2]);
  });

  it("have names of their own that sort as they come", () => {
    fc.assert(
      fc.property(
        fc.nat(20_000),
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 1, max: 9 }),
        (first, more, step) => {
          const frames = framesOf({ first, last: first + more, step });
          const names = frames.map((frame) => frameText(frame, frames));
          expect([...names].sort()).toEqual(names);
          expect(new Set(names).size).toBe(frames.length);
          expect(names.map(Number)).toEqual(frames);
        },
      ),
    );
    expect(frameText(-3, [-3, 2])).toBe("-0003");
  });
});
