import { makeColumn, withColumns } from "../../geometry/column";
import { type Curves, HANDLES, makeCurves, mergeCurves } from "../../geometry/curves";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { type DrawnPath, type PathPlace, type PathPoint, piecesOf } from "../../maths/drawn-path";
import type { Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { choice, integer, length, out, path as pathInput } from "../ports";

/** Where what is clicked on the stage comes to lie. */
export const DRAWN_ON = [
  "the ground",
  "upright, facing z",
  "upright, facing x",
  "what is on the stage",
] as const;

const AXES = { x: 0, y: 1, z: 2 } as const;

/** A leaf's outline: what it begins with, so that there is something to see and to change. */
const BEGIN: DrawnPath = {
  closed: false,
  points: [
    { at: [-1.4, 0, 0.5], before: [0, 0, 0], after: [0.5, 0, -0.7], smooth: true, radius: 1, tilt: 0 },
    { at: [0, 0, -0.1], before: [-0.5, 0, -0.35], after: [0.5, 0, 0.35], smooth: true, radius: 1, tilt: 0 },
    { at: [1.4, 0, -0.5], before: [-0.5, 0, 0.7], after: [0, 0, 0], smooth: true, radius: 1, tilt: 0 },
  ],
};

export const drawnPath = defineNode({
  type: "drawn-path",
  family: "make",
  title: "Drawn path",
  about:
    "A path that you draw on the stage: points, straight or with handles, open or closed. Keys on it let it change its form.",
  synonyms: ["pen", "bezier", "curve", "draw", "spline", "vector", "stroke", "outline", "handles", "sketch"],
  inputs: {
    path: pathInput({
      default: BEGIN,
      about: "Choose the node and press Draw on the stage; its points and handles are dragged there.",
    }),
    on: choice(DRAWN_ON, { about: "Where the points that you set on the stage come to lie." }),
    snap: length({
      default: 0,
      min: 0,
      soft: [0, 1],
      about: "Points that you set and drag stand on a grid of that width; 0 for none.",
    }),
    mirror: choice(["no", "x", "y", "z"], {
      about: "Adds its mirror image across an axis, joined where the ends meet there.",
    }),
    as: choice(["the drawn curve", "points with handles"], {
      about:
        "The curve itself, or only the points that you set, with their handles: Move, Transform, Bend and others like them then change those, and the curve follows.",
    }),
    steps: integer({
      default: 16,
      min: 1,
      max: 512,
      soft: [1, 48],
      shownWhen: { input: "as", is: ["the drawn curve"] },
      about: "Straight pieces from point to point where it is bent.",
    }),
  },
  outputs: { shape: out.shape("The path as a curve, with `radius` and `tilt` where points say any.") },
  summary: ({ path }) => {
    const { closed, points } = path as unknown as DrawnPath;
    return `${points.length} points, ${closed ? "closed" : "open"}`;
  },
  cost: ({ path, steps }) => ({ points: path.points.length * steps }),
  evaluate({ path, mirror, as, steps }, context) {
    const places: readonly Placed[] = as === "points with handles" ? path.points : piecesOf(path, steps);
    if (places.length < 2) {
      context.warn("The path has fewer than two points. Press Draw on the stage and set some.", {
        input: "path",
      });
      return { shape: EMPTY_SHAPE };
    }
    if (mirror === "no") return { shape: { curves: curveOf(places, path.closed) } };
    return { shape: { curves: mirrored(places, path.closed, AXES[mirror]) } };
  },
});

/** A place on the path, or a point of it, which has handles. */
type Placed = PathPlace & Partial<Pick<PathPoint, "before" | "after">>;

function curveOf(places: readonly Placed[], closed: boolean): Curves {
  const lane = (a: number) => Float32Array.from(places, ({ at }) => at[a]);
  const curves = makeCurves({
    position: [lane(0), lane(1), lane(2)],
    curveStarts: Int32Array.of(0, places.length),
    closed: Int32Array.of(closed ? 1 : 0),
  });
  const told = (name: "radius" | "tilt", none: number) =>
    places.some((place) => place[name] !== none)
      ? { [name]: makeColumn("number", [Float32Array.from(places, (place) => place[name])]) }
      : {};
  const handles = (name: "before" | "after") =>
    makeColumn(
      "vector",
      [0, 1, 2].map((a) => Float32Array.from(places, (place) => place[name]?.[a] ?? 0)),
    );
  const [handleBefore, handleAfter] = HANDLES;
  return {
    ...curves,
    points: withColumns(curves.points, {
      ...told("radius", 1),
      ...told("tilt", 0),
      ...(places[0].before ? { [handleBefore]: handles("before"), [handleAfter]: handles("after") } : {}),
    }),
  };
}

/** Units from the mirror up to which an end meets its image. */
const MEETS = 1e-4;

/** The places and their images; one curve where an open path's ends lie on the mirror. */
function mirrored(places: readonly Placed[], closed: boolean, axis: 0 | 1 | 2): Curves {
  const flipped = (v: Vec3 | undefined) =>
    v?.map((part, a) => (a === axis ? -part : part)) as unknown as Vec3;
  const image = places.map((place) => ({
    ...place,
    tilt: -place.tilt,
    at: flipped(place.at),
    before: flipped(place.before),
    after: flipped(place.after),
  }));
  // Who goes back comes the way that was gone.
  const back = image.map((place) => ({ ...place, before: place.after, after: place.before })).reverse();
  const onMirror = (place: Placed) => Math.abs(place.at[axis]) <= MEETS;
  const [atStart, atEnd] = [onMirror(places[0]), onMirror(places[places.length - 1])];
  if (closed || (!atStart && !atEnd))
    return mergeCurves([curveOf(places, closed), curveOf(closed ? back : image, closed)]) as Curves;
  // Where they meet it goes on as the image of how it came.
  const whole = places.map((place, i) => ({
    ...place,
    ...(atStart && i === 0 ? { before: flipped(place.after) } : {}),
    ...(atEnd && i === places.length - 1 ? { after: flipped(place.before) } : {}),
  }));
  if (atStart && atEnd) return curveOf([...whole, ...back.slice(1, -1)], true);
  return atEnd
    ? curveOf([...whole, ...back.slice(1)], false)
    : curveOf([...back.slice(0, -1), ...whole], false);
}
