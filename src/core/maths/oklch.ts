/** Colours by lightness, chroma and hue as the eye tells them apart: Oklab in polar form (B. Ottosson, 2020; CSS Color 4, § 9.4), and contrast. */
import { fromOklab, parseHex, toHex, toOklab } from "./color";
import { arcTangent2, cosine, lengthOf, sine } from "./exact";

export interface Oklch {
  /** 0…1. */
  readonly lightness: number;
  /** From 0; what sRGB has goes to about 0.32. */
  readonly chroma: number;
  /** Degrees, 0…360. */
  readonly hue: number;
}

const DEGREES = 180 / Math.PI;

/** @param hex with or without alpha, which is left out; one that is not a colour is black */
export function oklchOf(hex: string): Oklch {
  const [r, g, b] = parseHex(hex) ?? [0, 0, 0];
  const [lightness, x, y] = toOklab(r, g, b);
  return {
    lightness,
    chroma: lengthOf(x, y, 0),
    hue: (arcTangent2(y, x) * DEGREES + 360) % 360,
  };
}

/** Outside of sRGB by no more than rounding. */
const IN = 1e-4;
const HALVINGS = 16;

/** The hex code; where sRGB has no such colour, that of the one with less chroma that it has. */
export function hexOfOklch({ lightness, chroma, hue }: Oklch, alpha = 1): string {
  const at = (c: number) => fromOklab(lightness, c * cosine(hue / DEGREES), c * sine(hue / DEGREES));
  const fits = (c: number) => at(c).every((v) => v >= -IN && v <= 1 + IN);
  let [low, high] = fits(chroma) ? [chroma, chroma] : [0, chroma];
  for (let i = 0; low < high && i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (fits(middle)) low = middle;
    else high = middle;
  }
  return toHex([...at(low), alpha]);
}

/** Colours that go with one, as light and as strong: turned by so many degrees of hue. */
export const HARMONY = [-120, -30, 30, 120, 180] as const;

export const harmonyOf = (hex: string): string[] => {
  const own = oklchOf(hex);
  return HARMONY.map((turn) => hexOfOklch({ ...own, hue: (own.hue + turn + 360) % 360 }));
};

/** Rec. 709 luminance. */
const luminance = (hex: string): number => {
  const [r, g, b] = parseHex(hex) ?? [0, 0, 0];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};

/** From 1 to 21 (WCAG 2.2, "contrast ratio"). */
export function contrastOf(one: string, other: string): number {
  const [a, b] = [luminance(one), luminance(other)];
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
}
