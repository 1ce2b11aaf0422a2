/** Clones that fall, knock and lie on each other. What physics knows of them beside where they are goes along as it stands in its memory. */
import type { ImpulseJoint, RigidBody, World } from "@dimforge/rapier3d-deterministic-compat";
import { tick } from "../cancelling";
import { type Domain, makeColumn } from "../geometry/column";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { type MutableQuaternion, multiply, type Quaternion, rotate } from "../maths/quaternion";
import type { Vec3 } from "../maths/vector";
import type { State } from "../simulate/state";
import { rapier } from "./physics";

type Lanes = readonly ArrayLike<number>[];

/** How a piece meets others: about its own middle, in its own units before it is scaled. */
export interface PieceForm {
  readonly form: "ball" | "box" | "hull";
  readonly middle: readonly number[];
  readonly half: readonly number[];
  /** Corners of a hull, x y z of each. */
  readonly corners: Float32Array;
}

/** Pieces: `position`, `rotation`, `velocity`, `spin` (radians a second), `free` (1 once it was let go). `world`: words of what physics carries on. */
export interface RigidPieces extends State {
  readonly domains: { readonly pieces: Domain; readonly world: Domain };
  /** Bytes of the words that count. */
  readonly numbers: { readonly bytes: readonly [number] };
}

export interface PieceSettings {
  /** A number for each piece into the list of forms. */
  readonly form: ArrayLike<number>;
  readonly forms: readonly PieceForm[];
  readonly scale: Lanes;
  readonly bounce: number;
  readonly friction: number;
  readonly ground: boolean;
  /** Pairs of pieces that are joined, two numbers each. */
  readonly joined: Int32Array;
}

export interface StepSettings {
  readonly substeps: number;
  readonly gravity: readonly number[];
  /** Units a second², for each piece. */
  readonly push: Lanes;
  /** Parts of the speed, and of the spin, that are lost in a second. */
  readonly drag: number;
  /** Above 0.5 for pieces that are let go; others are led to where they arrive. */
  readonly free: ArrayLike<number>;
  readonly goals: { readonly position: Lanes; readonly rotation: Lanes };
  /** Above 0.5 for pieces that stay joined to those beside them. */
  readonly holds: ArrayLike<number>;
  /** What they fall against. */
  readonly against: Mesh | null;
  readonly friction: number;
  readonly bounce: number;
}

/** Worlds that stand where a state is, by the words of that state; others are brought back from those. */
const standing = new Map<ArrayLike<number>, World>();
/** So many at most: each is memory that nobody else gives back. */
const MOST_STANDING = 4;
/** Corners that a hull keeps at most. */
export const MOST_CORNERS = 128;
/** Units that the floor is thick. */
const FLOOR = 2;

function keep(words: Int32Array, world: World): void {
  standing.set(words, world);
  for (const [key, old] of standing) {
    if (standing.size <= MOST_STANDING) break;
    standing.delete(key);
    old.free();
  }
}

function worldOf(state: RigidPieces): World {
  const words = state.domains.world.columns.words.lanes[0] as Int32Array;
  const known = standing.get(words);
  if (known) {
    standing.delete(words);
    return known;
  }
  const [bytes] = state.numbers.bytes;
  const snapshot = new Uint8Array(new Int32Array(words).buffer, 0, bytes);
  return rapier().World.restoreSnapshot(snapshot);
}

/** Pieces at rest where they arrive, all led. */
export function piecesAtRest(
  { position, rotation }: { readonly position: Lanes; readonly rotation: Lanes },
  settings: PieceSettings,
): RigidPieces {
  const { World, RigidBodyDesc, ColliderDesc } = rapier();
  const world = new World({ x: 0, y: 0, z: 0 });
  const count = position[0].length;
  for (let i = 0; i < count; i++) {
    tick(32);
    const body = world.createRigidBody(
      RigidBodyDesc.kinematicPositionBased()
        .setTranslation(position[0][i], position[1][i], position[2][i])
        .setRotation({ x: rotation[0][i], y: rotation[1][i], z: rotation[2][i], w: rotation[3][i] })
        .setCcdEnabled(true),
    );
    const scale = settings.scale.map((lane) => lane[i]);
    const collider = colliderOf(settings.forms[settings.form[i]], scale)
      .setFriction(settings.friction)
      .setRestitution(settings.bounce);
    world.createCollider(collider, body);
  }
  joinPieces(world, position, rotation, settings.joined);
  // What they fall against is a body of its own, after all pieces.
  world.createRigidBody(RigidBodyDesc.kinematicPositionBased());
  if (settings.ground) {
    const floor = ColliderDesc.cuboid(500, FLOOR / 2, 500).setTranslation(0, -FLOOR / 2, 0);
    world.createCollider(floor.setFriction(settings.friction).setRestitution(settings.bounce));
  }
  return stateOf(world, new Float32Array(count));
}

