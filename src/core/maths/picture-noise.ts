/** How noisy a picture is that is the mean of many looks. */

/** Pixels along the squares that are judged each by itself, as noise is often in a part of the picture only. */
const SQUARE = 32;

/**
 * The noise of a mean of N looks, estimated from it and from the mean of the first half of them: the two differ by half of the difference of two
 * independent means of N ÷ 2, whose variance is that of the mean of N (from the variance of sums).
 * @param half, all red, green, blue and alpha of each pixel
 * @returns the root of the mean square of that over the noisiest square of the picture, over its three colours
 */
export function noiseOfMean(
  half: ArrayLike<number>,
  all: ArrayLike<number>,
  width: number,
  height: number,
): number {
  let worst = 0;
  for (let top = 0; top < height; top += SQUARE) {
    for (let left = 0; left < width; left += SQUARE) {
      const [right, bottom] = [Math.min(width, left + SQUARE), Math.min(height, top + SQUARE)];
      let sum = 0;
      for (let y = top; y < bottom; y++)
        for (let i = (y * width + left) * 4; i < (y * width + right) * 4; i += 4)
          for (let c = 0; c < 3; c++) sum += (all[i + c] - half[i + c]) ** 2;
      worst = Math.max(worst, sum / ((right - left) * (bottom - top) * 3));
    }
  }
  return Math.sqrt(worst);
}
