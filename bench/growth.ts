/** What grows and gives way, against the queries and copies that it cannot do without. */
import { makeFloats } from "../src/core/geometry/column";
import { geodesicMesh, planeMesh } from "../src/core/geometry/primitives";
import { topologyOf } from "../src/core/geometry/topology";
import { grownBranches, rooted } from "../src/core/growth/branches";
import { reacted, seeded } from "../src/core/growth/reaction";
import { begunSurface, grownSurface } from "../src/core/growth/surface";
import { Arena, passing } from "../src/core/kernels/arena";
import { hash3, unit24 } from "../src/core/maths/random";
import { rapier } from "../src/core/rigid/physics";
import { piecesAtRest, steppedPieces } from "../src/core/rigid/rigid-pieces";
import { tiesOf } from "../src/core/soft/constraints";
import { softAtRest, steppedSoft } from "../src/core/soft/soft-body";
import { PointGrid } from "../src/core/spatial/point-grid";
import { inTurns, type Pair } from "./measure";

const within = <T>(work: () => T): T => new Arena().within(work);
const chance = (i: number, c: number): number => unit24(hash3(17, i, c));

/** A round of a ball's growth, remeshed, pushed and smoothed. @param detail 6 has 40,962 points, half as finely remeshed about 20,000 */
export function surfaceStep(): Pair {
  const ball = geodesicMesh(1, 6);
  const edge = 0.026;
  const start = begunSurface(ball, new Float32Array(ball.points.count).fill(1));
  const settings = {
    edge,
    remeshRounds: 1,
    apart: edge * 1.6,
    pushRounds: 1,
    smoothRounds: 1,
    speed: 0.002,
    wild: ({ count }: { count: number }) => new Float32Array(count).fill(1),
    lean: ({ count }: { count: number }) => [0, 1, 2].map(() => new Float32Array(count)),
    keepsBorders: false,
    most: 1e6,
  };
  const mesh = within(() => grownSurface(grownSurface(start, settings, 1), settings, 2));
  const places = mesh.points.columns.position.lanes as Float32Array[];
  return inTurns(
    () => within(() => grownSurface(mesh, settings, 3)),
    () => within(() => new PointGrid(places).within(places, settings.apart, true)),
  );
}

const SIDE = 512;

export function reacting(): Pair {
  const beside = topologyOf(planeMesh(1, 1, SIDE - 1, SIDE - 1)).pointsOfPoints;
  const start = seeded(Float32Array.from({ length: SIDE * SIDE }, (_, i) => (chance(i, 0) < 0.2 ? 1 : 0)));
  const arena = new Arena();
  return arena.within(() => {
    // Where fields that are worked out stand.
    const even = (v: number) => makeFloats(SIDE * SIDE).fill(v);
    const settings = { feed: even(0.03), kill: even(0.062), size: 1 };
    const [a, b] = [0, 1].map((v) => new Float32Array(SIDE * SIDE).fill(v));
    const steps = 10;
    const pair = inTurns(
      () => passing(() => reacted(start, beside, settings, steps)),
      () => {
        for (let s = 0; s < steps; s++) {
          a.set(b);
          b.set(a);
        }
      },
    );
    return pair;
  });
}

/** Ten sub-steps of a cloth of 40,000 points, against copying places and speeds once for each. */
export function draping(): Pair {
  const mesh = planeMesh(2, 2, 199, 199);
  const ties = tiesOf({ mesh });
  if (!ties) throw new Error("no ties");
  const goals = mesh.points.columns.position.lanes as Float32Array[];
  const { count } = mesh.points;
  const even = (v: number) => new Float32Array(count).fill(v);
  const settings = {
    substeps: 10,
    stretch: 0.0001,
    bend: 0.01,
    pressure: null,
    lengths: [],
    tied: null,
    led: Float32Array.from({ length: count }, (_, i) => (i < 200 ? 1 : 0)),
    goals,
    home: even(Number.POSITIVE_INFINITY),
    push: [even(0), even(-9.81), even(0)],
    damping: 0.5,
    tear: Number.POSITIVE_INFINITY,
    yields: Number.POSITIVE_INFINITY,
    own: 0,
    planes: null,
    gap: 0,
    friction: 0,
  };
  const cloth = softAtRest(goals, ties);
  const state = [0, 1].map(() => Array.from({ length: 6 }, () => even(1)));
  return inTurns(
    () => steppedSoft(cloth, ties, settings, 0.04),
    () => {
      for (let s = 0; s < 10; s++) for (let l = 0; l < 6; l++) state[s % 2][l].set(state[1 - (s % 2)][l]);
    },
  );
}

