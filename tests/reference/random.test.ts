import { hash3, mix32, unit24 } from "../../src/core/maths/random";

describe("mix32 is MurmurHash3's finaliser [PRG-08: Appleby 2011, values from memory, recomputed]", () => {
  it.each([
    [0, 0x00000000],
    [1, 0x514e28b7],
    [2, 0x30f4c306],
    [0xdeadbeef, 0x0de5c6a9],
    [0xffffffff, 0x81f16f39],
  ])("of %i", (input, expected) => {
    expect(mix32(input)).toBe(expected);
  });
});

describe("random numbers per element", () => {
  it("never reach 1 in float32 [PRG-14: IEEE 754-2019]", () => {
    expect(Math.fround(unit24(0xffffffff))).toBeCloseTo(0.999999940395, 12);
    expect(Math.fround(unit24(0xffffffff))).toBeLessThan(1);
  });

  it.each([
    ["ids", (i: number) => hash3(7, i, 0)],
    ["seeds", (i: number) => hash3(i, 7, 0)],
    ["channels", (i: number) => hash3(7, 7, i)],
  ])("are even over %s [PRG-15: χ² with 99 degrees of freedom below 148.23, p = 0.001]", (_what, draw) => {
    const bins = new Array<number>(100).fill(0);
    const count = 100_000;
    for (let i = 0; i < count; i++) bins[Math.floor(unit24(draw(i)) * 100)]++;
    const expected = count / 100;
    expect(bins.reduce((sum, n) => sum + (n - expected) ** 2 / expected, 0)).toBeLessThan(148.2303592);
  });

  it("are independent between neighbouring ids and channels (correlation of 10⁵ pairs, |r| < 4/√n)", () => {
    const correlation = (a: (i: number) => number, b: (i: number) => number) => {
      let sum = 0;
      for (let i = 0; i < 100_000; i++) sum += (a(i) - 0.5) * (b(i) - 0.5) * 12;
      return sum / 100_000;
    };
    const draw = (seed: number, id: number, channel: number) => unit24(hash3(seed, id, channel));
    expect(
      Math.abs(
        correlation(
          (i) => draw(1, i, 0),
          (i) => draw(1, i + 1, 0),
        ),
      ),
    ).toBeLessThan(0.0127);
    expect(
      Math.abs(
        correlation(
          (i) => draw(1, i, 0),
          (i) => draw(1, i, 1),
        ),
      ),
    ).toBeLessThan(0.0127);
    expect(
      Math.abs(
        correlation(
          (i) => draw(1, i, 0),
          (i) => draw(2, i, 0),
        ),
      ),
    ).toBeLessThan(0.0127);
  });
});
