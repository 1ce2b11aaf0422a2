/** Which site of a shape a drawn copy stands on: copies are numbered as drawing.ts makes them. */
import type { Mesh } from "../geometry/mesh";
import type { Shape } from "../geometry/shape";
import { bySource } from "./by-source";

/**
 * The outermost site that copy number `copy` of a mesh belongs to, however deep the mesh lies. Null when the mesh stands for
 * itself, or there is no such copy.
 */
export function siteOfCopy(shape: Shape, mesh: Mesh, copy: number): number | null {
  let left = copy;
  let found: number | null | undefined;
  /** @param tops outermost sites of the copies so far; null outside of all sites */
  const visit = (inner: Shape, tops: Int32Array | null): void => {
    if (inner.mesh === mesh && mesh.faces.count > 0) {
      const count = tops?.length ?? 1;
      if (left < count) found = tops ? tops[left] : null;
      left -= count;
    }
    const { sites, sources } = inner;
    if (found !== undefined || !sites || sites.count === 0) return;
    for (const [source, picked] of bySource(sites, sources?.length ?? 0)) {
      const there = source >= 0 ? sources?.[source] : undefined;
      if (!there) continue;
      visit(there, topsOf(tops, picked === "all" ? sites.count : picked));
      if (found !== undefined) return;
    }
  };
  visit(shape, null);
  return found ?? null;
}

/** Every outer copy with every picked inner one, in the order in which they are drawn. */
function topsOf(outer: Int32Array | null, picked: number | Int32Array): Int32Array {
  const own = typeof picked === "number" ? Int32Array.from({ length: picked }, (_, i) => i) : picked;
  if (!outer) return own;
  const tops = new Int32Array(outer.length * own.length);
  for (let o = 0; o < outer.length; o++) tops.fill(outer[o], o * own.length, (o + 1) * own.length);
  return tops;
}
