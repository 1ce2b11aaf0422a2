/** The open borders of a mesh. */
import { tick } from "../cancelling";
import type { Mesh } from "../geometry/mesh";
import { type Topology, topologyOf } from "../geometry/topology";

/**
 * Each border as the corners whose edges run along it, in the order in which its faces walk it: clockwise seen from outside, about the
 * hole. Where borders touch at a point each goes on along its own faces.
 */
export function borderLoops(mesh: Mesh): Int32Array[] {
  const topology = topologyOf(mesh);
  const done = new Uint8Array(mesh.corners.count);
  const loops: Int32Array[] = [];
  for (let c = 0; c < done.length; c++) {
    tick();
    if (done[c] || topology.across[c] >= 0) continue;
    const loop: number[] = [];
    for (let at = c; !done[at]; at = nextOnBorder(topology, at)) {
      done[at] = 1;
      loop.push(at);
    }
    loops.push(Int32Array.from(loop));
  }
  return loops;
}

function nextOnBorder(topology: Topology, corner: number): number {
  let at = topology.after(corner);
  while (topology.across[at] >= 0) at = topology.after(topology.across[at]);
  return at;
}