/** Pairs of pieces that keep to each other as they stand at first. */
function joinPieces(world: World, position: Lanes, rotation: Lanes, joined: Int32Array): void {
  const { JointData } = rapier();
  const { pieces } = bodiesOf(world, position[0].length);
  const none = { x: 0, y: 0, z: 0, w: 1 };
  for (let k = 0; k < joined.length; k += 2) {
    const [i, j] = [joined[k], joined[k + 1]];
    const turns = [i, j].map((n) => rotation.map((lane) => lane[n]) as unknown as Quaternion);
    const back = ([x, y, z, w]: Quaternion): Quaternion => [-x, -y, -z, w];
    // The second one as the first one sees it.
    const way = rotate(back(turns[0]), position.map((lane) => lane[j] - lane[i]) as unknown as Vec3);
    const turned: MutableQuaternion = [0, 0, 0, 1];
    multiply(back(turns[0]), turns[1], turned);
    const joint = JointData.fixed(
      { x: way[0], y: way[1], z: way[2] },
      { x: turned[0], y: turned[1], z: turned[2], w: turned[3] },
      { x: 0, y: 0, z: 0 },
      none,
    );
    world.createImpulseJoint(joint, pieces[i], pieces[j], true).setContactsEnabled(false);
  }
}

/** Lets go of joints at pieces that hold no longer. */
function breakJoints(world: World, pieces: readonly RigidBody[], holds: ArrayLike<number>): void {
  const numbers = new Map(pieces.map((body, i) => [body.handle, i]));
  const broken: ImpulseJoint[] = [];
  world.impulseJoints.forEach((joint) => {
    const ends = [joint.body1(), joint.body2()].map((body) => numbers.get(body.handle) ?? -1);
    if (ends.some((i) => !(holds[i] > 0.5))) broken.push(joint);
  });
  for (const joint of broken) world.removeImpulseJoint(joint, true);
}

/** The least that a piece measures: physics has no flat ones. */
const LEAST = 1e-4;

function colliderOf({ form, middle, half, corners }: PieceForm, scale: readonly number[]) {
  const { ColliderDesc } = rapier();
  const size = half.map((h, a) => Math.max(LEAST, Math.abs(h * scale[a])));
  const at = middle.map((m, a) => m * scale[a]);
  if (form === "hull") {
    const scaled = corners.map((v, i) => v * scale[i % 3]);
    const hull = ColliderDesc.convexHull(scaled);
    if (hull) return hull;
  }
  const collider =
    form === "ball"
      ? ColliderDesc.ball((size[0] + size[1] + size[2]) / 3)
      : ColliderDesc.cuboid(size[0], size[1], size[2]);
  return collider.setTranslation(at[0], at[1], at[2]);
}

/** All bodies of pieces, in their order. */
function bodiesOf(world: World, count: number): { pieces: RigidBody[]; against: RigidBody } {
  const all: RigidBody[] = [];
  world.forEachRigidBody((body) => all.push(body));
  return { pieces: all.slice(0, count), against: all[count] };
}

