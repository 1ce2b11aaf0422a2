import { EMPTY_SHAPE } from "../../../geometry/shape";
import { revolve as revolved } from "../../../surfaces/revolve";
import { defineNode } from "../../define";
import { angle, choice, integer, length, out, shape, toggle } from "../../ports";
import { pathsOf } from "./input-paths";

const AXIS = { x: 0, y: 1, z: 2 } as const;

export const revolve = defineNode({
  type: "revolve",
  family: "form",
  title: "Revolve",
  about: "Turns curves about an axis: vases, bells, rings; with a rise they go round as a screw does.",
  synonyms: ["lathe", "turn", "spin", "rotation surface", "vase", "screw", "pottery"],
  inputs: {
    shape: shape({ about: "Curves beside the axis; their distance from it is the radius." }),
    about: choice(["x", "y", "z"], { label: "axis", default: "y", about: "The axis, through the origin." }),
    start: angle({ default: 0, about: "Where it begins." }),
    turn: angle({ default: 360, soft: [-720, 720], about: "How far round; 360 without a rise closes it." }),
    rise: length({ default: 0, soft: [-5, 5], about: "Along the axis, over the whole turn." }),
    steps: integer({ default: 48, min: 3, max: 10_000, soft: [3, 128], about: "Faces around." }),
    caps: toggle({ default: true, about: "Closes both ends of a part of a turn, where curves are closed." }),
  },
  outputs: { shape: out.shape("The surface; laid out for pictures around and along the curves.") },
  summary: ({ turn, about }) => `${turn}° about ${about}`,
  cost: ({ shape, steps }) => {
    const points = (shape.curves?.points.count ?? 0) * (steps + 1);
    return { points, faces: points, milliseconds: points * 0.001 };
  },
  evaluate({ shape, about, start, turn, rise, steps, caps }, context) {
    const curves = pathsOf(shape, "revolve", context);
    if (!curves) return { shape: EMPTY_SHAPE };
    const mesh = revolved(curves, { axis: AXIS[about], start, turn, rise, steps, caps });
    if (mesh.faces.count > 0) return { shape: { mesh } };
    context.warn("The curves lie on the axis, so they enclose nothing when they are turned.", {
      input: "shape",
    });
    return { shape: EMPTY_SHAPE };
  },
});
