import {
  apply,
  applyAll,
  column,
  constant,
  dotProduct,
  positionField,
  scaleBy,
  subtract,
  type Value,
  type VectorField,
  vectorLength,
} from "../../../fields/expression";
import { freshKey } from "../../../fields/fresh-key";
import { direction, either, evenly, isLess, less, not, sum, timesEach } from "../../../fields/vector-fields";
import type { Mesh } from "../../../geometry/mesh";
import type { Shape } from "../../../geometry/shape";
import { floatsInMemory } from "../../../kernels/arena";
import { normalise, type Vec3 } from "../../../maths/vector";
import { limiting, SECONDS, WAS } from "../../../particles/forces";
import { LazyInside } from "../../../spatial/inside";
import { defineNode, type NodeContext } from "../../define";
import type { Carried } from "../../drive/found-attribute";
import { choice, field, length, out, shape, vector } from "../../ports";
import { closestOn, surfaceTableOf } from "../../surface-queries";
import { contact, type Touching } from "./contact";

const WITH = ["the ground", "a ball", "a box", "a mesh"] as const;
const TOUCHES = ["it bounces", "it sticks", "it ends"] as const;

export const collide = defineNode({
  type: "collide",
  family: "simulate",
  title: "Collide",
  about:
    "Particles bounce off, slide along, stick to or end at a ground, a ball, a box or a mesh, or are kept within it.",
  synonyms: [
    "bounce",
    "collision",
    "floor",
    "wall",
    "obstacle",
    "container",
    "keep inside",
    "land on",
    "stick to",
    "friction",
  ],
  inputs: {
    with: choice(WITH, { about: "What is in the way." }),
    shape: shape({
      shownWhen: { input: "with", is: ["a mesh"] },
      about:
        "A mesh; where it moves it takes along and throws what it hits. Kept inside or outside needs a closed one.",
    }),
    side: choice(["outside", "inside"], {
      shownWhen: { input: "with", is: ["a ball", "a box", "a mesh"] },
      about: "Which side they are kept on.",
    }),
    place: vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      handle: "place",
      shownWhen: { input: "with", is: ["the ground", "a ball", "a box"] },
      about: "A place on the ground, or the middle.",
    }),
    up: vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      unit: "",
      shownWhen: { input: "with", is: ["the ground"] },
      about: "Which way the ground looks.",
    }),
    radius: length({
      default: 1,
      min: 0,
      soft: [0, 5],
      shownWhen: { input: "with", is: ["a ball"] },
      about: "Of the ball.",
    }),
    size: vector({
      default: [2, 2, 2],
      min: 0,
      soft: [0, 10],
      shownWhen: { input: "with", is: ["a box"] },
      about: "Of the box, from side to side.",
    }),
    touch: choice(TOUCHES, { about: "What becomes of what touches it." }),
    bounce: field.number({
      default: 0.4,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "touch", is: ["it bounces"] },
      about: "What part of the speed against it comes back.",
    }),
    friction: field.number({
      default: 0.1,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "touch", is: ["it bounces"] },
      about: "What part of the speed along it is lost at each touch.",
    }),
    thickness: length({
      default: 0.02,
      min: 0,
      soft: [0, 0.5],
      about: "How far from it they are held: their own radius.",
    }),
  },
  otherFrames: true,
  outputs: { force: out.force("For Particles, after what moves them.") },
  summary: (set) => `${set.with}: ${set.touch}`,
  evaluate(inputs, context) {
    const touching = touchingOf(inputs, context);
    if (!touching) {
      context.warn("No mesh arrives, so nothing is in the way.", { input: "shape" });
      return { force: limiting("Collide", {}) };
    }
    const { thickness, bounce, friction, touch } = inputs;
    return {
      force: contact("Collide", touching, {
        thickness,
        bounce,
        friction,
        sticks: touch === "it sticks",
        ends: touch === "it ends",
      }),
    };
  },
});

interface Way {
  readonly with: (typeof WITH)[number];
  readonly side: "outside" | "inside";
  readonly shape: Shape;
  readonly place: Vec3;
  readonly up: Vec3;
  readonly radius: number;
  readonly size: Vec3;
  readonly thickness: number;
}

