/** Where the samples of a picture are taken: spread evenly, however many there are. */
import { cosine, sine } from "./exact";

/** An index written in a base and mirrored at the point, 0…1 (J. Halton, 1960). @param index from 0 on @param base a prime */
export function halton(index: number, base: number): number {
  let [sum, part] = [0, 1];
  for (let left = index; left > 0; left = Math.floor(left / base)) {
    part /= base;
    sum += part * (left % base);
  }
  return sum;
}

/** From the square 0…1 to the disc of radius 1, so that even areas stay even (P. Shirley, K. Chiu, 1997). */
export function onDisc(u: number, v: number): [number, number] {
  const [a, b] = [2 * u - 1, 2 * v - 1];
  if (a === 0 && b === 0) return [0, 0];
  const isWide = Math.abs(a) > Math.abs(b);
  const radius = isWide ? a : b;
  const angle = isWide ? (Math.PI / 4) * (b / a) : Math.PI / 2 - (Math.PI / 4) * (a / b);
  return [radius * cosine(angle), radius * sine(angle)];
}

/** One of the looks at a scene of which a picture is the mean. */
export interface Sample {
  /** Parts of a pixel aside, from −0.5 to 0.5. */
  readonly pixel: readonly [number, number];
  /** On the disc of radius 1: where on the lens it is seen from, and from where on a light it is lit. */
  readonly lens: readonly [number, number];
  readonly light: readonly [number, number];
  /** And where a rough mirror looks. */
  readonly gloss: readonly [number, number];
}

/** @param index from 0 on: any number of them from the first one is spread evenly */
export function sampleAt(index: number): Sample {
  // The first place of the sequence is a corner of all its squares.
  const at = (base: number) => halton(index + 1, base);
  return {
    pixel: [at(2) - 0.5, at(3) - 0.5],
    lens: onDisc(at(5), at(7)),
    light: onDisc(at(11), at(13)),
    gloss: onDisc(at(17), at(19)),
  };
}
