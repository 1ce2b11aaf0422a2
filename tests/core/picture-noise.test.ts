/** The noise of gathered pictures, against the standard error of a mean (σ ÷ √N). */
import { noiseOfMean } from "../../src/core/maths/picture-noise";

/** Numbers that are spread normally (G. Box, M. Muller, 1958), from a small generator of its own (W. Press et al., "Numerical Recipes", ranqd1). */
function normal(seed: number): () => number {
  let state = seed >>> 0;
  const uniform = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state + 0.5) / 4294967296;
  };
  return () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
}

const [WIDTH, HEIGHT] = [64, 32];

/** Means of the first half of some looks and of all, whose left half alone is noisy. */
function gathered(looks: number, sigma: number): [Float64Array, Float64Array] {
  const next = normal(7);
  const [half, all] = [new Float64Array(WIDTH * HEIGHT * 4), new Float64Array(WIDTH * HEIGHT * 4)];
  for (let look = 0; look < looks; look++)
    for (let i = 0; i < all.length; i++) {
      const value = 0.5 + ((i >> 2) % WIDTH < WIDTH / 2 ? sigma * next() : 0);
      all[i] += value / looks;
      if (look < looks / 2) half[i] += (2 * value) / looks;
    }
  return [half, all];
}

test.each([
  [16, 0.2],
  [64, 0.2],
  [64, 0.05],
])(
  "the mean of %i looks that differ by %f is told by its standard error, where it is worst",
  (looks, sigma) => {
    const found = noiseOfMean(...gathered(looks, sigma), WIDTH, HEIGHT);
    expect(found / (sigma / Math.sqrt(looks))).toBeCloseTo(1, 1);
  },
);

test("what does not change has none, whatever its alpha", () => {
  const [, all] = gathered(4, 0.1);
  const other = all.map((v, i) => (i % 4 === 3 ? v + 1 : v));
  expect(noiseOfMean(all, other, WIDTH, HEIGHT)).toBe(0);
});
