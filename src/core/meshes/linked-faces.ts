/** Faces between elements that are all linked with each other. */
import { tick } from "../cancelling";
import { type Domain, makeColumn, withColumns } from "../geometry/column";
import { type Mesh, makeMesh } from "../geometry/mesh";

/**
 * A triangle for each three that are linked two by two. Its points are the elements, with their colours; faces have `closeness` and
 * `strength`, the least of their three links. Undefined where no three are linked.
 * @param ends numbers of elements, two a link @param closeness, strength one a link
 */
export function facesBetween(
  elements: Domain,
  ends: readonly number[],
  closeness: ArrayLike<number>,
  strength: ArrayLike<number>,
): Mesh | undefined {
  // Links from the smaller number on, by it: of each three the smallest finds the other two.
  const after: Map<number, number>[] = Array.from({ length: elements.count }, () => new Map());
  for (let l = 0; l < ends.length / 2; l++) {
    const [i, j] = [ends[l * 2], ends[l * 2 + 1]];
    after[Math.min(i, j)].set(Math.max(i, j), l);
  }
  const corners: number[] = [];
  const [near, strong]: number[][] = [[], []];
  for (const [a, others] of after.entries()) {
    for (const [b, ab] of others) {
      for (const [c, bc] of after[b]) {
        tick();
        const ac = others.get(c);
        if (ac === undefined) continue;
        corners.push(a, b, c);
        near.push(Math.min(closeness[ab], closeness[bc], closeness[ac]));
        strong.push(Math.min(strength[ab], strength[bc], strength[ac]));
      }
    }
  }
  if (near.length === 0) return undefined;
  const { position, color, id } = elements.columns;
  const mesh = makeMesh({
    position: position.lanes as unknown as readonly [Float32Array, Float32Array, Float32Array],
    faceStarts: Int32Array.from({ length: near.length + 1 }, (_, f) => f * 3),
    cornerPoint: Int32Array.from(corners),
    pointColumns: { ...(color ? { color } : {}), ...(id ? { id } : {}) },
  });
  const faces = withColumns(mesh.faces, {
    closeness: makeColumn("number", [Float32Array.from(near)]),
    strength: makeColumn("number", [Float32Array.from(strong)]),
  });
  return { ...mesh, faces };
}
