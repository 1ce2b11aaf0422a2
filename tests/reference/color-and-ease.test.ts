/** Colour and easing against IEC 61966-2-1, Ottosson's Oklab, CSS, culori and d3-ease. */
import { converter, interpolate, rgb } from "culori";
import { easeCubicIn, easeCubicInOut, easeCubicOut } from "d3-ease";
import fc from "fast-check";
import { apply, constant, plainNumber } from "../../src/core/fields/expression";
import { decodeSrgb, encodeSrgb, fromOklab, parseHex, toHex, toOklab } from "../../src/core/maths/color";
import type { EaseName } from "../../src/core/maths/ease";
import { bakeGradient, mixStops, TABLE_SIZE } from "../../src/core/maths/gradient";

describe("sRGB", () => {
  it.each([
    [0.02, 0.001547987616],
    [0.04045, 0.003130804954],
    [0.2, 0.03310476657],
    [0.5, 0.2140411405],
    [0.8, 0.6038273389],
  ])("decodes %f [COL-01]", (encoded, linear) => expect(decodeSrgb(encoded)).toBeCloseTo(linear, 9));

  it.each([
    [0.001, 0.01292],
    [0.18, 0.4613561295],
    [0.5, 0.7353569831],
  ])("encodes %f [COL-02]", (linear, encoded) => expect(encodeSrgb(linear)).toBeCloseTo(encoded, 9));

  it("keeps all 256 levels there and back [COL-03]", () => {
    for (let i = 0; i < 256; i++)
      expect(Math.round(255 * encodeSrgb(Math.fround(decodeSrgb(i / 255))))).toBe(i);
  });

  it("writes what it read, with and without alpha", () => {
    for (const hex of ["#f0b03a", "#00000080", "#ffffff"])
      expect(toHex(parseHex(hex) ?? [0, 0, 0, 0])).toBe(hex);
    for (const bad of ["", "#fff", "f0b03a", "#f0b03a7", "#gg0000"]) expect(parseHex(bad)).toBeNull();
  });
});

describe("Oklab", () => {
  it("of red, green and blue [COL-04: Ottosson 2020]", () => {
    for (const [r, g, b, L, A, B] of [
      [1, 0, 0, 0.627955361, 0.224863061, 0.125846299],
      [0, 1, 0, 0.866439612, -0.233887574, 0.17949848],
      [0, 0, 1, 0.452013718, -0.0324569842, -0.311528148],
    ]) {
      const lab = toOklab(r, g, b);
      [L, A, B].forEach((v, i) => expect(lab[i]).toBeCloseTo(v, 5));
    }
  });

  it("agrees with culori and comes back", () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    const reference = converter("oklab");
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const lab = toOklab(r, g, b);
        const expected = reference({ mode: "lrgb", r, g, b });
        [expected.l, expected.a, expected.b].forEach((v, i) => expect(lab[i]).toBeCloseTo(v, 5));
        fromOklab(...lab).forEach((v, i) => expect(v).toBeCloseTo([r, g, b][i], 5));
      }),
    );
  });
});

describe("gradients", () => {
  const middle = (space: "oklab" | "linear" | "srgb", a: string, b: string) =>
    toHex(mixStops(space, parseHex(a) ?? [0, 0, 0, 1], parseHex(b) ?? [0, 0, 0, 1], 0.5));

  it("midpoints in Oklab [COL-07: CSS Color 4 §12]", () => {
    expect(middle("oklab", "#0000ff", "#ffffff")).toBe("#74a3ff");
    expect(middle("oklab", "#ff0000", "#00ff00")).toBe("#d0a800");
    expect(middle("oklab", "#ff0000", "#0000ff")).toBe("#8c53a2");
  });

  it("midpoints in linear light and encoded [COL-08]", () => {
    expect(middle("linear", "#ff0000", "#0000ff")).toBe("#bc00bc");
    // 127.5 may round either way.
    expect(["#800080", "#7f007f"]).toContain(middle("srgb", "#ff0000", "#0000ff"));
  });

  it("bake stops in any order, holding the ends, as culori mixes them", () => {
    const table = bakeGradient({
      space: "oklab",
      stops: [
        { at: 0.8, color: "#f0b03a" },
        { at: 0.25, color: "#24463a" },
      ],
    });
    const at = (t: number) => {
      const k = Math.round(t * (TABLE_SIZE - 1)) * 4;
      return toHex([table[k], table[k + 1], table[k + 2], table[k + 3]]);
    };
    expect([at(0), at(0.25), at(0.8), at(1)]).toEqual(["#24463a", "#24463a", "#f0b03a", "#f0b03a"]);
    const expected = rgb(interpolate(["#24463a", "#f0b03a"], "oklab")((0.5 - 0.25) / 0.55));
    const found = parseHex(at(0.5)) ?? [0, 0, 0, 0];
    expect(encodeSrgb(found[0])).toBeCloseTo(expected?.r ?? -1, 2);
    expect(encodeSrgb(found[1])).toBeCloseTo(expected?.g ?? -1, 2);
  });
});

/** The kernel's response at t. */
const ease = (name: EaseName, t: number): number =>
  plainNumber(apply("ease", [constant(t)], { key: name, ease: name })) as number;

describe("easing", () => {
  it("cubic as d3-ease", () => {
    for (let t = 0; t <= 1; t += 0.05) {
      expect(ease("in", t)).toBeCloseTo(easeCubicIn(t), 6);
      expect(ease("out", t)).toBeCloseTo(easeCubicOut(t), 6);
      expect(ease("in-out", t)).toBeCloseTo(easeCubicInOut(t), 6);
    }
  });

  it("smooth and cosine [WAV-11], overshoot mirrors Penner's back-in [EAS-11]", () => {
    expect([ease("smooth", 0.75), ease("smooth", 0.25)]).toEqual([0.84375, 0.15625]);
    expect(ease("cosine", 0.75)).toBeCloseTo(0.8535533906, 6);
    expect(1 - ease("overshoot", 0.75)).toBeCloseTo(-0.0641365625, 6);
  });
});
