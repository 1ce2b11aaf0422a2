/** Filling, rays, sizes by neighbours and pushing apart, each against the bare work that is in it. */
import PoissonDiskSampling from "poisson-disk-sampling";
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import type { GraphNode, PieceDocument } from "../src/core/document/schema";
import { blankDocument } from "../src/core/document/schema";
import { Evaluator } from "../src/core/evaluate/evaluator";
import { domainBounds } from "../src/core/geometry/bounds";
import { type Mesh, pointLanes } from "../src/core/geometry/mesh";
import type { Shape } from "../src/core/geometry/shape";
import type { Setting } from "../src/core/nodes/ports";
import { HashGrid } from "../src/core/spatial/hash-grid";
import { Inside } from "../src/core/spatial/inside";
import { inTurns, type Pair } from "./measure";

type Specs = Readonly<Record<string, { readonly type: string; readonly set?: GraphNode["set"] }>>;

const pieceOf = (nodes: Specs, links: readonly string[]): PieceDocument => ({
  ...blankDocument("bench"),
  graph: {
    nodes: Object.entries(nodes).map(([id, { type, set }]) => ({ id, type, at: [0, 0], set: set ?? {} })),
    links: links.map((link) => ({ from: link.split(">")[0], to: link.split(">")[1] })),
  },
});

/** A ball of 20,480 triangles, radius 1. */
const BALL = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 5 } } as const;

/** Milliseconds of one node at frames that differ, what is before it being known. */
function timeOf(
  piece: PieceDocument,
  node: string,
  change: (piece: PieceDocument, i: number) => PieceDocument,
) {
  const evaluator = new Evaluator();
  evaluator.evaluate(piece, 0, { target: node });
  let i = 0;
  return () => {
    i++;
    evaluator.evaluate(change(piece, i), 0, { target: node });
  };
}

const withSetting = (piece: PieceDocument, node: string, input: string, value: Setting): PieceDocument => ({
  ...piece,
  graph: {
    ...piece.graph,
    nodes: piece.graph.nodes.map((n) => (n.id === node ? { ...n, set: { ...n.set, [input]: value } } : n)),
  },
});

const shapeAt = (piece: PieceDocument, node: string, port: string): Shape =>
  new Evaluator().evaluate(piece, 0, { target: node }).outputs?.[port] as Shape;

/** A million sites in the ball, against passing all rows of the lattice and doing nothing there. */
export function filling(): Pair {
  const spacing = 0.0161;
  const piece = pieceOf({ ball: BALL, fill: { type: "fill-sites", set: { spacing } } }, [
    "ball.shape>fill.shape",
  ]);
  const mesh = shapeAt(piece, "ball", "shape").mesh as Mesh;
  const bounds = domainBounds(mesh.points);
  if (!bounds) throw new Error("The ball has no points.");
  const ours = timeOf(piece, "fill", (p, i) => withSetting(p, "fill", "spacing", spacing + i * 1e-7));
  return inTurns(ours, () => {
    const inside = new Inside(mesh);
    let found = 0;
    for (let y = bounds.min[1]; y < bounds.max[1]; y += spacing)
      for (let z = bounds.min[2]; z < bounds.max[2]; z += spacing) {
        const { count, x: at, turns } = inside.crossings(y, z);
        let winding = 0;
        let c = 0;
        for (let x = bounds.min[0]; x < bounds.max[0]; x += spacing) {
          while (c < count && at[c] <= x) winding += turns[c++];
          if (winding !== 0) found++;
        }
      }
    if (found < 900_000) throw new Error(`Only ${found} lie inside.`);
  });
}

const RAYS = 100_000;

