/** The dual of a mesh: a point for each face, a face for each point. */
import { gather } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { type Mixture, MixtureWriter, mixed } from "../geometry/mixture";
import { type Topology, topologyOf } from "../geometry/topology";

/**
 * Points in the middles of faces. Along open borders it has the middles of edges and the points themselves, so that it covers as much;
 * V − E + F stays. Faces take what the points had, but for places.
 */
export function dualOf(mesh: Mesh): Mesh {
  const topology = topologyOf(mesh);
  const fans = fansOf(mesh, topology);
  const edgePoint = new Int32Array(topology.edges.count).fill(-1);
  const ownPoint = new Int32Array(fans.length).fill(-1);
  let count = mesh.faces.count;
  const openEdges: number[] = [];
  for (let e = 0; e < edgePoint.length; e++)
    if (topology.isOpen(e)) {
      edgePoint[e] = count++;
      openEdges.push(e);
    }
  for (const [i, fan] of fans.entries()) if (!fan.closed) ownPoint[i] = count++;
  const starts = [0];
  const corners: number[] = [];
  for (const [i, { closed, corners: around }] of fans.entries()) {
    if (!closed) corners.push(ownPoint[i], edgePoint[topology.edges.ofCorner[around[0]]]);
    for (const c of around) corners.push(topology.faceOfCorner[c]);
    if (!closed) corners.push(edgePoint[topology.edges.ofCorner[topology.before(around[around.length - 1])]]);
    starts.push(corners.length);
  }
  const points = mixed(mesh.points, middles(mesh, topology, openEdges, fans));
  const { position: _places, ...columns } = mesh.points.columns;
  const ofPoint = Int32Array.from(fans, ({ point }) => point);
  return {
    points,
    corners: { count: corners.length, columns: {} },
    faces: gather({ count: mesh.points.count, columns }, ofPoint),
    faceStarts: Int32Array.from(starts),
    cornerPoint: Int32Array.from(corners),
  };
}

/** The corners around a point, counter-clockwise; open ones begin and end at a border. */
interface Fan {
  readonly point: number;
  readonly closed: boolean;
  readonly corners: readonly number[];
}

/** A point where several fans meet has each of them. */
function fansOf(mesh: Mesh, topology: Topology): Fan[] {
  const done = new Uint8Array(mesh.corners.count);
  const fans: Fan[] = [];
  const walk = (first: number, closed: boolean) => {
    const corners: number[] = [];
    for (let c = first; c >= 0 && !done[c]; c = topology.across[topology.before(c)]) {
      done[c] = 1;
      corners.push(c);
    }
    // Two faces around a point make no face.
    if (closed ? corners.length > 2 : true) fans.push({ point: mesh.cornerPoint[first], closed, corners });
  };
  for (let c = 0; c < done.length; c++) if (!done[c] && topology.across[c] < 0) walk(c, false);
  for (let c = 0; c < done.length; c++) if (!done[c]) walk(c, true);
  return fans;
}

function middles(
  mesh: Mesh,
  topology: Topology,
  openEdges: readonly number[],
  fans: readonly Fan[],
): Mixture {
  const open = fans.filter(({ closed }) => !closed);
  const writer = new MixtureWriter(mesh.faces.count + openEdges.length + open.length);
  for (let f = 0; f < mesh.faces.count; f++) {
    const [start, end] = [mesh.faceStarts[f], mesh.faceStarts[f + 1]];
    for (let c = start; c < end; c++) writer.add(mesh.cornerPoint[c], 1 / (end - start));
    writer.next();
  }
  for (const e of openEdges) {
    for (const end of [0, 1] as const) writer.add(topology.pointOfEdge(e, end), 0.5);
    writer.next();
  }
  for (const { point } of open) writer.same(point);
  return writer.done();
}
