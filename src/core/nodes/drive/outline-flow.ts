import { AlongCurves } from "../../curves/along-curves";
import { evenSamples } from "../../curves/even-samples";
import { sampledCurves } from "../../curves/sampled-curves";
import { apply, applyAll, constant, elementIndex, scaleBy, type VectorField } from "../../fields/expression";
import { freshKey } from "../../fields/fresh-key";
import type { Lane } from "../../geometry/column";
import { type Curves, curveLengths, curveTangents, isClosedCurve } from "../../geometry/curves";
import { flatPlaces, planeOf } from "../../geometry/plane";
import { inMemory } from "../../kernels/arena";
import { twiceArea } from "../../maths/polygon";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode } from "../define";
import { choice, field, integer, number, out, shape, toggle } from "../ports";

/** Places along all outlines together, between which directions are mixed. */
const SAMPLES = 4000;

export const outlineFlow = defineNode({
  type: "outline-flow",
  family: "drive",
  title: "Outline flow",
  about:
    "Which way outlines run, spread over all that lies inside and around: a flow that follows a drawing, a leaf, a letter.",
  synonyms: [
    "flow field",
    "tangent field",
    "direction field",
    "guide curves",
    "stream inside shape",
    "combed",
    "grain direction",
  ],
  inputs: {
    shape: shape({ about: "Curves; closed outlines, with their holes, or open lines." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is read; the element's position unless linked.",
    }),
    neighbours: integer({
      default: 12,
      min: 1,
      max: 64,
      soft: [1, 64],
      about: "How many places of the outlines are mixed: 1 is rigid, many blend.",
    }),
    holes: choice(["run along", "run against"], {
      about: "Which way holes run: along with what is around them, or the other way round, as eddies do.",
    }),
    turn: field.angle({
      default: 0,
      about: "Turned so far about the outlines' plane: 90° leads away from them.",
    }),
    speed: number({
      default: 1,
      soft: [0, 4],
      about: "Length of the direction: units a second for Flow and Wind.",
    }),
    backwards: toggle({ default: false, about: "The other way round." }),
  },
  outputs: {
    flow: out.vector("Which way it runs here."),
    distance: out.number("Units to the nearest place of an outline."),
  },
  summary: ({ neighbours, speed }) => `${neighbours} neighbours, ${speed} units a second`,
  evaluate({ shape, place, neighbours, holes, turn, speed, backwards }, context) {
    const { curves } = shape;
    if (!curves || curves.points.count < 2) {
      context.warn("No outlines arrive, so nothing flows.", { input: "shape" });
      const none = constant(0);
      return { flow: [none, none, none] as VectorField, distance: none };
    }
    const open = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
      (k) => !isClosedCurve(curves, k),
    );
    if (open.length > 0 && open.length < curves.curves.count)
      context.note(
        `${open.length} of ${curves.curves.count} outlines are open; they run as they were drawn.`,
      );
    const even = evenly(curves);
    const tangents = directions(even, holes === "run along").map(inMemory);
    const grid = new PointGrid(even.points.columns.position.lanes, { findable: true });
    const data = {
      key: freshKey(),
      grid: grid.address,
      k: Math.min(neighbours, even.points.count),
      vectors: tangents,
      lanes: [...grid.lanes, ...tangents] as readonly Lane[],
    };
    const [distance, ...way] = applyAll("blendNearest", [...place, elementIndex()], data);
    const { normal } = planeOf(even);
    const turned = about(way as unknown as VectorField, normal, turn);
    const times = constant(backwards ? -speed : speed);
    return { flow: turned.map((value) => scaleBy(value, times)) as unknown as VectorField, distance };
  },
});

/** Places at even distances along all curves. */
function evenly(curves: Curves): Curves {
  const along = new AlongCurves(curves);
  const lengths = curveLengths(curves);
  const whole = lengths.reduce((sum, length) => sum + length, 0) || 1;
  const kept = Array.from(lengths.keys()).filter((k) => lengths[k] > 0);
  return sampledCurves(
    curves,
    kept.map((k) => ({
      of: k,
      closed: isClosedCurve(curves, k),
      samples: evenSamples(curves, along, k, Math.max(8, Math.round((SAMPLES * lengths[k]) / whole))),
    })),
  );
}

/** Tangents, of closed outlines all the same way round where asked for. */
function directions(curves: Curves, alike: boolean): readonly Float32Array[] {
  const tangents = curveTangents(curves);
  if (!alike) return tangents;
  const plane = planeOf(curves);
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    if (!isClosedCurve(curves, k)) continue;
    if (twiceArea(flatPlaces(plane, curves.points.columns.position.lanes, first, end).flat) >= 0) continue;
    for (const lane of tangents) for (let p = first; p < end; p++) lane[p] = -lane[p];
  }
  return tangents;
}

/** Turned about a unit axis that it lies across: v cos + (axis × v) sin. */
function about(v: VectorField, axis: readonly number[], angle: VectorField[0]): VectorField {
  const [s, c] = applyAll("sineCosine", [angle]);
  const crossed = [0, 1, 2].map((a) => {
    const [b, d] = [(a + 1) % 3, (a + 2) % 3];
    return apply("subtract", [scaleBy(constant(axis[b]), v[d]), scaleBy(constant(axis[d]), v[b])]);
  });
  return v.map((value, a) =>
    apply("add", [scaleBy(value, c), scaleBy(crossed[a], s)]),
  ) as unknown as VectorField;
}
