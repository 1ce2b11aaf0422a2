import { tick } from "../../cancelling";
import { makeColumn, withColumns } from "../../geometry/column";
import { makeSites } from "../../geometry/shape";
import { fromAxisAngle, type MutableQuaternion, multiply } from "../../maths/quaternion";
import { cross, type Vec3, X_AXIS, Y_AXIS, Z_AXIS } from "../../maths/vector";
import { defineNode } from "../define";
import { angle, choice, integer, length, number, out } from "../ports";
import { OUTLINES, outlineAt } from "./outline";
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
  about:
    "Sites evenly around a circle, a polygon or a star, in one ring or several, or along an arc with both ends included.",
  synonyms: [
    "circle",
    "radial",
    "around",
    "array",
    "clock",
    "copies",
    "copy",
    "polar",
    "concentric",
    "rings",
  ],
  inputs: {
    count: integer({
      default: 12,
      min: 0,
      soft: [1, 64],
      about: "How many; in the innermost ring, when there are several.",
    }),
    radius: length({ default: 2, soft: [0, 10], about: "From the middle to the sites." }),
    start: angle({ default: 0, about: "Where the first one is." }),
    sweep: angle({ default: 360, about: "How far round; 360 closes the ring." }),
    rise: length({
      default: 0,
      soft: [-4, 4],
      about: "How far they climb along the axis in one whole turn.",
    }),
    rings: integer({ default: 1, min: 1, soft: [1, 12], about: "How many rings, each further out." }),
    gap: length({
      default: 1,
      soft: [0, 4],
      about: "From one ring to the next; unseen while there is one.",
    }),
    further: choice(["as many", "as close"], {
      label: "outer rings",
      about: "What outer rings have: as many sites as the first, or as close ones.",
    }),
    outline: choice(OUTLINES, { about: "What the sites stand around." }),
    sides: integer({
      default: 5,
      min: 3,
      soft: [3, 12],
      shownWhen: { input: "outline", is: ["polygon", "star"] },
      about: "Corners of the polygon, or points of the star.",
    }),
    inner: number({
      default: 0.45,
      soft: [0, 1],
      unit: "×",
      shownWhen: { input: "outline", is: ["star"] },
      about: "How far in the star goes between its points.",
    }),
    around: choice(["y", "x", "z"], { about: "The axis the ring goes round." }),
    outward: choice(OUTWARD, { default: "x", about: "The own axis that points away from the middle." }),
  },
  outputs: {
    sites: out.shape(
      "The sites, in order around, ring by ring; `along` goes round each, `angle` is in degrees.",
    ),
  },
  summary: ({ count, radius }) => `${count} around ${radius} units`,
  cost: ({ count, radius, rings, gap, further }) => {
    // Never by adding up rings: as many may be asked for as there are numbers.
    const growth = further === "as many" ? 0 : Math.abs(gap / (radius || gap || 1));
    return { sites: count * rings * (1 + (growth * (rings - 1)) / 2) };
  },
  evaluate(inputs) {
    const { radius, start, sweep, rise, gap, outline, sides, inner, around, outward } = inputs;
    const { axis, start: first } = AXES[around];
    const second = cross(axis, first);
    const base = outwardRotation(outward, first, axis);
    const closed = Math.abs(Math.abs(sweep) - 2 * Math.PI) < 1e-6 && rise === 0;
    const counts = countsOf(inputs);
    const total = counts.reduce((a, b) => a + b, 0);
    const angles = new Float32Array(total);
    const sites = makeSites(total, ({ position, rotation, along }) => {
      const turned: MutableQuaternion = [0, 0, 0, 1];
      let at = 0;
      counts.forEach((count, ring) => {
        const out = radius + ring * gap;
        const step = sweep / Math.max(1, closed ? count : count - 1);
        for (let i = 0; i < count; i++, at++) {
          tick();
          const angle = start + i * step;
          const [u, v] = outlineAt(outline, sides, inner, angle / (2 * Math.PI));
          const high = rise * ((i * step) / (2 * Math.PI));
          for (let a = 0; a < 3; a++) position[a][at] = (first[a] * u + second[a] * v) * out + axis[a] * high;
          if (outward !== "none") multiply(fromAxisAngle(axis, angle), base, turned);
          for (let l = 0; l < 4; l++) rotation[l][at] = turned[l];
          angles[at] = (angle * 180) / Math.PI;
          along[at] = i / Math.max(1, closed ? count : count - 1);
        }
      });
    });
    return { sites: { sites: withColumns(sites, { angle: makeColumn("number", [angles]) }) } };
  },
});

type RingInputs = { count: number; radius: number; rings: number; gap: number; further: string };

/** Sites of each ring. */
function countsOf({ count, radius, rings, gap, further }: RingInputs): number[] {
  return Array.from({ length: rings }, (_, ring) => {
    if (further === "as many" || ring === 0) return count;
    const times = radius === 0 ? ring + 1 : Math.abs((radius + ring * gap) / radius);
    return Math.round(count * times);
  });
}
