import { tick } from "../../cancelling";
import { makeSites } from "../../geometry/shape";
import { cosine, lengthOf, power, sine } from "../../maths/exact";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, integer, length, number, out } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";

/** π(3 − √5) radians, 137.5077…° (H. Vogel, 1979). */
const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

const SURFACES = ["disc", "dome", "ball", "cone", "cylinder"] as const;
type Surface = (typeof SURFACES)[number];

export const spiralSites = defineNode({
  type: "spiral-sites",
  family: "layout",
  title: "Spiral sites",
  about:
    "Sites turned by the golden angle from one to the next, as seeds grow, or along one line that winds outwards.",
  synonyms: ["sunflower", "golden angle", "phyllotaxis", "seeds", "fibonacci", "snail", "copies"],
  inputs: {
    count: integer({ default: 500, min: 0, soft: [1, 5000], about: "How many." }),
    winds: choice(["by the golden angle", "in even turns", "in growing turns"], {
      label: "winding",
      about: "Turned by 137.5° each; or at equal steps along an Archimedean or a logarithmic spiral.",
    }),
    on: choice(SURFACES, {
      about: "The surface they are spread on; by the golden angle with equal area for each.",
    }),
    radius: length({ default: 2, soft: [0, 10], about: "Of the disc, ball, cone's foot or cylinder." }),
    rise: length({
      default: 1,
      soft: [-4, 4],
      shownWhen: { input: "on", is: ["dome", "cone", "cylinder"] },
      about: "How far the middle stands above the edge, or how high the cylinder is.",
    }),
    turns: number({
      default: 6,
      soft: [0, 20],
      shownWhen: { input: "winds", is: ["in even turns", "in growing turns"] },
      about: "How often the line goes round.",
    }),
    growth: number({
      default: 1.6,
      min: 1.001,
      soft: [1.01, 3],
      unit: "×",
      shownWhen: { input: "winds", is: ["in growing turns"] },
      about: "How many times wider each turn is than the one before.",
    }),
    outward: choice(OUTWARD, { default: "y", about: "The own axis that points off the surface." }),
  },
  outputs: { sites: out.shape("The sites, from the middle (or top) outwards.") },
  summary: ({ count, winds, on }) => `${count} ${winds}, on a ${on}`,
  cost: ({ count }) => ({ sites: count }),
  evaluate({ count, winds, on, radius, rise, turns, growth, outward }) {
    const walk = winds === "by the golden angle" ? null : evenWalk(count, winds, turns, growth);
    const sites = makeSites(count, ({ position: [x, y, z], rotation }) => {
      for (let i = 0; i < count; i++) {
        tick();
        // Half a step in, so that every site stands for an equal area (Vogel; González for the ball).
        const share = (i + 0.5) / count;
        const angle = walk ? walk.angle[i] : (i * GOLDEN_ANGLE) % (2 * Math.PI);
        const { ring, height } = surfaceAt(on, walk ? areaOf(on, walk.out[i]) : share);
        const dx = ring * cosine(angle);
        const dz = -ring * sine(angle);
        x[i] = dx * radius;
        z[i] = dz * radius;
        y[i] = height * (on === "ball" ? radius : rise);
        const q = outwardRotation(outward, offSurface(on, dx, height, dz, radius, rise), [0, 0, 1]);
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      }
    });
    return { sites: { sites } };
  },
});

/** Distance from the axis, as a part of the radius, and height, where `share` of the surface lies inside or above. */
function surfaceAt(on: Surface, share: number): { ring: number; height: number } {
  switch (on) {
    case "ball": {
      const height = 1 - 2 * share;
      return { ring: Math.sqrt(Math.max(0, 1 - height * height)), height };
    }
    case "disc":
      return { ring: Math.sqrt(share), height: 0 };
    case "dome":
      return { ring: Math.sqrt(share), height: 1 - share };
    case "cone":
      return { ring: Math.sqrt(share), height: 1 - Math.sqrt(share) };
    case "cylinder":
      return { ring: 1, height: 1 - share };
  }
}

/** The share of the surface at which a line has come so far out, from 0 at the middle or top to 1. */
const areaOf = (on: Surface, out: number): number => (on === "ball" || on === "cylinder" ? out : out * out);

/** Pieces in which a line is measured, for each site. */
const PIECES = 16;

/** Equal steps along a flat spiral from the middle to radius 1. */
function evenWalk(count: number, winds: string, turns: number, growth: number) {
  const whole = turns * 2 * Math.PI;
  // r = s, or what is left when every turn was `growth` times as wide.
  const outAt = (s: number) => (winds === "in even turns" ? s : power(growth, turns * (s - 1)));
  const steps = Math.max(256, count * PIECES);
  const length = new Float64Array(steps + 1);
  let before: Vec3 = [outAt(0), 0, 0];
  for (let k = 1; k <= steps; k++) {
    tick();
    const s = k / steps;
    const now: Vec3 = [outAt(s) * cosine(s * whole), 0, outAt(s) * sine(s * whole)];
    length[k] = length[k - 1] + lengthOf(now[0] - before[0], 0, now[2] - before[2]);
    before = now;
  }
  const out = new Float64Array(count);
  const angle = new Float64Array(count);
  let k = 0;
  for (let i = 0; i < count; i++) {
    const wanted = (length[steps] * i) / Math.max(1, count - 1);
    while (k + 1 < steps && length[k + 1] < wanted) k++;
    const span = length[k + 1] - length[k];
    const s = (k + (span > 0 ? (wanted - length[k]) / span : 0)) / steps;
    out[i] = outAt(s);
    angle[i] = s * whole;
  }
  return { out, angle };
}

/** Direction off the surface; the dome is the paraboloid y = rise (1 − r²/radius²). */
function offSurface(on: Surface, dx: number, height: number, dz: number, radius: number, rise: number): Vec3 {
  if (on === "ball") return [dx, height, dz];
  if (on === "cylinder") return [dx, 0, dz];
  if (on === "disc" || radius === 0) return [0, 1, 0];
  // A cone is as steep everywhere; at its very top it looks up.
  const out = lengthOf(dx, 0, dz);
  const slope = on === "dome" ? (2 * rise) / radius : out > 0 ? rise / radius / out : 0;
  return [dx * slope, 1, dz * slope];
}
