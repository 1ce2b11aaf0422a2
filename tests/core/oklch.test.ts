/** Colours by lightness, chroma and hue: against values of CSS Color 4 and WCAG 2.2. */
import fc from "fast-check";
import { parseHex } from "../../src/core/maths/color";
import { contrastOf, harmonyOf, hexOfOklch, oklchOf } from "../../src/core/maths/oklch";

// CSS Color 4 writes sRGB's corners so (from memory, to three digits).
it.each([
  ["#ff0000", 0.628, 0.258, 29.2],
  ["#00ff00", 0.866, 0.295, 142.5],
  ["#0000ff", 0.452, 0.313, 264.1],
  ["#ffffff", 1, 0, null],
])("%s is as light, strong and of the hue as published", (hex, lightness, chroma, hue) => {
  const own = oklchOf(hex);
  expect(own.lightness).toBeCloseTo(lightness, 3);
  expect(own.chroma).toBeCloseTo(chroma, 3);
  if (hue !== null) expect(own.hue).toBeCloseTo(hue, 0);
});

const hexes = fc
  .integer({ min: 0, max: 0xffffff })
  .map((number) => `#${number.toString(16).padStart(6, "0")}`);

it("comes back as it was", () => {
  fc.assert(
    fc.property(hexes, (hex) => {
      const [own, back] = [hex, hexOfOklch(oklchOf(hex))].map((one) => parseHex(one) as readonly number[]);
      // A step of eight bits at most.
      for (let c = 0; c < 3; c++) expect(Math.abs(own[c] - back[c])).toBeLessThan(0.01);
    }),
  );
  expect(hexOfOklch(oklchOf("#c4502e"), 0.5)).toBe("#c4502e80");
});

it("keeps lightness and hue where sRGB has no such chroma", () => {
  const wished = { lightness: 0.7, chroma: 0.5, hue: 150 };
  const got = oklchOf(hexOfOklch(wished));
  expect(got.lightness).toBeCloseTo(wished.lightness, 2);
  expect(got.hue).toBeCloseTo(wished.hue, 0);
  expect(got.chroma).toBeLessThan(0.3);
  expect(got.chroma).toBeGreaterThan(0.15);
});

it("finds colours that go with one, as light as it is", () => {
  const own = oklchOf("#7fa650");
  for (const hex of harmonyOf("#7fa650")) expect(oklchOf(hex).lightness).toBeCloseTo(own.lightness, 2);
  expect(Math.abs(oklchOf(harmonyOf("#7fa650")[4]).hue - own.hue)).toBeCloseTo(180, 0);
});

it("tells contrast as WCAG does", () => {
  expect(contrastOf("#000000", "#ffffff")).toBeCloseTo(21, 9);
  // The grey that just fails on white (common practice: #767676 is the lightest that passes 4.5).
  expect(contrastOf("#767676", "#ffffff")).toBeCloseTo(4.54, 2);
  expect(contrastOf("#777777", "#ffffff")).toBeCloseTo(4.48, 2);
});
