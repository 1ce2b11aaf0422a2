/** The world in which rigid pieces move: how it is made of them, and how it moves on by a step. */
import type { ImpulseJoint, RigidBody, World } from "@dimforge/rapier3d-deterministic-compat";
import { tick } from "../cancelling";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { type MutableQuaternion, multiply, type Quaternion, rotate } from "../maths/quaternion";
import type { Vec3 } from "../maths/vector";
import { rapier } from "./physics";

export type Lanes = readonly ArrayLike<number>[];

/** How a piece meets others: about its own middle, in its own units before it is scaled. */
export interface PieceForm {
  readonly form: "ball" | "box" | "hull";
  readonly middle: readonly number[];
  readonly half: readonly number[];
  /** Corners of a hull, x y z of each. */
  readonly corners: Float32Array;
}

/** Where pieces are led until they are let go. */
export interface Goals {
  readonly position: Lanes;
  readonly rotation: Lanes;
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
  readonly goals: Goals;
  /** Above 0.5 for pieces that stay joined to those beside them. */
  readonly holds: ArrayLike<number>;
  /** What they fall against. */
  readonly against: Mesh | null;
  readonly friction: number;
  readonly bounce: number;
}

/** Corners that a hull keeps at most. */
export const MOST_CORNERS = 128;
/** Units that the floor is thick. */
const FLOOR = 2;
/** The least that a piece measures: physics has no flat ones. */
const LEAST = 1e-4;

/** All pieces where they arrive, led. */
export function pieceWorld({ position, rotation }: Goals, settings: PieceSettings): World {
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
  return world;
}

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

/** All bodies of pieces, in their order. */
export function bodiesOf(world: World, count: number): { pieces: RigidBody[]; against: RigidBody } {
  const all: RigidBody[] = [];
  world.forEachRigidBody((body) => all.push(body));
  return { pieces: all.slice(0, count), against: all[count] };
}

/**
 * Moves a world on. False when all in it lies and nothing that comes to it would stir it: it then stays as it is.
 * @param fell 1 for pieces that were let go; those that are let go now are noted in it
 */
export function stepWorld(
  world: World,
  fell: Float32Array,
  settings: StepSettings,
  seconds: number,
): boolean {
  const { pieces, against } = bodiesOf(world, fell.length);
  const { substeps, gravity, goals } = settings;
  const turned = setGravity(world, pieces, gravity);
  const met = setAgainst(world, against, settings);
  const broken = breakJoints(world, pieces, settings.holds);
  let stirred = turned || met || broken;
  for (let i = 0; i < fell.length; i++) {
    tick(4);
    const body = pieces[i];
    if (fell[i] === 0 && settings.free[i] > 0.5) {
      body.setBodyType(rapier().RigidBodyType.Dynamic, true);
      fell[i] = 1;
    }
    if (fell[i] === 1) pushed(body, settings, i);
    stirred ||= !body.isSleeping() || (fell[i] === 0 && !isThere(body, goals, i));
  }
  if (!stirred) return false;
  world.timestep = seconds / substeps;
  for (let s = 0; s < substeps; s++) {
    tick(fell.length * 64);
    const part = 1 / (substeps - s);
    for (let i = 0; i < fell.length; i++) if (fell[i] === 0) led(pieces[i], goals, i, part);
    world.step();
  }
  return true;
}

/** What lies would not notice by itself that it is drawn another way. */
function setGravity(world: World, pieces: readonly RigidBody[], [x, y, z]: readonly number[]): boolean {
  const { x: bx, y: by, z: bz } = world.gravity;
  // What is brought back holds it in single precision.
  if ([bx - x, by - y, bz - z].every((d) => Math.abs(d) < 1e-6)) return false;
  world.gravity = { x, y, z };
  for (const body of pieces) body.wakeUp();
  return true;
}

function pushed(body: RigidBody, { push, drag }: StepSettings, i: number): void {
  body.setLinearDamping(drag);
  body.setAngularDamping(drag);
  body.resetForces(false);
  const mass = body.mass();
  const force = { x: push[0][i] * mass, y: push[1][i] * mass, z: push[2][i] * mass };
  if (force.x !== 0 || force.y !== 0 || force.z !== 0) body.addForce(force, true);
}

/** Whether a piece that is led is where it arrives. A turn is kept at length 1, which may move its last bits. */
function isThere(body: RigidBody, { position, rotation }: Goals, i: number): boolean {
  const [at, turn] = [body.translation(), body.rotation()];
  const same = (a: number, b: number) => Math.abs(a - b) < 1e-6;
  return (
    at.x === position[0][i] &&
    at.y === position[1][i] &&
    at.z === position[2][i] &&
    same(turn.x, rotation[0][i]) &&
    same(turn.y, rotation[1][i]) &&
    same(turn.z, rotation[2][i]) &&
    same(turn.w, rotation[3][i])
  );
}

/** A part of the way to where a piece arrives. */
function led(body: RigidBody, { position, rotation }: Goals, i: number, part: number): void {
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

/** Lets go of joints at pieces that hold no longer. Whether there were any. */
function breakJoints(world: World, pieces: readonly RigidBody[], holds: ArrayLike<number>): boolean {
  if (world.impulseJoints.len() === 0) return false;
  const numbers = new Map(pieces.map((body, i) => [body.handle, i]));
  const broken: ImpulseJoint[] = [];
  world.impulseJoints.forEach((joint) => {
    const ends = [joint.body1(), joint.body2()].map((body) => numbers.get(body.handle) ?? -1);
    if (ends.some((i) => !(holds[i] > 0.5))) broken.push(joint);
  });
  for (const joint of broken) world.removeImpulseJoint(joint, true);
  return broken.length > 0;
}

/** The mesh that each world's pieces fall against. */
const meets = new WeakMap<World, Mesh>();

/** The mesh that pieces fall against, made anew when it is another one than before: whether it is. */
function setAgainst(world: World, body: RigidBody, { against, friction, bounce }: StepSettings): boolean {
  const old = body.numColliders() > 0 ? body.collider(0) : null;
  if (!against) {
    if (old) world.removeCollider(old, true);
    meets.delete(world);
    return old !== null;
  }
  if (meets.get(world) === against) return false;
  meets.set(world, against);
  const [x, y, z] = pointLanes(against);
  const vertices = new Float32Array(x.length * 3);
  for (let p = 0; p < x.length; p++) vertices.set([x[p], y[p], z[p]], p * 3);
  const indices = Uint32Array.from(triangleCorners(against), (corner) => against.cornerPoint[corner]);
  if (old && isSame(old.vertices(), vertices) && isSame(old.indices() ?? [], indices)) return false;
  if (old) world.removeCollider(old, true);
  if (indices.length > 0) {
    const mesh = rapier().ColliderDesc.trimesh(vertices, indices);
    world.createCollider(mesh.setFriction(friction).setRestitution(bounce), body);
  }
  return old !== null || indices.length > 0;
}

const isSame = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};
