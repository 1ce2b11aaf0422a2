/** The n-th smallest of many numbers without sorting them all (quickselect; C. A. R. Hoare, "Algorithm 65: Find", 1961). */
import { tick } from "../cancelling";

/** @param n 0 for the smallest, below the count of numbers @param lane finite numbers */
export function nthOf(lane: Float32Array, n: number): number {
  const numbers = Float32Array.from(lane);
  let low = 0;
  let high = numbers.length - 1;
  while (low < high) {
    const pivot = numbers[n];
    let [i, j] = [low, high];
    while (i <= j) {
      tick(2);
      while (numbers[i] < pivot) i++;
      while (pivot < numbers[j]) j--;
      if (i > j) break;
      const swapped = numbers[i];
      numbers[i++] = numbers[j];
      numbers[j--] = swapped;
    }
    if (j < n) low = i;
    if (n < i) high = j;
  }
  return numbers[n];
}
