/**
 * Clones that fall, knock and lie on each other, as a state that is carried on. What physics knows of them beside where they
 * are is large, so only some states have it from their own frame; the others have it from an earlier one, with what has come
 * to each step since, by which a world that is gone is brought back.
 */
import type { World } from "@dimforge/rapier3d-deterministic-compat";
import { type Domain, makeColumn } from "../geometry/column";
import type { Shape } from "../geometry/shape";
import type { State } from "../simulate/state";
import { rapier } from "./physics";
import {
  bodiesOf,
  type Goals,
  type Lanes,
  type PieceSettings,
  pieceWorld,
  type StepSettings,
  stepWorld,
} from "./pieces-world";

/**
 * Pieces: `position`, `rotation`, `velocity`, `spin` (radians a second), `free` (1 once it was let go). `world`: words of what
 * physics carried on some steps ago. Domains named by a number, with the numbers and the shape of that name, are what came to
 * the steps since, in their order.
 */
export interface RigidPieces extends State {
  readonly domains: { readonly pieces: Domain; readonly world: Domain; readonly [step: number]: Domain };
  /** `bytes` of the words that count. */
  readonly numbers: { readonly bytes: readonly [number]; readonly [step: number]: readonly number[] };
  readonly shapes?: { readonly [step: number]: Shape };
}

/** Worlds that stand where a state is, by the places of its pieces. */
const standing = new Map<unknown, World>();
/** So many at most: each is memory that nobody else gives back. */
const MOST_STANDING = 4;
/** Steps that are taken again, at most, to bring a world back: the more, the longer that takes, and the less is kept. */
const MOST_AGAIN = 7;

const keyOf = ({ domains: { pieces } }: RigidPieces) => pieces.columns.position.lanes[0];

function keep(state: RigidPieces, world: World): RigidPieces {
  standing.set(keyOf(state), world);
  for (const [key, old] of standing) {
    if (standing.size <= MOST_STANDING) break;
    standing.delete(key);
    old.free();
  }
  return state;
}

/** Pieces at rest where they arrive, all led. */
export function piecesAtRest(goals: Goals, settings: PieceSettings): RigidPieces {
  const world = pieceWorld(goals, settings);
  return keep(writtenDown(world, piecesOf(world, new Float32Array(goals.position[0].length))), world);
}

/** A while later; the same object when all of them lie still and nothing stirs them. */
export function steppedPieces(before: RigidPieces, settings: StepSettings, seconds: number): RigidPieces {
  const { pieces } = before.domains;
  if (!(seconds > 0) || pieces.count === 0) return before;
  const world = worldOf(before);
  const free = Float32Array.from(pieces.columns.free.lanes[0]);
  if (!stepWorld(world, free, settings, seconds)) return keep(before, world);
  const moved = piecesOf(world, free);
  const steps = stepsSince(before);
  return keep(
    steps < MOST_AGAIN ? withStep(before, moved, steps, settings, seconds) : writtenDown(world, moved),
    world,
  );
}

/** The world of a state, which goes on from here: it stands for that state no longer. */
function worldOf(state: RigidPieces): World {
  const known = standing.get(keyOf(state));
  if (known) {
    standing.delete(keyOf(state));
    return known;
  }
  const [words] = state.domains.world.columns.words.lanes;
  const snapshot = new Uint8Array(new Int32Array(words).buffer, 0, state.numbers.bytes[0]);
  const world = rapier().World.restoreSnapshot(snapshot);
  const { pieces } = bodiesOf(world, state.domains.pieces.count);
  const free = Float32Array.from(pieces, (body) => (body.isDynamic() ? 1 : 0));
  for (let step = 0; step < stepsSince(state); step++) {
    const { settings, seconds } = stepOf(state, step);
    stepWorld(world, free, settings, seconds);
  }
  return world;
}

function stepsSince({ domains }: RigidPieces): number {
  let step = 0;
  while (domains[step]) step++;
  return step;
}

/** What came to a step: lanes that are the same as before are kept once. */
function withStep(
  before: RigidPieces,
  pieces: Domain,
  step: number,
  settings: StepSettings,
  seconds: number,
): RigidPieces {
  const { domains, numbers, shapes } = before;
  const { substeps, gravity, push, drag, free, goals, holds, against, friction, bounce } = settings;
  const old = domains[step - 1]?.columns;
  const column = (name: string, kind: "number" | "vector" | "rotation", lanes: Lanes) =>
    makeColumn(
      kind,
      lanes.map((lane, l) => {
        const known = old?.[name].lanes[l] as Float32Array | undefined;
        return known?.every((v, i) => v === lane[i]) ? known : Float32Array.from(lane);
      }),
    );
  const came: Domain = {
    count: pieces.count,
    columns: {
      push: column("push", "vector", push),
      free: column("free", "number", [free]),
      holds: column("holds", "number", [holds]),
      position: column("position", "vector", goals.position),
      rotation: column("rotation", "rotation", goals.rotation),
    },
  };
  return {
    domains: { ...domains, pieces, [step]: came },
    numbers: { ...numbers, [step]: [seconds, substeps, drag, friction, bounce, ...gravity] },
    shapes: against ? { ...shapes, [step]: { mesh: against } } : shapes,
  };
}

function stepOf(
  { domains, numbers, shapes }: RigidPieces,
  step: number,
): { settings: StepSettings; seconds: number } {
  const [seconds, substeps, drag, friction, bounce, ...gravity] = numbers[step];
  const { push, free, holds, position, rotation } = domains[step].columns;
  const settings = {
    substeps,
    drag,
    friction,
    bounce,
    gravity,
    push: push.lanes,
    free: free.lanes[0],
    holds: holds.lanes[0],
    goals: { position: position.lanes, rotation: rotation.lanes },
    against: shapes?.[step]?.mesh ?? null,
  };
  return { settings, seconds };
}

/** A state that has what physics knows from its own frame. */
function writtenDown(world: World, pieces: Domain): RigidPieces {
  const snapshot = world.takeSnapshot();
  const words = new Int32Array(Math.ceil(snapshot.length / 4));
  new Uint8Array(words.buffer).set(snapshot);
  const column = makeColumn("integer", [words]);
  return {
    domains: { pieces, world: { count: words.length, columns: { words: column } } },
    numbers: { bytes: [snapshot.length] },
  };
}

/** Where all pieces are, and how they move. */
function piecesOf(world: World, free: Float32Array): Domain {
  const count = free.length;
  const [position, velocity, spin] = [0, 1, 2].map(() => [0, 1, 2].map(() => new Float32Array(count)));
  const rotation = [0, 1, 2, 3].map(() => new Float32Array(count));
  const [place, turn] = [
    { x: 0, y: 0, z: 0 },
    { x: 0, y: 0, z: 0, w: 1 },
  ];
  const put = (lanes: readonly Float32Array[], i: number, { x, y, z }: typeof place) => {
    lanes[0][i] = x;
    lanes[1][i] = y;
    lanes[2][i] = z;
  };
  for (const [i, body] of bodiesOf(world, count).pieces.entries()) {
    put(position, i, body.translation(place));
    put(velocity, i, body.linvel(place));
    put(spin, i, body.angvel(place));
    put(rotation, i, body.rotation(turn));
    rotation[3][i] = turn.w;
  }
  return {
    count,
    columns: {
      position: makeColumn("vector", position),
      rotation: makeColumn("rotation", rotation),
      velocity: makeColumn("vector", velocity),
      spin: makeColumn("vector", spin),
      free: makeColumn("number", [free]),
    },
  };
}
