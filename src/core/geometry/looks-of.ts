/** What elements are made of, as they are drawn. */
import type { Domain } from "./column";
import { LOOK_NAMES, LOOK_WIDTH, UNSAID } from "./surface-look";

export const hasLook = ({ columns }: Domain): boolean => LOOK_NAMES.some((name) => columns[name]);

/** The columns of looks that a domain has, undefined for others: the very same ones look the same. */
export const lookColumns = ({ columns }: Domain) => LOOK_NAMES.map((name) => columns[name]);

/** Writes LOOK_WIDTH numbers for each of some elements, those of one after those of the one before. @param elements all when missing */
export function writeLooks(domain: Domain, into: Float32Array, elements?: ArrayLike<number>): Float32Array {
  const count = elements?.length ?? domain.count;
  for (const [l, name] of LOOK_NAMES.entries()) {
    const lane = domain.columns[name]?.lanes[0];
    if (!lane) for (let i = 0; i < count; i++) into[i * LOOK_WIDTH + l] = UNSAID;
    else for (let i = 0; i < count; i++) into[i * LOOK_WIDTH + l] = lane[elements ? elements[i] : i];
  }
  return into;
}
