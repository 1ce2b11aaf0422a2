/**
 * Plain trees of objects, numbers and lanes as text, the lanes written elsewhere: for another thread that works in the same
 * memory, or for a file. Numbers keep their bits, those that JSON does not know too.
 *
 * What JSON has no word for is a list that begins with a mark: names in the tree may be any, as designers give them.
 */
import type { Lane } from "../geometry/column";

/** No text of a document is this one. */
const MARK = "\u0001";

/** What stands for a lane in the text. */
export interface LaneMark {
  readonly lane: "float" | "integer";
  /** Where its numbers are: whatever the reader knows how to find. */
  readonly at: number;
  readonly count: number;
}

type Marked =
  | readonly [typeof MARK, "number", string]
  | readonly [typeof MARK, "lane", LaneMark["lane"], number, number]
  | readonly [typeof MARK, "numbers", LaneMark["lane"], readonly number[]]
  | readonly [typeof MARK, "known", object];

/** Numbers that may stand in the text itself. */
const MOST_NUMBERS = 65_536;

const PLAIN: ReadonlySet<string | undefined> = new Set(["Object", "Array", undefined]);

/**
 * @param place writes a lane down and gives where; null when its numbers are to stand in the text
 * @param known gives what stands for an object that the reader has already
 * @throws Error when there is something in it that cannot be written, such as a function
 */
export function treeToText(
  tree: unknown,
  place: (lane: Lane) => number | null,
  known: (object: object) => object | undefined = () => undefined,
): string {
  return JSON.stringify(tree, (_key, value: unknown) => {
    if (typeof value === "function") throw new Error("Functions cannot be written.");
    if (typeof value === "number" && (!Number.isFinite(value) || Object.is(value, -0)))
      return [MARK, "number", Object.is(value, -0) ? "-0" : String(value)] satisfies Marked;
    if (typeof value !== "object" || value === null) return value;
    const mark = known(value);
    if (mark) return [MARK, "known", mark] satisfies Marked;
    if (ArrayBuffer.isView(value)) return laneToText(value as Lane, place);
    if (!PLAIN.has((value.constructor as { name?: string } | undefined)?.name))
      throw new Error("Only plain objects can be written.");
    return value;
  });
}

function laneToText(lane: Lane, place: (lane: Lane) => number | null): Marked {
  const isFloat = lane instanceof Float32Array;
  if (!isFloat && !(lane instanceof Int32Array)) throw new Error("Numbers of this kind cannot be written.");
  const kind = isFloat ? "float" : "integer";
  const at = place(lane);
  if (at !== null) return [MARK, "lane", kind, at, lane.length];
  if (lane.length > MOST_NUMBERS) throw new Error("These are too many numbers for a text.");
  return [MARK, "numbers", kind, [...lane]];
}

/**
 * @param laneAt gives the lane that a mark stands for
 * @param known gives what stands behind what `known` gave at writing
 * @throws SyntaxError when it is no such text
 */
export const treeFromText = (
  text: string,
  laneAt: (mark: LaneMark) => Lane,
  known: (object: object) => unknown = (object) => object,
): unknown =>
  JSON.parse(text, (_key, value: unknown) => {
    if (!Array.isArray(value) || value[0] !== MARK) return value;
    const marked = value as unknown as Marked;
    switch (marked[1]) {
      case "number":
        return Number(marked[2]);
      case "lane":
        return laneAt({ lane: marked[2], at: marked[3], count: marked[4] });
      case "numbers":
        return marked[2] === "float" ? Float32Array.from(marked[3]) : Int32Array.from(marked[3]);
      case "known":
        return known(marked[2]);
    }
  });
