/**
 * Plain trees of objects, numbers and lanes as text, the lanes written elsewhere: for another thread that works in the same
 * memory, or for a file. Numbers keep their bits, those that JSON does not know too.
 */
import type { Lane } from "../geometry/column";

/** What stands for a lane in the text. */
export interface LaneMark {
  readonly lane: "float" | "integer";
  /** Where its numbers are: whatever the reader knows how to find. */
  readonly at: number;
  readonly count: number;
}

/**
 * @param place writes a lane down and gives where
 * @param known gives what stands for an object that the reader has already
 */
export function treeToText(
  tree: unknown,
  place: (lane: Lane) => number,
  known: (object: object) => object | undefined = () => undefined,
): string {
  return JSON.stringify(tree, (_key, value: unknown) => {
    if (typeof value === "number" && (!Number.isFinite(value) || Object.is(value, -0)))
      return { number: Object.is(value, -0) ? "-0" : String(value) };
    if (typeof value !== "object" || value === null) return value;
    const mark = known(value);
    if (mark) return mark;
    if (!ArrayBuffer.isView(value)) return value;
    const lane = value as Lane;
    return {
      lane: lane instanceof Float32Array ? "float" : "integer",
      at: place(lane),
      count: lane.length,
    } satisfies LaneMark;
  });
}

/**
 * @param laneAt gives the lane that a mark stands for
 * @param known gives what an object that is neither a lane nor a number stands for, or that object
 * @throws SyntaxError when it is no such text
 */
export const treeFromText = (
  text: string,
  laneAt: (mark: LaneMark) => Lane,
  known: (object: object) => unknown = (object) => object,
): unknown =>
  JSON.parse(text, (_key, value: unknown) => {
    if (typeof value !== "object" || value === null) return value;
    if ("lane" in value) return laneAt(value as LaneMark);
    if ("number" in value && typeof value.number === "string") return Number(value.number);
    return known(value);
  });
