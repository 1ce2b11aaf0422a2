/** Colour and easing against IEC 61966-2-1, Ottosson's Oklab, CSS, culori and d3-ease. */
import { converter, formatHex, interpolate, interpolateWithPremultipliedAlpha, rgb } from "culori";
import { easeCubicIn, easeCubicInOut, easeCubicOut } from "d3-ease";
import fc from "fast-check";
import { apply, constant, plainNumber, type Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import {
  decodeSrgb,
  encodeSrgb,
  fromOklab,
  parseHex,
  type Rgba,
  toHex,
  toOklab,
} from "../../src/core/maths/color";
import type { EaseName } from "../../src/core/maths/ease";
import { type Gradient, gradientAt, mixStops } from "../../src/core/maths/gradient";
import { graphOf, outputsOf, sitesAt } from "../run-node";

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

  /** As the Gradient node reads it, in a kernel. */
  const read = (colors: Gradient, values: readonly number[]): string[] => {
    const document = graphOf(
      {
        place: { type: "position" },
        gradient: { type: "gradient", set: { colors: colors as never } },
      },
      ["place.x>gradient.value"],
    );
    const color = outputsOf(document, "gradient").color as Value[];
    const { lanes } = runValues(color, sitesAt(values.map((v) => [v, 0, 0])));
    return values.map((_, i) => toHex(lanes.map((lane) => lane[i]) as unknown as Rgba));
  };

  it("take stops in any order, holding the ends, as culori mixes them", () => {
    const colors: Gradient = {
      space: "oklab",
      stops: [
        { at: 0.8, color: "#f0b03a" },
        { at: 0.25, color: "#24463a" },
      ],
    };
    expect(read(colors, [0, 0.25, 0.8, 1])).toEqual(["#24463a", "#24463a", "#f0b03a", "#f0b03a"]);
    const mixed = formatHex(interpolate(["#24463a", "#f0b03a"], "oklab")((0.5 - 0.25) / 0.55));
    expect(read(colors, [0.5])).toEqual([mixed]);
    expect(toHex(gradientAt(colors, 0.5))).toBe(mixed);
  });

  it("have hard edges where two stops meet, and meet every stop exactly", () => {
    const colors: Gradient = {
      space: "linear",
      stops: [
        { at: 0, color: "#102030" },
        { at: 1 / 3, color: "#405060" },
        { at: 1 / 3, color: "#f0e0d0" },
        { at: 0.7, color: "#a0b0c0" },
        { at: 1, color: "#ffffff" },
      ],
    };
    const third = Math.fround(1 / 3);
    // The float32 before it: its exponent's step is 2^-25.
    expect(read(colors, [third - 2 ** -25, third, Math.fround(0.7), 1])).toEqual([
      "#405060",
      "#f0e0d0",
      "#a0b0c0",
      "#ffffff",
    ]);
  });

  it.each(["oklab", "linear", "srgb"] as const)(
    "%s: half-way from opaque red to clear blue is half-clear red (CSS Color 4 §12.3: premultiplied)",
    (space) => {
      const [red, green, blue, alpha] = mixStops(space, [1, 0, 0, 1], [0, 0, 1, 0], 0.5);
      [red - 1, green, blue, alpha - 0.5].forEach((off) => {
        expect(off).toBeCloseTo(0, 5);
      });
      const stops = [
        { at: 0, color: "#ff0000" },
        { at: 1, color: "#0000ff00" },
      ];
      expect(read({ space, stops }, [0, 0.25, 0.5, 0.99])).toEqual([
        "#ff0000",
        "#ff0000bf",
        "#ff000080",
        "#ff000003",
      ]);
    },
  );

  it("mixed with alpha as culori mixes them", () => {
    const hex = fc.integer({ min: 0, max: 2 ** 32 - 1 }).map((n) => `#${n.toString(16).padStart(8, "0")}`);
    fc.assert(
      fc.property(hex, hex, fc.double({ min: 0.001, max: 0.999, noNaN: true }), (a, b, t) => {
        const [from, to] = [parseHex(a), parseHex(b)] as [Rgba, Rgba];
        fc.pre(from[3] > 0.05 && to[3] > 0.05);
        const expected = rgb(interpolateWithPremultipliedAlpha([a, b], "oklab")(t));
        // Outside of sRGB, where straight lines in Oklab may lead, the two continue its curve in ways of their own.
        fc.pre([expected.r, expected.g, expected.b].every((part) => part >= 0 && part <= 1));
        const found = mixStops("oklab", from, to, t);
        expect(encodeSrgb(found[0])).toBeCloseTo(expected.r, 5);
        expect(encodeSrgb(found[1])).toBeCloseTo(expected.g, 5);
        expect(encodeSrgb(found[2])).toBeCloseTo(expected.b, 5);
        expect(found[3]).toBeCloseTo(expected.alpha ?? 1, 4);
      }),
    );
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
