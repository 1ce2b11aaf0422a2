/** What is carried from frame to frame, surfaces that move, and what is drawn of them. */
import { BufferAttribute, BufferGeometry, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { IN_MEMORY } from "../src/core/draw/draw-memory";
import { type Drawing, drawingOf } from "../src/core/draw/drawing";
import { MovingMesh } from "../src/core/draw/moving-mesh";
import { triangulated } from "../src/core/draw/triangulate";
import { Evaluator } from "../src/core/evaluate/evaluator";
import type { Mesh } from "../src/core/geometry/mesh";
import type { Shape } from "../src/core/geometry/shape";
import { inTurns, type Pair } from "./measure";
import { copying, LIFTED, type Nodes, piece, player, WAVE } from "./pieces";
import { plainParticles } from "./plain-particles";

const grid = (count: number): Nodes => ({ grid: ["grid-sites", { across: 1000, deep: count / 1000 }] });

/** Bytes of states against 130 MB, as megabytes for milliseconds. */
export function lagStates(): Pair {
  const names = ["a", "b", "c", "d", "e"];
  const lags = Object.fromEntries(names.map((name) => [name, ["lag"] as const]));
  const links = names.map((name, i) => `${i === 0 ? "move" : names[i - 1]}.shape>${name}.shape`);
  const document = piece({ ...grid(50_000), ...WAVE, ...lags }, [...LIFTED, ...links]);
  const evaluator = new Evaluator();
  evaluator.evaluate(document, 24, { target: "e" });
  return { ours: evaluator.simulation.checkpoints.bytes / 2 ** 20, other: 130 };
}

export function springing(): Pair {
  const nodes = { ...grid(100_000), ...WAVE, spring: ["spring"] as const };
  const document = piece(nodes, [...LIFTED, "move.shape>spring.shape"]);
  const [sprung, moved] = [player(document, "spring"), player(document, "move")];
  const [ours, other] = [inTurns(sprung, moved).ours, inTurns(moved, sprung).ours];
  return { ours: ours - other, other };
}

/** One frame back, and on again, against two steps on. */
export function oneFrameBack(): Pair {
  const nodes = { ...grid(400_000), ...WAVE, spring: ["spring"] as const };
  const document = piece(nodes, [...LIFTED, "move.shape>spring.shape"]);
  const [back, on] = [player(document, "spring"), player(document, "spring")];
  for (let frame = 0; frame < 20; frame++) back(frame);
  let frame = 20;
  return inTurns(
    () => {
      frame = frame === 20 ? 19 : 20;
      back(frame);
    },
    () => on(),
  );
}

/** A sheet of 250,000 quads that changes every frame, to places and normals of its vertices. */
export function movingSheet(): Pair {
  const document = piece({ plane: ["plane", { width: 10, depth: 10, across: 500, deep: 500 }], ...WAVE }, [
    "plane.shape>move.shape",
    "wave.value>lift.y",
    "lift.vector>move.by",
  ]);
  const mesh = (player(document, "move")(0).shape as Shape).mesh as Mesh;
  const moving = new MovingMesh(mesh, triangulated(mesh), IN_MEMORY);
  return inTurns(
    () => {
      const { positions, normals } = moving.moved(mesh);
      for (const array of [positions, normals]) IN_MEMORY.give(array);
    },
    copying(mesh.points.count * 6),
  );
}

const drawn =
  (shape: Shape): (() => void) =>
  () => {
    const { batches, lines, dots }: Drawing = drawingOf(shape, IN_MEMORY);
    for (const { matrices, colors } of batches) for (const array of [matrices, colors]) IN_MEMORY.give(array);
    for (const part of [lines, dots])
      if (part) for (const array of [part.positions, part.colors]) IN_MEMORY.give(array);
  };

export function bareSites(): Pair {
  const sites = player(piece(grid(1e6), []), "grid")(0).sites as Shape;
  return inTurns(drawn(sites), copying(7e6));
}

export function pointsOnLines(): Pair {
  const document = piece({ coil: ["helix", { turns: 50, points: 20_000 }] }, []);
  return inTurns(drawn(player(document, "coil")(0).shape as Shape), copying(14e6));
}

export function twoShapes(): Pair {
  const clones = (shapes: readonly string[]) =>
    player(
      piece({ ...grid(1e6), box: ["box"], ball: ["sphere"], clones: ["clone-onto-sites"] }, [
        "grid.sites>clones.sites",
        ...shapes.map((shape) => `${shape}.shape>clones.shapes`),
      ]),
      "clones",
    )(0).clones as Shape;
  return inTurns(drawn(clones(["box", "ball"])), drawn(clones(["box"])));
}

/** The closest place on 1,536 triangles for 100,000 sites that move, against three-mesh-bvh for the same places. */
export function closestPlaces(): Pair {
  const document = piece(
    {
      grid: ["grid-sites", { across: 400, deep: 250, spacing: [0.02, 0.02, 0.02] }],
      noise: ["noise", { speed: 1 }],
      move: ["move"],
      torus: ["torus", { around: 48, sides: 16 }],
      near: ["nearest", { to: "surface" }],
      keep: ["store-attribute"],
    },
    [
      "grid.sites>move.shape",
      "noise.vector>move.by",
      "torus.shape>near.shape",
      "near.distance>keep.number",
      "move.shape>keep.shape",
    ],
  );
  const { sites } = player(document, "move")(0).shape as Shape;
  const { geometry: cut } = triangulated((player(document, "torus")(0).shape as Shape).mesh as Mesh);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(cut.positions, 3));
  geometry.setIndex(new BufferAttribute(cut.indices, 1));
  const bvh = new MeshBVH(geometry, { indirect: true });
  const [x, y, z] = sites?.columns.position.lanes ?? [];
  const place = new Vector3();
  const found = { point: new Vector3(), distance: 0, faceIndex: -1 };
  return inTurns(player(document, "keep"), () => {
    for (let i = 0; i < x.length; i++) bvh.closestPointToPoint(place.set(x[i], y[i], z[i]), found);
  });
}

const MILLION = 1e6;

const grains = (swirl: boolean): (() => void) => {
  const document = piece(
    {
      grid: ["grid-sites", { across: 100, deep: 100 }],
      swirl: ["swirl", { size: 3 }],
      births: ["emitter", { when: "once", count: MILLION, life: 0 }],
      gravity: ["gravity"],
      drag: ["drag"],
      grains: ["particles", { most: MILLION }],
    },
    [
      "grid.sites>births.shape",
      "births.births>grains.births",
      "gravity.force>grains.forces",
      "drag.force>grains.forces",
      ...(swirl ? ["swirl.flow>grains.forces"] : []),
    ],
  );
  const play = player(document, "grains");
  for (let frame = 0; frame < 3; frame++) play();
  return play;
};

/** A million particles a step on, against copying their 36 bytes each. */
export const falling = (): Pair => inTurns(grains(false), copying(9 * MILLION));
export const swirling = (): Pair => inTurns(grains(true), copying(9 * MILLION));
export const againstPlain = (): Pair => inTurns(grains(true), plainParticles(MILLION));
