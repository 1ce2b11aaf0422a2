import { tick } from "../../cancelling";
import { makeSites } from "../../geometry/shape";
import { cosine, sine } from "../../maths/exact";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, integer, length, out } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";

/** π(3 − √5) radians, 137.5077…° (H. Vogel, 1979). */
const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

export const spiralSites = defineNode({
  type: "spiral-sites",
  family: "layout",
  title: "Spiral sites",
  about: "Sites turned by the golden angle from one to the next, as seeds grow: on a disc, a dome or a ball.",
  synonyms: ["sunflower", "golden angle", "phyllotaxis", "seeds", "fibonacci", "copies"],
  inputs: {
    count: integer({ default: 500, min: 0, soft: [1, 5000], about: "How many." }),
    on: choice(["disc", "dome", "ball"], {
      about: "The surface they are spread on, with equal area for each.",
    }),
    radius: length({ default: 2, soft: [0, 10], about: "Of the disc or ball." }),
    rise: length({
      default: 1,
      soft: [-4, 4],
      shownWhen: { input: "on", is: ["dome"] },
      about: "How far the middle stands above the edge.",
    }),
    outward: choice(OUTWARD, { default: "y", about: "The own axis that points off the surface." }),
  },
  outputs: { sites: out.shape("The sites, from the middle (or top) outwards.") },
  summary: ({ count, on }) => `${count} by the golden angle, on a ${on}`,
  cost: ({ count }) => ({ sites: count }),
  evaluate({ count, on, radius, rise, outward }) {
    const sites = makeSites(count, ({ position: [x, y, z], rotation }) => {
      for (let i = 0; i < count; i++) {
        tick();
        // Half a step in, so that every site stands for an equal area (Vogel; González for the ball).
        const share = (i + 0.5) / count;
        const angle = (i * GOLDEN_ANGLE) % (2 * Math.PI);
        const height = on === "ball" ? 1 - 2 * share : 0;
        const ring = on === "ball" ? Math.sqrt(1 - height * height) : Math.sqrt(share);
        const dx = ring * cosine(angle);
        const dz = -ring * sine(angle);
        x[i] = dx * radius;
        z[i] = dz * radius;
        y[i] = on === "ball" ? height * radius : on === "dome" ? rise * (1 - share) : 0;
        const off = offSurface(on, dx, height, dz, radius, rise);
        const q = outwardRotation(outward, off, [0, 0, 1]);
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      }
    });
    return { sites: { sites } };
  },
});

/** Direction off the surface; the dome is the paraboloid y = rise (1 − r²/radius²). */
function offSurface(on: string, dx: number, height: number, dz: number, radius: number, rise: number): Vec3 {
  if (on === "ball") return [dx, height, dz];
  if (on === "disc" || radius === 0) return [0, 1, 0];
  const slope = (2 * rise) / radius;
  return [dx * slope, 1, dz * slope];
}
