/** The slow reference of reading pictures, in float64 and one place at a time. */
import { linearTable, type Outside, type Picture } from "../src/core/maths/picture";

/** Pixel number along one axis for any whole number; −1 for nothing there. */
function wrapPixel(at: number, size: number, outside: Outside): number {
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
 * A picture at (u, v), 0…1 from its left and upper edge, as r, g, b, a (linear light). Smooth reading
 * mixes the four nearest pixel centres in linear light, weighted by their alpha.
 */
export function slowPicture(
  picture: Picture,
  u: number,
  v: number,
  outside: Outside,
  smooth: boolean,
): number[] {
  const table = linearTable(picture);
  const out = [0, 0, 0, 0];
  const x = u * picture.width - 0.5;
  const y = v * picture.height - 0.5;
  if (!Number.isFinite(x + y)) return out;
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
  return out;
}

function addPixel(
  { width, height, samples }: Picture,
  table: Float32Array,
  x: number,
  y: number,
  weight: number,
  outside: Outside,
  out: number[],
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