/** Thirty rounds of branches that seek 20,000 attractors, against asking for their nearest nodes as often. */
export function branching(): Pair {
  const attractors = [0, 1, 2].map((a) =>
    Float32Array.from({ length: 20_000 }, (_, i) => chance(i, a) * 4 + (a === 1 ? 0.5 : -2)),
  );
  const settings = {
    step: 0.06,
    influence: 0.6,
    kill: 0.12,
    straight: 0.2,
    lean: (places: readonly ArrayLike<number>[]) => places.map((lane) => new Float32Array(lane.length)),
    mostNodes: 200_000,
  };
  const rounds = 30;
  const before = within(() => grownBranches(rooted([[0], [0], [0]]), attractors, settings, rounds));
  const nodes = before.domains.nodes.columns.position.lanes as Float32Array[];
  const [born] = before.domains.nodes.columns.born.lanes;
  return inTurns(
    () => within(() => grownBranches(rooted([[0], [0], [0]]), attractors, settings, rounds)),
    () => {
      for (let round = 0; round < rounds; round++) {
        const mine = nodes.map((lane) => lane.filter((_, i) => born[i] === round));
        if (mine[0].length > 0) within(() => new PointGrid(mine).nearest(attractors));
      }
    },
  );
}

/** 2,000 boxes for a frame of two sub-steps. PHYSICS is loaded. */
export function tumbling(): Pair {
  const count = 2000;
  const position = [0, 1, 2].map((a) =>
    Float32Array.from({ length: count }, (_, i) =>
      a === 1 ? 1 + Math.floor(i / 100) * 1.1 : (a === 0 ? i % 10 : Math.floor(i / 10) % 10) * 1.1,
    ),
  );
  const lanes = (...values: number[]) => values.map((v) => new Float32Array(count).fill(v));
  const goals = { position, rotation: lanes(0, 0, 0, 1) };
  const box = {
    form: "box" as const,
    middle: [0, 0, 0],
    half: [0.5, 0.5, 0.5],
    corners: new Float32Array(0),
  };
  const settings = {
    substeps: 2,
    gravity: [0, -9.81, 0],
    push: lanes(0, 0, 0),
    drag: 0,
    free: lanes(1)[0],
    holds: lanes(1)[0],
    goals,
    against: null,
    friction: 0.5,
    bounce: 0,
  };
  let state = piecesAtRest(goals, {
    form: new Int32Array(count),
    forms: [box],
    scale: lanes(1, 1, 1),
    bounce: 0,
    friction: 0.5,
    ground: true,
    joined: new Int32Array(0),
  });
  for (let f = 0; f < 20; f++) state = steppedPieces(state, settings, 0.04);
  const { World, RigidBodyDesc, ColliderDesc } = rapier();
  const world = new World({ x: 0, y: -9.81, z: 0 });
  world.timestep = 0.02;
  for (let i = 0; i < count; i++) {
    const [x, y, z] = position.map((lane) => lane[i]);
    world.createCollider(
      ColliderDesc.cuboid(0.5, 0.5, 0.5),
      world.createRigidBody(RigidBodyDesc.dynamic().setTranslation(x, y, z).setCcdEnabled(true)),
    );
  }
  world.createCollider(ColliderDesc.cuboid(500, 1, 500).setTranslation(0, -1, 0));
  for (let f = 0; f < 40; f++) world.step();
  return inTurns(
    () => {
      state = steppedPieces(state, settings, 0.04);
    },
    () => {
      world.step();
      world.step();
    },
  );
}
