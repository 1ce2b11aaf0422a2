/** A picture as stored: rows from the top, 4 samples a pixel (sRGB red, green, blue and straight alpha). */
import { decodeSrgb } from "./color";

export interface Picture {
  readonly width: number;
  readonly height: number;
  /** 8 or 16 bits a sample. */
  readonly samples: Uint8Array | Uint16Array;
}

export const OUTSIDE = ["hold", "repeat", "mirrored", "nothing"] as const;
/** What is read beyond the picture's edges: its border, itself again, itself mirrored, or transparent black. */
export type Outside = (typeof OUTSIDE)[number];

const tables = new Map<number, Float32Array>();

/** Linear light of every sample value. */
export function linearTable({ samples }: Picture): Float32Array {
  const size = samples instanceof Uint16Array ? 65536 : 256;
  let table = tables.get(size);
  if (!table) {
    table = Float32Array.from({ length: size }, (_, i) => decodeSrgb(i / (size - 1)));
    tables.set(size, table);
  }
  return table;
}

/** Pixel number along one axis for any whole number; −1 for nothing there. */
export function wrapPixel(at: number, size: number, outside: Outside): number {
  if (at >= 0 && at < size) return at;
  switch (outside) {
    case "hold":
      return at < 0 ? 0 : size - 1;
    case "repeat":
      return at - size * Math.floor(at / size);
    case "mirrored": {
      const k = at - 2 * size * Math.floor(at / (2 * size));
      return k < size ? k : 2 * size - 1 - k;
    }
    case "nothing":
      return -1;
  }
}

/**
 * Reads a picture at (u, v), 0…1 from its left and upper edge, into r, g, b, a (linear light). Smooth reading
 * mixes the four nearest pixel centres in linear light, weighted by their alpha.
 */
export function samplePicture(
  picture: Picture,
  table: Float32Array,
  u: number,
  v: number,
  outside: Outside,
  smooth: boolean,
  out: Float64Array,
): void {
  const x = u * picture.width - 0.5;
  const y = v * picture.height - 0.5;
  out.fill(0);
  if (!Number.isFinite(x + y)) return;
  if (!smooth) {
    addPixel(picture, table, Math.round(x), Math.round(y), 1, outside, out);
  } else {
    const left = Math.floor(x);
    const top = Math.floor(y);
    const s = x - left;
    const t = y - top;
    addPixel(picture, table, left, top, (1 - s) * (1 - t), outside, out);
    addPixel(picture, table, left + 1, top, s * (1 - t), outside, out);
    addPixel(picture, table, left, top + 1, (1 - s) * t, outside, out);
    addPixel(picture, table, left + 1, top + 1, s * t, outside, out);
  }
  const alpha = out[3];
  if (alpha > 0) for (let k = 0; k < 3; k++) out[k] /= alpha;
}

function addPixel(
  { width, height, samples }: Picture,
  table: Float32Array,
  x: number,
  y: number,
  weight: number,
  outside: Outside,
  out: Float64Array,
): void {
  if (weight === 0) return;
  const column = wrapPixel(x, width, outside);
  const row = wrapPixel(y, height, outside);
  if (column < 0 || row < 0) return;
  const k = (row * width + column) * 4;
  const alpha = (samples[k + 3] / (table.length - 1)) * weight;
  for (let c = 0; c < 3; c++) out[c] += table[samples[k + c]] * alpha;
  out[3] += alpha;
}