/** Rays onto the ball, which changes with every frame, against three-mesh-bvh with the same refitting and rays. */
export function rays(): Pair {
  const piece = pieceOf(
    {
      ball: BALL,
      sized: { type: "transform" },
      grid: { type: "grid-sites", set: { across: 250, deep: 400, spacing: [0.01, 0, 0.006] } },
      high: { type: "transform", set: { move: [0, 4, 0] } },
      ray: { type: "cast-ray" },
      put: { type: "place" },
    },
    [
      "ball.shape>sized.shape",
      "sized.shape>ray.shape",
      "grid.sites>high.shape",
      "high.shape>put.shape",
      "ray.place>put.at",
    ],
  );
  const mesh = shapeAt(piece, "ball", "shape").mesh as Mesh;
  const sites = shapeAt(piece, "high", "shape").sites;
  const geometry = new BufferGeometry();
  const lanes = pointLanes(mesh);
  const xyz = new Float32Array(mesh.points.count * 3);
  const position = new BufferAttribute(xyz, 3);
  geometry.setAttribute("position", position);
  geometry.setIndex(new BufferAttribute(Uint32Array.from(mesh.cornerPoint), 1));
  const fill = (times: number) => {
    for (let p = 0; p < mesh.points.count; p++)
      for (let a = 0; a < 3; a++) xyz[p * 3 + a] = lanes[a][p] * times;
  };
  fill(1);
  const bvh = new MeshBVH(geometry, { indirect: true });
  const [x, y, z] = sites?.columns.position.lanes ?? [];
  const ray = new Ray(new Vector3(), new Vector3(0, -1, 0));
  const out = [0, 1, 2].map(() => new Float32Array(RAYS));
  const ours = timeOf(piece, "put", (p, i) => withSetting(p, "sized", "size", 1 + (i % 50) * 1e-3));
  let turn = 0;
  return inTurns(ours, () => {
    fill(1 + (turn++ % 50) * 1e-3);
    bvh.refit();
    for (let i = 0; i < RAYS; i++) {
      ray.origin.set(x[i], y[i], z[i]);
      const hit = bvh.raycastFirst(ray, DoubleSide, 0, 100);
      out[0][i] = hit?.point.x ?? x[i];
      out[1][i] = hit?.point.y ?? y[i];
      out[2][i] = hit?.point.z ?? z[i];
    }
  });
}

const scattered = (count: number, more: Specs, links: readonly string[]): PieceDocument =>
  pieceOf({ ball: BALL, layout: { type: "scatter-sites", set: { count, where: "inside" } }, ...more }, [
    "ball.shape>layout.shape",
    ...links,
  ]);

/** A cube filled with sites that keep a least distance, about 90,000, against the poisson-disk-sampling package in 3D. */
export function keepingApart(): Pair {
  const least = 0.0191;
  const piece = pieceOf(
    {
      box: { type: "box", set: { size: [1, 1, 1] } },
      layout: { type: "scatter-sites", set: { where: "inside", spread: "apart", least, count: 100_000 } },
    },
    ["box.shape>layout.shape"],
  );
  const ours = timeOf(piece, "layout", (p, i) => withSetting(p, "layout", "least", least + i * 1e-7));
  return inTurns(ours, () => {
    const found = new PoissonDiskSampling({ shape: [1, 1, 1], minDistance: least }).fill();
    if (found.length < 80_000) throw new Error(`Only ${found.length} stand.`);
  });
}

/** Sizes by the nearest of 100,000 sites that have moved, against building a grid of them by hashing. */
export function fitting(): Pair {
  const piece = scattered(100_000, { moved: { type: "move" }, fit: { type: "fit-to-neighbours" } }, [
    "layout.sites>moved.shape",
    "moved.shape>fit.shape",
  ]);
  const sites = shapeAt(piece, "layout", "sites").sites;
  const lanes = sites?.columns.position.lanes ?? [];
  const ours = timeOf(piece, "fit", (p, i) => withSetting(p, "moved", "by", [0, i * 1e-4, 0]));
  return inTurns(ours, () => {
    new HashGrid(lanes, 0.035);
  });
}

/** 20 rounds over 50,000 sites that overlap, against building their grid 20 times. */
export function easing(): Pair {
  const piece = scattered(50_000, { ease: { type: "ease-apart", set: { radius: 0.02, rounds: 20 } } }, [
    "layout.sites>ease.shape",
  ]);
  const sites = shapeAt(piece, "layout", "sites").sites;
  const lanes = sites?.columns.position.lanes ?? [];
  const ours = timeOf(piece, "ease", (p, i) => withSetting(p, "ease", "strength", 0.5 + i * 1e-4));
  return inTurns(ours, () => {
    for (let round = 0; round < 20; round++) new HashGrid(lanes, 0.04);
  });
}
