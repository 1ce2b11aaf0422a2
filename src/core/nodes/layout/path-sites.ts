import { tick } from "../../cancelling";
import { AlongCurves } from "../../curves/along-curves";
import { makeColumn, withColumns } from "../../geometry/column";
import { type Curves, curveLengths, curveTangents, isClosedCurve } from "../../geometry/curves";
import { steadyNormals, tilted } from "../../geometry/frames";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { fromAxisAngle, type MutableQuaternion, multiply, pointing } from "../../maths/quaternion";
import { normalise, type Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { angle, choice, integer, length, number, out, shape, vector } from "../ports";

const AXES = ["z", "x", "y"] as const;

export const pathSites = defineNode({
  type: "path-sites",
  family: "layout",
  title: "Path sites",
  about: "Sites along curves: so many, or one every so far, that point along them and do not twist.",
  synonyms: ["along a curve", "spline", "follow", "rail", "rope", "distribute", "copies", "array"],
  inputs: {
    shape: shape({ about: "Curves." }),
    by: choice(["count", "spacing", "spacing, both ends"], {
      about:
        "Given how many for each curve, or how far apart; with both ends the spacing gives way a little.",
    }),
    count: integer({
      default: 24,
      min: 0,
      soft: [1, 200],
      shownWhen: { input: "by", is: ["count"] },
      about: "For each curve; an open one has one at both ends.",
    }),
    spacing: length({
      default: 0.25,
      min: 0,
      soft: [0.02, 2],
      shownWhen: { input: "by", is: ["spacing", "spacing, both ends"] },
      about: "From one to the next, along the curve.",
    }),
    shift: number({
      default: 0,
      soft: [0, 1],
      about:
        "Moves all along the curve, as a part of its length; round and round a closed one, from end to end of an open one.",
    }),
    along: choice(AXES, { about: "The own axis that points along the curve." }),
    up: vector({
      default: [0, 1, 0],
      soft: [-1, 1],
      unit: "",
      about: "Where the top looks at the beginning.",
    }),
    roll: angle({ default: 0, about: "Turn about the curve." }),
  },
  outputs: {
    sites: out.shape(
      "The sites, curve by curve; `along` is the part of their curve's length, `curve` its number.",
    ),
  },
  summary: ({ by, count, spacing }) => (by === "count" ? `${count} a curve` : `one every ${spacing} units`),
  cost: ({ shape, by, count, spacing }) => {
    if (!shape.curves) return {};
    const lengths = curveLengths(shape.curves);
    return { sites: by === "count" ? count * lengths.length : lengths.reduce((a, b) => a + b, 0) / spacing };
  },
  evaluate({ shape, by, count, spacing, shift, along: axis, up, roll }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count === 0) {
      context.warn("No curves arrive, so there is nothing to stand along.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const along = new AlongCurves(curves);
    const { lengths } = along;
    const counts = Array.from(lengths, (whole, k) =>
      by === "count" ? count : countBySpacing(whole, spacing, isClosedCurve(curves, k), by !== "spacing"),
    );
    const total = counts.reduce((a, b) => a + b, 0);
    const ofCurve = new Int32Array(total);
    const parts = new Float32Array(total);
    const tangents = curveTangents(curves);
    const sites = makeSites(total, ({ position, rotation }) => {
      let i = 0;
      counts.forEach((n, k) => {
        const { closed, at } = placesAlong(along, curves, tangents, k, up);
        const step = stepOf(by, n, lengths[k], spacing, closed);
        for (let s = 0; s < n; s++, i++) {
          tick(4);
          const part = moved(lengths[k] > 0 ? (s * step) / lengths[k] : 0, shift, closed);
          const { place, direction, top } = at(part);
          const q = rolled(pointing(axis, direction, top), direction, roll);
          for (let a = 0; a < 3; a++) position[a][i] = place[a];
          for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
          parts[i] = part;
          ofCurve[i] = k;
        }
      });
    });
    return {
      sites: {
        sites: withColumns(sites, {
          along: makeColumn("number", [parts]),
          curve: makeColumn("integer", [ofCurve]),
        }),
      },
    };
  },
});

/** A spacing that fits a whole number of times has a site at the end of an open curve too. */
function countBySpacing(whole: number, spacing: number, closed: boolean, bothEnds: boolean): number {
  if (whole === 0) return 1;
  const times = whole / spacing;
  if (closed) return Math.max(1, bothEnds ? Math.round(times) : Math.floor(times + 1e-6));
  return (bothEnds ? Math.max(1, Math.round(times)) : Math.floor(times + 1e-6)) + 1;
}

function stepOf(by: string, count: number, whole: number, spacing: number, closed: boolean): number {
  if (by === "spacing") return spacing;
  return whole / Math.max(1, closed ? count : count - 1);
}

/** A part of the length moved along; what passes the end of an open curve begins again. */
function moved(part: number, shift: number, closed: boolean): number {
  if (shift === 0) return Math.min(1, part);
  const to = part + shift;
  const within = to - Math.floor(to);
  // The end of an open curve is a place of its own.
  return !closed && within === 0 && to > 0 ? 1 : within;
}

const rolled = (q: readonly [number, number, number, number], about: Vec3, roll: number) =>
  roll === 0 ? q : multiply(fromAxisAngle(about, roll), q, [0, 0, 0, 1] as MutableQuaternion);

/** What lies at a part of one curve's length: its place, the way it goes, where the top looks. */
function placesAlong(
  along: AlongCurves,
  curves: Curves,
  tangents: readonly Float32Array[],
  k: number,
  up: Vec3,
) {
  const first = curves.curveStarts[k];
  const { position, tilt } = curves.points.columns;
  const { lanes } = position;
  const closed = along.isRound(k);
  const end = curves.curveStarts[k + 1];
  const normals = tilted(
    steadyNormals(lanes, tangents, first, end, closed, up),
    tangents,
    first,
    tilt?.lanes[0],
  );
  const at = (part: number) => {
    const { p, q, t } = along.at(k, part);
    const between = (of: readonly ArrayLike<number>[], base: number): Vec3 =>
      [0, 1, 2].map((a) => of[a][p - base] + (of[a][q - base] - of[a][p - base]) * t) as unknown as Vec3;
    return {
      place: between(lanes, 0),
      direction: normalise(between(tangents, 0)),
      top: between(normals, first),
    };
  };
  return { closed, at };
}
