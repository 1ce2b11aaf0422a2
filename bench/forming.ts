/** Shapes made of shapes. */
import type { PieceDocument } from "../src/core/document/schema";
import { Evaluator } from "../src/core/evaluate/evaluator";
import type { Mesh } from "../src/core/geometry/mesh";
import type { Shape } from "../src/core/geometry/shape";
import { topologyOf } from "../src/core/geometry/topology";
import { cornerAt, type DrawnPath } from "../src/core/maths/drawn-path";
import type { Splitting } from "../src/core/meshes/subdivide/splitting";
import { Subdivision } from "../src/core/meshes/subdivide/subdivision";
import type { Setting } from "../src/core/nodes/ports";
import { combinedSolids } from "../src/core/solids/boolean";
import { carryingOf, manifold, solidOfMesh } from "../src/core/solids/solid";
import { inTurns, type Pair } from "./measure";
import { copyingCold, type Nodes, piece, player, WAVE } from "./pieces";

/** A sheet that moves, and a node after it. */
const waving = (across: number, deep: number, node: Nodes[string]): PieceDocument =>
  piece({ sheet: ["plane", { across, deep }], ...WAVE, node }, [
    "sheet.shape>move.shape",
    "wave.value>lift.y",
    "lift.vector>move.by",
    "move.shape>node.shape",
  ]);

/** The mesh of one node. */
const meshOf = (node: Nodes[string]): Mesh =>
  (player(piece({ node }, []), "node")().shape as Shape).mesh as Mesh;

/** Faces that stay, against faces that were not there before. */
export function subdividing(): Pair {
  const mesh = meshOf(["plane", { across: 100, deep: 100 }]);
  const splitting: Splitting = {
    scheme: "Catmull–Clark",
    sharp: new Float32Array(topologyOf(mesh).edges.count),
    keepsTips: false,
  };
  const kept = new Subdivision(mesh, splitting, 1);
  return inTurns(
    () => kept.apply(mesh),
    () => new Subdivision(mesh, splitting, 1).apply(mesh),
  );
}

/** A deformer together with what it is given, less that alone. */
export function deforming(type: string): Pair {
  const [with_, without] = [
    player(waving(499, 499, [type, { along: "x" }]), "node"),
    player(waving(499, 499, ["freeze"]), "move"),
  ];
  const both = inTurns(with_, without);
  const copy = inTurns(copyingCold(250_000 * 3), () => {}).ours;
  return { ours: both.ours - both.other, other: copy };
}

/** A lattice of 3 × 3 × 3 that moves, together with what it is given, less that alone. */
export function latticed(): Pair {
  const cage: Nodes = {
    cage: ["grid-sites", { across: 3, up: 3, deep: 3 }],
    noise: ["noise", { speed: 1 }],
    bulge: ["move"],
    soft: ["lattice"],
  };
  const document = piece({ sheet: ["plane", { across: 499, deep: 499 }], ...WAVE, ...cage }, [
    "sheet.shape>move.shape",
    "wave.value>lift.y",
    "lift.vector>move.by",
    "cage.sites>bulge.shape",
    "noise.vector>bulge.by",
    "move.shape>soft.shape",
    "cage.sites>soft.rest",
    "bulge.shape>soft.moved",
  ]);
  const both = inTurns(player(document, "soft"), player(document, "move"));
  const copy = inTurns(copyingCold(250_000 * 3), () => {}).ours;
  return { ours: both.ours - both.other, other: copy };
}

export function combining(): Pair {
  const ball = meshOf(["sphere", { build: "geodesic", detail: 5 }]);
  const half = meshOf(["sphere", { build: "geodesic", detail: 5, radius: 0.42 }]);
  const bare = { points: [], corners: [] };
  return inTurns(
    () => combinedSolids(ball, half, "difference"),
    () => {
      const id = manifold().Manifold.reserveIDs(2);
      const [a, b] = [solidOfMesh(ball, carryingOf([ball, half]), id), solidOfMesh(half, bare, id + 1)];
      const made = a.subtract(b);
      made.getMesh();
      for (const solid of [a, b, made]) solid.delete();
    },
  );
}

/** Against 0.8 s. */
export function remeshing(): Pair {
  const document = piece(
    {
      ball: ["sphere", { build: "geodesic", detail: 5, radius: 1 }],
      node: ["remesh", { length: 0.0385, rounds: 3 }],
    },
    ["ball.shape>node.shape"],
  );
  const { ours } = inTurns(
    () => player(document, "node")(),
    () => {},
  );
  return { ours, other: 800 };
}

/** A point of a path moved, and a tube of 20,000 faces along it, against a picture's time at 60 a second. */
export function tubing(): Pair {
  const pathAt = (y: number): DrawnPath => ({
    closed: false,
    points: [0, 1, 2].map((x) => ({
      ...cornerAt([x, x === 1 ? y : 0, 0]),
      after: [0.3, 0.2, 0],
      before: [-0.3, 0.2, 0],
      smooth: true,
    })),
  });
  const document = piece({ path: ["drawn-path", { steps: 500 }], node: ["tube", { sides: 20 }] }, [
    "path.shape>node.shape",
  ]);
  let turn = 0;
  const [path, tube] = document.graph.nodes;
  const changed = (): PieceDocument => ({
    ...document,
    graph: {
      ...document.graph,
      nodes: [{ ...path, set: { ...path.set, path: pathAt(++turn / 100) as unknown as Setting } }, tube],
    },
  });
  const work = edited(changed);
  return { ours: inTurns(work, () => {}).ours, other: 1000 / 60 };
}

/** Another document each time, worked out by one evaluator. */
function edited(changed: () => PieceDocument): () => void {
  const evaluator = new Evaluator();
  return () => void evaluator.evaluate(changed(), 0, { target: "node" });
}