/** A while later. */
export function steppedPieces(before: RigidPieces, settings: StepSettings, seconds: number): RigidPieces {
  const { count, columns } = before.domains.pieces;
  if (!(seconds > 0) || count === 0) return before;
  const { substeps, gravity } = settings;
  const world = worldOf(before);
  const { pieces, against } = bodiesOf(world, count);
  world.gravity = { x: gravity[0], y: gravity[1], z: gravity[2] };
  world.timestep = seconds / substeps;
  setAgainst(world, against, settings);
  breakJoints(world, pieces, settings.holds);
  const free = Float32Array.from(columns.free.lanes[0]);
  for (let i = 0; i < count; i++) {
    tick(4);
    const body = pieces[i];
    if (free[i] === 0 && settings.free[i] > 0.5) {
      body.setBodyType(rapier().RigidBodyType.Dynamic, true);
      free[i] = 1;
    }
    if (free[i] === 1) pushed(body, settings, i);
  }
  const { position, rotation } = settings.goals;
  for (let s = 0; s < substeps; s++) {
    tick(count * 64);
    const part = 1 / (substeps - s);
    for (let i = 0; i < count; i++) if (free[i] === 0) led(pieces[i], position, rotation, i, part);
    world.step();
  }
  return stateOf(world, free);
}

function pushed(body: RigidBody, { push, drag }: StepSettings, i: number): void {
  body.setLinearDamping(drag);
  body.setAngularDamping(drag);
  body.resetForces(false);
  const mass = body.mass();
  const force = { x: push[0][i] * mass, y: push[1][i] * mass, z: push[2][i] * mass };
  if (force.x !== 0 || force.y !== 0 || force.z !== 0) body.addForce(force, true);
}

/** A part of the way to where a piece arrives. */
function led(body: RigidBody, position: Lanes, rotation: Lanes, i: number, part: number): void {
  const at = body.translation();
  body.setNextKinematicTranslation({
    x: at.x + (position[0][i] - at.x) * part,
    y: at.y + (position[1][i] - at.y) * part,
    z: at.z + (position[2][i] - at.z) * part,
  });
  body.setNextKinematicRotation({
    x: rotation[0][i],
    y: rotation[1][i],
    z: rotation[2][i],
    w: rotation[3][i],
  });
}

/** The mesh that pieces fall against, made anew when it is another one than before. */
function setAgainst(world: World, body: RigidBody, { against, friction, bounce }: StepSettings): void {
  const old = body.numColliders() > 0 ? body.collider(0) : null;
  if (!against) {
    if (old) world.removeCollider(old, true);
    return;
  }
  const [x, y, z] = pointLanes(against);
  const vertices = new Float32Array(x.length * 3);
  for (let p = 0; p < x.length; p++) vertices.set([x[p], y[p], z[p]], p * 3);
  const indices = Uint32Array.from(triangleCorners(against), (corner) => against.cornerPoint[corner]);
  if (old && isSame(old.vertices(), vertices) && isSame(old.indices() ?? [], indices)) return;
  if (old) world.removeCollider(old, true);
  if (indices.length === 0) return;
  const mesh = rapier().ColliderDesc.trimesh(vertices, indices);
  world.createCollider(mesh.setFriction(friction).setRestitution(bounce), body);
}

const isSame = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

function stateOf(world: World, free: Float32Array): RigidPieces {
  const count = free.length;
  const [position, velocity, spin] = [0, 1, 2].map(() => [0, 1, 2].map(() => new Float32Array(count)));
  const rotation = [0, 1, 2, 3].map(() => new Float32Array(count));
  const { pieces } = bodiesOf(world, count);
  for (const [i, body] of pieces.entries()) {
    const [p, q, v, w] = [body.translation(), body.rotation(), body.linvel(), body.angvel()];
    for (const [lanes, from] of [
      [position, [p.x, p.y, p.z]],
      [rotation, [q.x, q.y, q.z, q.w]],
      [velocity, [v.x, v.y, v.z]],
      [spin, [w.x, w.y, w.z]],
    ] as const)
      for (let a = 0; a < from.length; a++) lanes[a][i] = from[a];
  }
  const snapshot = world.takeSnapshot();
  const words = new Int32Array(Math.ceil(snapshot.length / 4));
  new Uint8Array(words.buffer).set(snapshot);
  keep(words, world);
  return {
    domains: {
      pieces: {
        count,
        columns: {
          position: makeColumn("vector", position),
          rotation: makeColumn("rotation", rotation),
          velocity: makeColumn("vector", velocity),
          spin: makeColumn("vector", spin),
          free: makeColumn("number", [free]),
        },
      },
      world: {
        count: words.length,
        columns: { words: makeColumn("integer", [words]) },
      },
    },
    numbers: { bytes: [snapshot.length] },
  };
}
