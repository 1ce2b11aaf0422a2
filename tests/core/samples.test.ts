/** Where pictures are sampled, against the published sequences and what even means. */
import { halton, onDisc, sampleAt } from "../../src/core/maths/samples";

const many = Array.from({ length: 4096 }, (_, i) => sampleAt(i));

describe("samples", () => {
  it("follow Halton's sequence", () => {
    // J. Halton, "On the efficiency of certain quasi-random sequences", 1960: radical inverses in base 2 and 3.
    expect([1, 2, 3, 4, 5].map((i) => halton(i, 2))).toEqual([0.5, 0.25, 0.75, 0.125, 0.625]);
    [1 / 3, 2 / 3, 1 / 9, 4 / 9, 7 / 9].forEach((wanted, i) => {
      expect(halton(i + 1, 3)).toBeCloseTo(wanted, 12);
    });
  });

  it("go to the disc so that even areas stay even", () => {
    for (const [u, v] of [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
      [0.3, 1],
    ])
      expect(Math.hypot(...onDisc(u, v))).toBeCloseTo(1, 9);
    expect(onDisc(0.5, 0.5)).toEqual([0, 0]);
    // A quarter of a disc's area lies within half of its radius, as many on each side; whichever disc.
    for (const disc of ["lens", "light"] as const) {
      const places = many.map((sample) => sample[disc]);
      const share = (is: (x: number, y: number) => boolean) =>
        places.filter(([x, y]) => is(x, y)).length / many.length;
      expect(share((x, y) => Math.hypot(x, y) < 0.5)).toBeCloseTo(0.25, 2);
      expect(share((x, y) => Math.hypot(x, y) <= 1)).toBe(1);
      expect(share((x) => x < 0)).toBeCloseTo(0.5, 2);
      expect(share((x, y) => x < 0 && y > 0)).toBeCloseTo(0.25, 2);
    }
  });

  it("fill the pixel, from few ones on", () => {
    for (const count of [16, 256, 4096]) {
      const pixels = many.slice(0, count).map(({ pixel }) => pixel);
      for (const axis of [0, 1]) {
        const mean = pixels.reduce((sum, pixel) => sum + pixel[axis], 0) / count;
        expect(Math.abs(mean)).toBeLessThan(0.6 / Math.sqrt(count));
        expect(Math.max(...pixels.map((pixel) => Math.abs(pixel[axis])))).toBeLessThanOrEqual(0.5);
      }
    }
  });
});
