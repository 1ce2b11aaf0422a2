import { AlongCurves } from "../../../curves/along-curves";
import { samplesBetween } from "../../../curves/even-samples";
import { type Sample, sampledCurves } from "../../../curves/sampled-curves";
import { type Curves, isClosedCurve } from "../../../geometry/curves";
import { arcCosine } from "../../../maths/exact";
import { dot, normalise, type Vec3 } from "../../../maths/vector";
import { defineNode } from "../../define";
import { angle, choice, integer, length, out, shape } from "../../ports";

export const resample = defineNode({
  type: "resample",
  family: "form",
  title: "Resample",
  about: "Points of curves evenly anew: so many for each, or one every so far; corners stay if wanted.",
  synonyms: [
    "even points",
    "spacing",
    "subdivide curve",
    "redistribute",
    "point count",
    "equal counts",
    "resolution",
  ],
  inputs: {
    shape: shape({ about: "Curves." }),
    by: choice(["count", "spacing"], { about: "Given how many points, or how far apart about." }),
    count: integer({
      default: 32,
      min: 2,
      soft: [2, 200],
      shownWhen: { input: "by", is: ["count"] },
      about: "For each curve, the ends of an open one included: all have as many.",
    }),
    spacing: length({
      default: 0.1,
      min: 0,
      soft: [0.01, 1],
      shownWhen: { input: "by", is: ["spacing"] },
      about: "From one to the next, as near as whole numbers of them allow.",
    }),
    corners: choice(["are evened too", "stay"], { about: "Corners, where a curve turns at one point." }),
    sharp: angle({
      default: 30,
      min: 0,
      max: 180,
      soft: [5, 90],
      shownWhen: { input: "corners", is: ["stay"] },
      about: "From which turn on a point is a corner.",
    }),
  },
  outputs: { shape: out.shape("The curves with other points; what points have is mixed.") },
  summary: ({ by, count, spacing }) => (by === "count" ? `${count} a curve` : `one every ${spacing} units`),
  cost: ({ shape, by, count, spacing }) => {
    if (!shape.curves) return {};
    const { lengths } = new AlongCurves(shape.curves);
    return {
      points: by === "count" ? count * lengths.length : lengths.reduce((sum, l) => sum + l / spacing + 1, 0),
    };
  },
  evaluate({ shape, by, count, spacing, corners, sharp }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to sample.", { input: "shape" });
      return { shape };
    }
    const along = new AlongCurves(curves);
    const made = Array.from(along.lengths, (whole, k) => {
      const closed = along.isRound(k);
      // An open curve has a point more than pieces.
      const wanted = by === "count" ? count - (closed ? 0 : 1) : spacing > 0 ? whole / spacing : 1;
      const stays = corners === "stay" ? cornersOf(curves, along, k, sharp) : [];
      return {
        of: k,
        closed: isClosedCurve(curves, k),
        samples: evenly(along, k, Math.max(1, Math.round(wanted)), stays, closed),
      };
    });
    return { shape: { ...shape, curves: sampledCurves(curves, made) } };
  },
});

/** So many pieces of equal length between places that stay; more pieces where there are more places. */
function evenly(
  along: AlongCurves,
  k: number,
  pieces: number,
  stays: readonly number[],
  closed: boolean,
): Sample[] {
  const marks = closed
    ? stays.length > 0
      ? [...stays, stays[0] + 1]
      : [0, 1]
    : [0, ...stays.filter((part) => part > 0 && part < 1), 1];
  return samplesBetween(along, k, pieces, marks, closed);
}

/** Where a curve turns by at least so much, as parts of its length, ascending. */
function cornersOf({ points, curveStarts }: Curves, along: AlongCurves, k: number, sharp: number): number[] {
  const lanes = points.columns.position.lanes;
  const first = curveStarts[k];
  const count = curveStarts[k + 1] - first;
  const place = (i: number): Vec3 => {
    const p = first + ((i + count) % count);
    return [lanes[0][p], lanes[1][p], lanes[2][p]];
  };
  const way = (from: number, to: number): Vec3 => {
    const [a, b] = [place(from), place(to)];
    return normalise([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
  };
  const isEnd = (i: number) => !along.isRound(k) && (i === 0 || i === count - 1);
  return along
    .partsOfPoints(k)
    .filter((_, i) => !isEnd(i) && arcCosine(clipped(dot(way(i - 1, i), way(i, i + 1)))) >= sharp);
}

const clipped = (v: number): number => Math.min(1, Math.max(-1, v));
