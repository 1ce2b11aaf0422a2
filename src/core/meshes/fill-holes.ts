/** Open borders closed by faces. */
import type { Mesh } from "../geometry/mesh";
import { MixtureWriter, mixed } from "../geometry/mixture";
import { topologyOf } from "../geometry/topology";
import { borderLoops } from "./border-loops";
import { FaceWriter } from "./joined-faces";

export const FILLINGS = ["one face", "a fan of triangles"] as const;
export type Filling = (typeof FILLINGS)[number];

export interface Filled {
  readonly mesh: Mesh;
  readonly filled: number;
  /** Borders that were not asked for. */
  readonly left: number;
}

/**
 * New faces have `side` 1, all others 0.
 * @param most edges of a border that is closed; 0 for any
 * @param where by point, above 0.5 where borders are closed, by their mean
 */
export function holesFilled(mesh: Mesh, most: number, how: Filling, where: ArrayLike<number>): Filled {
  const loops = borderLoops(mesh);
  const mean = (loop: Int32Array) =>
    loop.reduce((sum, c) => sum + where[mesh.cornerPoint[c]], 0) / loop.length;
  const chosen = loops.filter(
    (loop) => loop.length >= 3 && (most === 0 || loop.length <= most) && mean(loop) > 0.5,
  );
  if (chosen.length === 0) return { mesh, filled: 0, left: loops.length };
  const faces = new FaceWriter(mesh);
  const topology = topologyOf(mesh);
  for (let f = 0; f < mesh.faces.count; f++) faces.whole(f, (c) => mesh.cornerPoint[c]);
  let points = mesh.points;
  if (how === "a fan of triangles") points = withMiddles(mesh, chosen);
  for (const [i, loop] of chosen.entries()) {
    const like = topology.faceOfCorner[loop[0]];
    const end = (c: number) => topology.after(c);
    if (how === "one face") {
      for (const c of [...loop].reverse()) faces.corner(mesh.cornerPoint[end(c)], end(c));
      faces.face(like, 1);
      continue;
    }
    for (const c of loop) {
      faces.corner(mesh.cornerPoint[end(c)], end(c));
      faces.corner(mesh.cornerPoint[c], c);
      faces.corner(mesh.points.count + i, c);
      faces.face(like, 1);
    }
  }
  return { mesh: faces.mesh(points, true), filled: chosen.length, left: loops.length - chosen.length };
}

/** The points and the middles of borders. */
function withMiddles(mesh: Mesh, loops: readonly Int32Array[]) {
  const writer = new MixtureWriter(mesh.points.count + loops.length);
  for (let p = 0; p < mesh.points.count; p++) writer.same(p);
  for (const loop of loops) {
    for (const c of loop) writer.add(mesh.cornerPoint[c], 1 / loop.length);
    writer.next();
  }
  return mixed(mesh.points, writer.done());
}
