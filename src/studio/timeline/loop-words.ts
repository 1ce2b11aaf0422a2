/** What is said about whether a loop closes. */
import { isClosed, type LoopGap } from "@/core/inspect/loop";

/** Less than this is not worth a word. */
const UNSEEN = 1e-4;

const text = (value: number): string => String(Number(value.toPrecision(3)));

/** What two frames that look alike differ by. */
export const pairWords = (gap: LoopGap, first: number, second: number): string =>
  `Frames ${first} and ${second} are the most alike of those a quarter of the range apart. ${mostWords(gap)}`;

export function loopWords(gap: LoopGap, first: number, last: number): string {
  const { count, lost } = gap;
  const ends = `frame ${last + 1}, the one after the last, and frame ${first}`;
  if (count === 0 && lost === 0) return "Nothing is shown at the first frame, so there is no loop to check.";
  const most = mostWords(gap);
  if (isClosed(gap)) return `The loop closes: ${ends} look alike. ${most}`;
  const more = lost > 0 ? ` One has ${lost} elements more than the other.` : "";
  return `The loop does not close between ${ends}.${more} ${most}`;
}

function mostWords({ position, rotation, scale, color }: LoopGap): string {
  const parts = [
    [position, "units of place"],
    [rotation, "° of turn"],
    [scale, "of scale"],
    [color, "of colour"],
  ] as const;
  const said = parts
    .filter(([{ most }]) => most > UNSEEN)
    .map(([{ most, mean }, words]) => `${text(most)} ${words} (${text(mean)} on average)`);
  return said.length > 0
    ? `At most they differ by ${said.join(", ")}.`
    : "They are the same, to a ten-thousandth.";
}
