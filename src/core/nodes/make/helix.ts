import { makeCurve } from "../../geometry/curves";
import { cosine, sine } from "../../maths/exact";
import { defineNode } from "../define";
import { integer, length, number, out } from "../ports";

export const helix = defineNode({
  type: "helix",
  family: "make",
  title: "Helix",
  about: "A curve that winds upwards, straight or tapering.",
  synonyms: ["curve", "coil", "spring", "screw", "spiral", "tendril", "winding"],
  inputs: {
    radius: length({ default: 1, min: 0, soft: [0, 5], about: "From the axis at the bottom." }),
    topRadius: length({ default: 1, min: 0, soft: [0, 5], about: "From the axis at the top." }),
    height: length({ default: 3, soft: [-10, 10], about: "From the bottom to the top." }),
    turns: number({ default: 4, soft: [-12, 12], about: "Times round; below 0 it winds the other way." }),
    points: integer({ default: 48, min: 3, soft: [8, 128], about: "How many in one turn." }),
  },
  outputs: { shape: out.shape("The helix as a curve, standing on the ground.") },
  summary: ({ turns, height }) => `${turns} turns, ${height} units high`,
  cost: ({ turns, points }) => ({ points: helixPoints(turns, points) }),
  evaluate({ radius, topRadius, height, turns, points }) {
    const count = helixPoints(turns, points);
    return {
      shape: {
        curves: makeCurve(count, false, (i) => {
          const t = i / (count - 1);
          const r = radius + t * (topRadius - radius);
          const turned = 2 * Math.PI * turns * t;
          return [r * cosine(turned), height * t, -r * sine(turned)];
        }),
      },
    };
  },
});

const helixPoints = (turns: number, points: number): number =>
  Math.max(2, Math.ceil(Math.abs(turns) * points) + 1);
