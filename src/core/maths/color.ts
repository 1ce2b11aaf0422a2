/** Colours are linear RGBA inside the core and `#rrggbb` or `#rrggbbaa` (sRGB) in documents. */
import { cubeRoot, power } from "./exact";

export type Rgba = readonly [number, number, number, number];

/** sRGB to linear light, one channel in 0…1 (IEC 61966-2-1:1999). */
export const decodeSrgb = (c: number): number => (c <= 0.04045 ? c / 12.92 : power((c + 0.055) / 1.055, 2.4));

/** Linear light to sRGB, one channel in 0…1 (IEC 61966-2-1:1999). */
export const encodeSrgb = (c: number): number =>
  c <= 0.0031308 ? 12.92 * c : 1.055 * power(c, 1 / 2.4) - 0.055;

const HEX = /^#([0-9a-f]{6})([0-9a-f]{2})?$/i;

/** sRGB of light, 8 bits; fine enough that the darkest steps are told apart. */
const BYTES = Uint8Array.from({ length: 8193 }, (_, i) => Math.round(encodeSrgb(i / 8192) * 255));

/** sRGB of linear light as a byte; what is beyond 0 and 1 is cut off. */
export const srgbByte = (light: number): number => BYTES[Math.round(Math.min(1, Math.max(0, light)) * 8192)];

export const isHexColor = (text: string): boolean => HEX.test(text);

/** Parses `#rrggbb` or `#rrggbbaa`; anything else is null. */
export function parseHex(text: string): Rgba | null {
  const found = HEX.exec(text);
  if (!found) return null;
  const byte = (at: number) => Number.parseInt(found[1].slice(at, at + 2), 16) / 255;
  const alpha = found[2] === undefined ? 1 : Number.parseInt(found[2], 16) / 255;
  return [decodeSrgb(byte(0)), decodeSrgb(byte(2)), decodeSrgb(byte(4)), alpha];
}

/** `#rrggbb`, or `#rrggbbaa` when not opaque; channels outside 0…1 are clipped. */
export function toHex(color: Rgba): string {
  const byte = (c: number) =>
    Math.round(255 * Math.min(1, Math.max(0, c)))
      .toString(16)
      .padStart(2, "0");
  const rgb = `#${byte(encodeSrgb(color[0]))}${byte(encodeSrgb(color[1]))}${byte(encodeSrgb(color[2]))}`;
  return color[3] >= 1 ? rgb : rgb + byte(color[3]);
}

/** Linear sRGB to Oklab (B. Ottosson, 2020, published matrices). */
export function toOklab(r: number, g: number, b: number): [number, number, number] {
  const l = cubeRoot(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = cubeRoot(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = cubeRoot(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

const cube = (x: number): number => x * x * x;

/** Oklab to linear sRGB; the result may lie outside 0…1. */
export function fromOklab(lightness: number, a: number, b: number): [number, number, number] {
  const l = cube(lightness + 0.3963377774 * a + 0.2158037573 * b);
  const m = cube(lightness - 0.1055613458 * a - 0.0638541728 * b);
  const s = cube(lightness - 0.0894841775 * a - 1.291485548 * b);
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ];
}

/**
 * The part of the second colour in a mix of two straight colours, of which the part t is to be the second: colours count by
 * their alpha, as when both are multiplied by it before they are mixed (T. Porter and T. Duff, "Compositing digital images",
 * 1984). What is clear at both ends is mixed as if it were not.
 */
export function alphaShare(t: number, from: number, to: number): number {
  if (from === to) return t;
  const alpha = from + t * (to - from);
  return alpha > 0 ? (t * to) / alpha : t;
}
