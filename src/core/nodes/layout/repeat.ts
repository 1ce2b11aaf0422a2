import { tick } from "../../cancelling";
import { shapeBounds } from "../../geometry/bounds";
import { mergeShapes } from "../../geometry/merge";
import { isFilled, type Shape, timesTally } from "../../geometry/shape";
import { isColored, shiftColors } from "../../geometry/shift-colors";
import { mirroredTurn, mirrorOf, type Placement, transformShape } from "../../geometry/transform";
import { fromEuler, type MutableQuaternion, multiply, RADIANS, rotate } from "../../maths/quaternion";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { angle, choice, integer, number, out, shape, vector } from "../ports";

const LEVELS = ["one", "two", "three"] as const;
const TWO = { input: "levels", is: ["two", "three"] };
const THREE = { input: "levels", is: ["three"] };

export const repeat = defineNode({
  type: "repeat",
  family: "layout",
  title: "Repeat",
  about:
    "Copies of a whole layout or shape, each a step further than the one before; rows of them, and layers of rows.",
  synonyms: ["array", "stack", "steps", "copies", "duplicate", "stairs", "rows and columns"],
  inputs: {
    shape: shape({ about: "What is repeated." }),
    count: integer({ default: 3, min: 0, soft: [1, 24], about: "How many in all, or in a row." }),
    step: vector({
      default: [2, 0, 0],
      soft: [-10, 10],
      about: "From one copy to the next, in the frame of the one before.",
    }),
    turn: vector({
      default: [0, 0, 0],
      soft: [-90, 90],
      unit: "°",
      about: "Turn from one copy to the next, about X, Y and Z.",
    }),
    counted: choice(["units", "its own size"], {
      label: "steps in",
      about: "Whether steps are in units, or in sizes of what is repeated: 0 1 0 stacks it.",
    }),
    scale: vector({ default: [1, 1, 1], soft: [0, 2], unit: "×", about: "Size from one copy to the next." }),
    hue: angle({ default: 0, soft: [-90, 90], about: "How far the colour turns from one copy to the next." }),
    lightness: number({
      default: 0,
      soft: [-0.2, 0.2],
      about: "How much lighter the next copy is; 1 is the way from black to white.",
    }),
    levels: choice(LEVELS, { about: "Copies; rows of copies; layers of rows." }),
    rows: integer({ default: 3, min: 0, soft: [1, 24], shownWhen: TWO, about: "How many rows." }),
    rowStep: vector({
      default: [0, 0, 2],
      soft: [-10, 10],
      shownWhen: TWO,
      about: "From one row to the next, in units, or in sizes of a row.",
    }),
    rowTurn: vector({
      default: [0, 0, 0],
      soft: [-90, 90],
      unit: "°",
      shownWhen: TWO,
      about: "Turn from row to row.",
    }),
    layers: integer({
      default: 3,
      min: 0,
      soft: [1, 24],
      shownWhen: THREE,
      about: "How many layers of rows.",
    }),
    layerStep: vector({
      default: [0, 2, 0],
      soft: [-10, 10],
      shownWhen: THREE,
      about: "From one layer to the next, in units, or in sizes of a layer.",
    }),
    layerTurn: vector({
      default: [0, 0, 0],
      soft: [-90, 90],
      unit: "°",
      shownWhen: THREE,
      about: "Turn from layer to layer.",
    }),
  },
  outputs: { shape: out.shape("All copies as one.") },
  summary: ({ count, levels, rows, layers }) =>
    levels === "one"
      ? `${count} in all`
      : levels === "two"
        ? `${count} × ${rows}`
        : `${count} × ${rows} × ${layers}`,
  cost: ({ shape, count, levels, rows, layers }) =>
    timesTally([shape], count * (levels === "one" ? 1 : rows) * (levels === "three" ? layers : 1)),
  evaluate(inputs, context) {
    const { count, step, turn, scale, hue, lightness, counted, levels } = inputs;
    if (!isFilled(inputs.shape))
      context.warn("Nothing arrives, so there is nothing to repeat.", { input: "shape" });
    if ((hue !== 0 || lightness !== 0) && isFilled(inputs.shape) && !isColored(inputs.shape))
      context.warn("What is repeated has no colour of its own yet; Tint it before.", {
        input: hue !== 0 ? "hue" : "lightness",
      });
    const sized = counted === "its own size";
    const row = stepped(inputs.shape, { count, step, turn, scale, hue, lightness, sized });
    if (levels === "one") return { shape: row };
    const layer = stepped(row, { count: inputs.rows, step: inputs.rowStep, turn: inputs.rowTurn, sized });
    if (levels === "two") return { shape: layer };
    const { layers, layerStep, layerTurn } = inputs;
    return { shape: stepped(layer, { count: layers, step: layerStep, turn: layerTurn, sized }) };
  },
});

interface Steps {
  readonly count: number;
  readonly step: Vec3;
  /** Degrees. */
  readonly turn: Vec3;
  readonly scale?: Vec3;
  /** Radians. */
  readonly hue?: number;
  readonly lightness?: number;
  /** Whether the step is in sizes of the shape. */
  readonly sized: boolean;
}

/** Copies of a shape, each placed in the frame of the one before. */
function stepped(
  shape: Shape,
  { count, step, turn, scale = [1, 1, 1], hue = 0, lightness = 0, sized }: Steps,
): Shape {
  const one = fromEuler(turn[0] * RADIANS, turn[1] * RADIANS, turn[2] * RADIANS, [0, 0, 0, 1]);
  const bounds = sized ? shapeBounds(shape) : null;
  const ahead = step.map((s, a) => s * (bounds ? bounds.max[a] - bounds.min[a] : 1));
  const copies: Shape[] = [];
  let at: Placement = { move: [0, 0, 0], turn: [0, 0, 0, 1], scale: [1, 1, 1] };
  for (let i = 0; i < count; i++) {
    tick();
    const copy = i === 0 ? shape : transformShape(shape, at);
    const plain = i === 0 || (hue === 0 && lightness === 0);
    copies.push(plain ? copy : shiftColors(copy, { turn: hue * i, lighter: lightness * i }));
    const next: MutableQuaternion = [0, 0, 0, 1];
    const further = rotate(at.turn, ahead.map((s, a) => s * at.scale[a]) as unknown as Vec3);
    at = {
      move: [at.move[0] + further[0], at.move[1] + further[1], at.move[2] + further[2]],
      // What is mirrored turns the other way.
      turn: multiply(at.turn, mirroredTurn(one, mirrorOf(at.scale)), next),
      scale: [at.scale[0] * scale[0], at.scale[1] * scale[1], at.scale[2] * scale[2]],
    };
  }
  return mergeShapes(copies);
}