function touchingOf(way: Way, context: NodeContext): Touching | null {
  const { place, side } = way;
  const from = less(positionField(), evenly(place));
  switch (way.with) {
    case "the ground": {
      const normal = evenly(normalise(way.up));
      return { signed: dotProduct(from, normal), normal };
    }
    case "a ball": {
      const away = subtract(vectorLength(from), constant(way.radius));
      return facing(side, away, direction(from));
    }
    case "a box":
      return box(from, way.size, side);
    default:
      return mesh(way, context);
  }
}

const minus = (value: Value): Value => subtract(constant(0), value);

const facing = (side: Way["side"], away: Value, normal: VectorField): Touching =>
  side === "outside"
    ? { signed: away, normal }
    : { signed: minus(away), normal: normal.map(minus) as unknown as VectorField };

/** To the nearest side within; without, to the nearest place on it (I. Quilez's distance to a box, from memory). */
function box(from: VectorField, size: Vec3, side: Way["side"]): Touching {
  const beyond = from.map((p, a) => subtract(apply("absolute", [p]), constant(size[a] / 2)));
  const most = beyond.reduce((a, b) => apply("maximum", [a, b]));
  const out = beyond.map((v) => apply("maximum", [v, constant(0)])) as unknown as VectorField;
  const outside = vectorLength(out);
  const isOut = isLess(constant(0), most);
  const signs = from.map((p) => apply("sign", [p]));
  const corner = direction(out.map((v, a) => scaleBy(v, signs[a])) as unknown as VectorField);
  const nearest = beyond.map((v, a) => scaleBy(not(isLess(v, most)), signs[a])) as unknown as VectorField;
  return facing(side, apply("select", [most, outside, isOut]), either(nearest, corner, isOut));
}

function mesh({ shape, side, thickness }: Way, context: NodeContext): Touching | null {
  const wall = shape.mesh;
  const table = surfaceTableOf(wall, context);
  if (!wall || !table) return null;
  const from = positionField();
  const movement = movementOf(wall, context);
  const reach = thickness + (movement?.furthest ?? 0);
  const moves =
    movement && (closestOn(table, from, movement.carried, reach).slice(5, 8) as unknown as VectorField);
  const step = column(SECONDS, 0);
  // What is fast may be through a thin wall between two steps; where the wall moves, it is how it came as the wall sees it.
  const before: VectorField = [column(WAS, 0), column(WAS, 1), column(WAS, 2)];
  const was = moves ? sum(before, timesEach(moves, step)) : before;
  const data = { key: freshKey(), surface: table.address, thickness: reach, lanes: table.lanes };
  const [distance, cx, cy, cz, is, hx, hy, hz, ...looks] = applyAll("touch", [...from, ...was], data);
  const within = apply("within", from, { key: freshKey(), inside: new LazyInside(wall) });
  const sign = subtract(constant(1), scaleBy(within, constant(2)));
  const away = direction(less(from, [cx, cy, cz]));
  const normal = looks.slice(0, 3) as unknown as VectorField;
  const towards = apply("sign", [dotProduct(normal, less(from, was))]);
  return {
    ...facing(side, scaleBy(distance, sign), timesEach(away, sign)),
    through: { is, place: [hx, hy, hz], normal: timesEach(normal, minus(towards)) },
    ...(moves ? { moves } : {}),
  };
}

/** How its points move, units a second, and how far the furthest goes in a frame; null where the mesh is the one of the frame before. */
function movementOf(
  wall: Mesh,
  context: NodeContext,
): { readonly carried: Carried; readonly furthest: number } | null {
  if (context.isStill()) return null;
  const { frame, framesPerSecond } = context.time;
  const now = wall.points.columns.position.lanes;
  const lanes = context.at<{ shape: Shape }, Float32Array[] | null>(frame - 1, ({ shape: { mesh } }) => {
    if (mesh?.points.count !== wall.points.count || mesh.faces.count !== wall.faces.count) return null;
    return mesh.points.columns.position.lanes.map((then, a) => {
      const lane = floatsInMemory(then.length);
      for (let i = 0; i < lane.length; i++) lane[i] = (now[a][i] - then[i]) * framesPerSecond;
      return lane;
    });
  });
  if (!lanes) return null;
  let square = 0;
  for (let i = 0; i < wall.points.count; i++)
    square = Math.max(square, lanes[0][i] ** 2 + lanes[1][i] ** 2 + lanes[2][i] ** 2);
  if (!(square > 0)) return null;
  return {
    carried: { lanes, kind: "vector", byCorner: false },
    furthest: Math.sqrt(square) / framesPerSecond,
  };
}
