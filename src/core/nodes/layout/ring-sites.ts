import { tick } from "../../cancelling";
import { makeSites } from "../../geometry/shape";
import { fromAxisAngle, type MutableQuaternion, multiply, rotate } from "../../maths/quaternion";
import { type Vec3, X_AXIS, Y_AXIS, Z_AXIS } from "../../maths/vector";
import { defineNode } from "../define";
import { angle, choice, integer, length, out } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";

const AXES: Readonly<Record<"x" | "y" | "z", { axis: Vec3; start: Vec3 }>> = {
  x: { axis: X_AXIS, start: Y_AXIS },
  y: { axis: Y_AXIS, start: X_AXIS },
  z: { axis: Z_AXIS, start: X_AXIS },
};

export const ringSites = defineNode({
  type: "ring-sites",
  family: "layout",
  title: "Ring sites",
  about: "Sites evenly around a circle, or along an arc with both ends included.",
  synonyms: ["circle", "radial", "around", "array", "clock", "copies", "copy", "polar"],
  inputs: {
    count: integer({ default: 12, min: 0, soft: [1, 64], about: "How many." }),
    radius: length({ default: 2, soft: [0, 10], about: "From the middle to the sites." }),
    start: angle({ default: 0, about: "Where the first one is." }),
    sweep: angle({ default: 360, about: "How far round; 360 closes the ring." }),
    around: choice(["y", "x", "z"], { about: "The axis the ring goes round." }),
    outward: choice(OUTWARD, { default: "x", about: "The own axis that points away from the middle." }),
  },
  outputs: { sites: out.shape("The sites, in order around.") },
  summary: ({ count, radius }) => `${count} around ${radius} units`,
  cost: ({ count }) => ({ sites: count }),
  evaluate({ count, radius, start, sweep, around, outward }) {
    const { axis, start: first } = AXES[around];
    const base = outwardRotation(outward, first, axis);
    const closed = Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-6;
    const step = sweep / Math.max(1, closed ? count : count - 1);
    const sites = makeSites(count, ({ position, rotation, along }) => {
      const turned: MutableQuaternion = [0, 0, 0, 1];
      for (let i = 0; i < count; i++) {
        tick();
        const turn = fromAxisAngle(axis, start + i * step);
        const at = rotate(turn, first);
        for (let a = 0; a < 3; a++) position[a][i] = at[a] * radius;
        if (outward !== "none") multiply(turn, base, turned);
        for (let l = 0; l < 4; l++) rotation[l][i] = turned[l];
        if (closed) along[i] = i / count;
      }
    });
    return { sites: { sites } };
  },
});
