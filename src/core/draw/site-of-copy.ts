/** Which site of a shape a drawn copy stands on: copies are numbered as drawing.ts makes them. */
import type { Mesh } from "../geometry/mesh";
import type { Shape } from "../geometry/shape";
import { bySource } from "./by-source";

/** The outermost site that each copy of a mesh belongs to, however deep the mesh lies; −1 where the mesh stands for itself. */
export function sitesOfCopies(shape: Shape, mesh: Mesh): Int32Array {
  const found: Int32Array[] = [];
  /** @param tops outermost sites of the copies so far; null outside of all sites */
  const visit = (inner: Shape, tops: Int32Array | null): void => {
    if (inner.mesh === mesh && mesh.faces.count > 0) found.push(tops ?? Int32Array.of(-1));
    const { sites, sources } = inner;
    if (!sites || sites.count === 0) return;
    for (const [source, picked] of bySource(sites, sources?.length ?? 0)) {
      const there = source >= 0 ? sources?.[source] : undefined;
      if (there) visit(there, topsOf(tops, picked === "all" ? sites.count : picked));
    }
  };
  visit(shape, null);
  const all = new Int32Array(found.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const tops of found) {
    all.set(tops, at);
    at += tops.length;
  }
  return all;
}

/** The one of copy number `copy`; null when the mesh stands for itself, or there is no such copy. */
export function siteOfCopy(shape: Shape, mesh: Mesh, copy: number): number | null {
  const site = sitesOfCopies(shape, mesh)[copy] ?? -1;
  return site >= 0 ? site : null;
}

/** Every outer copy with every picked inner one, in the order in which they are drawn. */
function topsOf(outer: Int32Array | null, picked: number | Int32Array): Int32Array {
  const own = typeof picked === "number" ? Int32Array.from({ length: picked }, (_, i) => i) : picked;
  if (!outer) return own;
  const tops = new Int32Array(outer.length * own.length);
  for (let o = 0; o < outer.length; o++) tops.fill(outer[o], o * own.length, (o + 1) * own.length);
  return tops;
}
