/** A picture in fewer, larger pixels. */
import { tick } from "../cancelling";
import { greatestSample, linearTable, type Picture } from "./picture";
import { LUMINANCE } from "./picture-in-space";

/** As many as make cells square, about. */
export const rowsOf = ({ width, height }: Picture, across: number): number =>
  Math.max(1, Math.round((across * height) / width));

/** Means of the pixels in each cell, in linear light, transparent ones counting less; a cell smaller than a pixel takes the one it lies on. */
export function cellsOf(picture: Picture, across: number, rows: number) {
  const { width, height, samples } = picture;
  const linear = linearTable(picture);
  const most = greatestSample({ samples });
  const rgb = [0, 1, 2].map(() => new Float32Array(across * rows));
  const alpha = new Float32Array(across * rows);
  const brightness = new Float32Array(across * rows);
  for (let row = 0; row < rows; row++) {
    const [top, bottom] = span(row, rows, height);
    for (let column = 0; column < across; column++) {
      const [left, end] = span(column, across, width);
      tick((bottom - top) * (end - left));
      const sum = [0, 0, 0, 0];
      for (let y = top; y < bottom; y++)
        for (let x = left; x < end; x++) {
          const p = (y * width + x) * 4;
          const a = samples[p + 3] / most;
          sum[3] += a;
          for (let l = 0; l < 3; l++) sum[l] += linear[samples[p + l]] * a;
        }
      const c = row * across + column;
      for (let l = 0; l < 3; l++) {
        rgb[l][c] = sum[3] > 0 ? sum[l] / sum[3] : 0;
        brightness[c] += rgb[l][c] * LUMINANCE[l];
      }
      alpha[c] = sum[3] / ((bottom - top) * (end - left));
    }
  }
  return { rgb, alpha, brightness };
}

/** Pixels from the first to before the last that a cell covers, one at least. */
function span(cell: number, cells: number, pixels: number): readonly [number, number] {
  const from = Math.min(pixels - 1, Math.floor((cell * pixels) / cells));
  return [from, Math.max(from + 1, Math.floor(((cell + 1) * pixels) / cells))];
}
