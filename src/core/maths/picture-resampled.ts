/** Pictures in another size, by a tent over what lies under each new pixel (common practice, no source). */
import { tick } from "../cancelling";
import { greatestSample, linearTable, type Picture } from "./picture";

interface Taps {
  /** The first old pixel of each new one; those beyond the border are the border's. */
  readonly first: number;
  readonly weights: readonly number[];
}

function tapsOf(from: number, to: number): Taps[] {
  const scale = from / to;
  const reach = Math.max(1, scale);
  return Array.from({ length: to }, (_, i) => {
    const middle = (i + 0.5) * scale - 0.5;
    const first = Math.ceil(middle - reach);
    const weights: number[] = [];
    for (let p = first; p <= middle + reach; p++) weights.push(1 - Math.abs(p - middle) / reach);
    const sum = weights.reduce((a, b) => a + b, 0);
    return { first, weights: weights.map((weight) => weight / sum) };
  });
}

/** Four numbers a pixel, rows from the top: linear light times alpha, and alpha. @param read what a sample of a colour stands for; light when missing */
export function resampled(
  picture: Picture,
  width: number,
  height: number,
  read: ArrayLike<number> = linearTable(picture),
): Float32Array {
  const { samples } = picture;
  const most = greatestSample(picture);
  const across = new Float32Array(picture.height * width * 4);
  const columns = tapsOf(picture.width, width);
  for (let y = 0; y < picture.height; y++) {
    tick(width / 16);
    for (let x = 0; x < width; x++) {
      const { first, weights } = columns[x];
      const to = (y * width + x) * 4;
      for (let k = 0; k < weights.length; k++) {
        const column = Math.min(picture.width - 1, Math.max(0, first + k));
        const at = (y * picture.width + column) * 4;
        const alpha = (samples[at + 3] / most) * weights[k];
        for (let c = 0; c < 3; c++) across[to + c] += read[samples[at + c]] * alpha;
        across[to + 3] += alpha;
      }
    }
  }
  const made = new Float32Array(width * height * 4);
  const rows = tapsOf(picture.height, height);
  for (let y = 0; y < height; y++) {
    tick(width / 16);
    const { first, weights } = rows[y];
    for (let k = 0; k < weights.length; k++) {
      const row = Math.min(picture.height - 1, Math.max(0, first + k)) * width * 4;
      for (let i = 0; i < width * 4; i++) made[y * width * 4 + i] += across[row + i] * weights[k];
    }
  }
  return made;
}
