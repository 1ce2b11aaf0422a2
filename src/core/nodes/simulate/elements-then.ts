/** Elements as they are at another frame, found by their ids, and parts of them added up. */
import type { Column, Domain } from "../../geometry/column";

/**
 * Adds a part of what an element had then, to lanes that begin with zeros; a rotation on the side of what is there already. A
 * colour becomes the mean by alpha of what was added: only alpha is a sum.
 */
export function addShare(
  into: Float32Array[],
  column: Column | undefined,
  i: number,
  was: number,
  share: number,
): void {
  if (!column || column.lanes.length !== into.length) return;
  if (column.kind === "color") {
    const before = into[3][i];
    const alpha = before + column.lanes[3][was] * share;
    const part = alpha > 0 ? 1 - before / alpha : before === 0 ? 1 : 0;
    for (let l = 0; l < 3; l++) into[l][i] += (column.lanes[l][was] - into[l][i]) * part;
    into[3][i] = alpha;
    return;
  }
  let sign = 1;
  if (column.kind === "rotation")
    sign = into.reduce((sum, lane, l) => sum + lane[i] * column.lanes[l][was], 0) < 0 ? -1 : 1;
  for (let l = 0; l < into.length; l++) into[l][i] += column.lanes[l][was] * share * sign;
}

const places = new WeakMap<Domain, Map<number, number>>();

/** Where the element with the id of element i is in another domain; −1 when it is not there. */
export function placeOf(then: Domain, now: Domain, i: number): number {
  const id = now.columns.id?.lanes[0][i] ?? i;
  const ids = then.columns.id?.lanes[0];
  if (!ids) return id < then.count ? id : -1;
  if (ids[i] === id) return i;
  let known = places.get(then);
  if (!known) {
    known = new Map(Array.from(ids, (other, at) => [other, at]));
    places.set(then, known);
  }
  return known.get(id) ?? -1;
}
