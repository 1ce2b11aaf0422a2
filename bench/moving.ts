/** What is carried from frame to frame, surfaces that move, and what is drawn of them. */
import { BufferAttribute, BufferGeometry, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { IN_MEMORY } from "../src/core/draw/draw-memory";
import { type Drawing, drawingOf } from "../src/core/draw/drawing";
import { MovingMesh } from "../src/core/draw/moving-mesh";
import { triangulated } from "../src/core/draw/triangulate";
import { Evaluator } from "../src/core/evaluate/evaluator";
import { constant } from "../src/core/fields/expression";
import { makeColumn } from "../src/core/geometry/column";
import type { Mesh } from "../src/core/geometry/mesh";
import type { Shape } from "../src/core/geometry/shape";
import { Arena, floatsInMemory, inMemory } from "../src/core/kernels/arena";
import { helpers, setHelpers } from "../src/core/kernels/helpers";
import { hash3, unit24 } from "../src/core/maths/random";
import { flocking } from "../src/core/particles/flock";
import { forceOf } from "../src/core/particles/forces";
import { NO_TRAIL, trailsOf, withMoment } from "../src/core/particles/trails";
import { PointGrid } from "../src/core/spatial/point-grid";
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

/** With all threads that are set, against one. */
export function swirlingTogether(): Pair {
  const all = helpers();
  const [together, alone] = [grains(true), grains(true)];
  return inTurns(together, () => {
    setHelpers(null);
    alone();
    setHelpers(all);
  });
}

/** A torus of 20,000 faces that moves up with the time. */
const MOVING_TORUS: Nodes = {
  torus: ["torus", { around: 200, sides: 100 }],
  clock: ["clock"],
  up: ["join-vector"],
  lift: ["move"],
};
const TORUS_LINKS = ["torus.shape>lift.shape", "clock.seconds>up.y", "up.vector>lift.by"];

/** A step of 100,000 particles that a moving mesh of 20,000 faces throws, against asking for the nearest place on it alone. */
export function thrown(): Pair {
  const grains = piece(
    {
      ...MOVING_TORUS,
      ball: ["sphere", { radius: 1.6 }],
      births: ["emitter", { when: "once", count: 100_000, life: 0, from: "inside", speed: 0.5 }],
      wall: ["collide", { with: "a mesh" }],
      grains: ["particles", { most: 100_000 }],
    },
    [
      ...TORUS_LINKS,
      "ball.shape>births.shape",
      "births.births>grains.births",
      "lift.shape>wall.shape",
      "wall.force>grains.forces",
    ],
  );
  const asked = piece(
    {
      ...MOVING_TORUS,
      ball: ["sphere", { radius: 1.6 }],
      grid: ["scatter-sites", { count: 100_000 }],
      near: ["nearest", { to: "surface" }],
      keep: ["store-attribute"],
    },
    [
      ...TORUS_LINKS,
      "ball.shape>grid.shape",
      "lift.shape>near.shape",
      "near.distance>keep.number",
      "grid.sites>keep.shape",
    ],
  );
  return inTurns(player(grains, "grains"), player(asked, "keep"));
}

/** A step of 100,000 that mind each other, against building the grid that tells who is near. */
export function flocked(): Pair {
  const count = 100_000;
  const lane = (seed: number) =>
    Float32Array.from({ length: count }, (_, i) => unit24(hash3(seed, i, 0)) * 12);
  const vector = (seed: number) => makeColumn("vector", [lane(seed), lane(seed + 1), lane(seed + 2)]);
  const domain = { count, columns: { position: vector(1), velocity: vector(4) } };
  const flock = forceOf(
    "flock",
    "Flock",
    { apart: [constant(1)], along: [constant(1)], together: [constant(1)] },
    { radius: 0.3, sight: 2 * Math.PI },
  );
  const places = domain.columns.position.lanes as Float32Array[];
  const arena = new Arena();
  const inArena = (work: () => void) => () => {
    arena.within(work);
    arena.keepOnly([]);
  };
  return inTurns(
    inArena(() => flocking(domain, [flock])),
    inArena(() => new PointGrid(places)),
  );
}

/** Trails of 60 frames of 20,000, against copying what their points have, 24 bytes each. */
export function trailing(): Pair {
  const count = 20_000;
  const arena = new Arena();
  let trail = NO_TRAIL;
  // As lanes of particles do, they stand in the memory.
  const at = (frame: number) => {
    const lane = (a: number) => floatsInMemory(count).map((_, i) => i * 0.01 + frame * a);
    return {
      count,
      columns: {
        position: makeColumn(
          "vector",
          [1, 2, 3].map((a) => inMemory(lane(a))),
        ),
      },
    };
  };
  const now = arena.within(() => {
    for (let frame = 0; frame < 60; frame++) trail = withMoment(trail, at(frame), frame, 60);
    return at(60);
  });
  const kept = [...Object.values(trail.domains), now].flatMap(({ columns }) => columns.position.lanes);
  return inTurns(
    () => {
      arena.within(() => trailsOf(trail, now, { now: 60, length: 60, keepsDead: true, apart: 0 }));
      arena.keepOnly(kept);
    },
    copying(count * 61 * 6),
  );
}
