import { tick } from "../../cancelling";
import { linesBetween } from "../../curves/lines-between";
import { makeColumn, withColumns } from "../../geometry/column";
import { placesOf } from "../../geometry/domains";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { facesBetween } from "../../meshes/linked-faces";
import { PointGrid } from "../../spatial/point-grid";
import { reachOf } from "../../spatial/reach";
import { roundSection } from "../../surfaces/section";
import { sweep } from "../../surfaces/sweep";
import { defineNode } from "../define";
import { choice, integer, length, out, shape, toggle } from "../ports";

export const linkNearby = defineNode({
  type: "link-nearby",
  family: "form",
  title: "Link nearby",
  about: "Lines or tubes between sites that are near to each other.",
  synonyms: ["connect", "network", "web", "lines", "neighbours", "edges", "mycelium"],
  inputs: {
    shape: shape({ about: "Sites or clones; without those, points." }),
    reach: length({ default: 0.8, min: 0, soft: [0, 4], about: "Only those no further apart are linked." }),
    most: integer({
      default: 4,
      min: 1,
      max: 64,
      soft: [1, 12],
      about: "From each to so many of its nearest; others may link to it besides.",
    }),
    as: choice(["lines", "tubes", "surfaces"], {
      about: "Bare lines, tubes with a skin, or a face between each three that are linked with each other.",
    }),
    radius: length({
      default: 0.02,
      min: 0,
      soft: [0, 0.2],
      shownWhen: { input: "as", is: ["tubes"] },
      about: "From the middle of a tube to its skin.",
    }),
    fade: toggle({
      default: true,
      shownWhen: { input: "as", is: ["tubes"] },
      about: "The further apart two are, the thinner is what links them; nothing is left at the limit.",
    }),
  },
  outputs: {
    curves: out.shape(
      "A line or tube for each pair, or a face for each three; on the points of lines and on faces `closeness` is 1 for those on one place, 0 for those at the limit.",
    ),
  },
  summary: ({ reach, most }) => `up to ${most} within ${reach} units`,
  cost: ({ shape, most, as }) => {
    const links = (placesOf(shape)?.count ?? 0) * most;
    if (as === "surfaces") return { faces: links * most };
    return as === "tubes" ? { points: links * 2 * SIDES, faces: links * SIDES } : { points: links * 2 };
  },
  evaluate({ shape, reach, most, as, radius, fade }, context) {
    const among = placesOf(shape);
    if (!among || among.count < 2) {
      context.warn("Fewer than two sites arrive, so there is nothing to link.", { input: "shape" });
      return { curves: EMPTY_SHAPE };
    }
    const place = among.columns.position.lanes as Float32Array[];
    const k = Math.min(most, among.count - 1);
    const { numbers, distances } = new PointGrid(place).nearest(place, {
      k,
      own: true,
      most: reachOf(reach, place),
    });
    const pairs: number[] = [];
    const closeness: number[] = [];
    for (let i = 0; i < among.count; i++) {
      tick(k);
      for (let s = 0; s < k; s++) {
        const j = numbers[i * k + s];
        if (j < 0) break;
        // A pair that names each other is one line.
        if (j < i && numbers.subarray(j * k, j * k + k).includes(i)) continue;
        pairs.push(i, j);
        closeness.push(reach > 0 ? Math.max(0, 1 - distances[i * k + s] / reach) : 1);
      }
    }
    if (pairs.length === 0) {
      context.warn("No two are as near as that, so nothing is linked.", { input: "reach" });
      return { curves: EMPTY_SHAPE };
    }
    if (as === "surfaces") {
      const mesh = facesBetween(among, pairs, closeness, closeness);
      if (!mesh)
        context.warn("No three are linked with each other, so there are no faces.", { input: "most" });
      return { curves: mesh ? { mesh } : EMPTY_SHAPE };
    }
    const curves = linesBetween(among, pairs);
    const points = withColumns(curves.points, {
      closeness: makeColumn("number", [Float32Array.from(pairs, (_, e) => closeness[e >> 1])]),
    });
    const linked = { ...curves, points };
    if (as === "lines") return { curves: { curves: linked } };
    const thick = Float32Array.from(pairs, (_, e) => (fade ? radius * closeness[e >> 1] : radius));
    const mesh = sweep(linked, { sections: [roundSection(SIDES)], size: thick, caps: true });
    return { curves: mesh ? { mesh } : EMPTY_SHAPE };
  },
});

/** Faces around a tube: there are many, and they are thin. */
const SIDES = 6;
