import type { Value } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { type Domain, makeColumn } from "../../geometry/column";
import { placedName } from "../../geometry/domains";
import type { Mesh } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { keepFaces, numbersWhere } from "../../geometry/subset";
import { topologyOf } from "../../geometry/topology";
import { lengthOf } from "../../maths/exact";
import type { Stepping } from "../../simulate/state";
import { type Ties, tiesOf } from "../../soft/constraints";
import { type SoftBody, softAtRest, steppedSoft, strainsOf } from "../../soft/soft-body";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode, type Resolved } from "../define";
import { elementsOf, SILENTLY, withElements } from "../elements";
import { choice, field, integer, length, number, out, shape, toggle, vector } from "../ports";
import { nearestOn } from "./held-places";
import { runUpInput } from "./step-inputs";

const AS_SET = "as set below";
/** Softness against stretching and bending, and how fast movement dies. */
const STUFFS = {
  cloth: { stretch: 0.00002, bend: 0.02, damping: 0.6 },
  paper: { stretch: 0, bend: 0.0005, damping: 1.5 },
  rubber: { stretch: 0.002, bend: 0.01, damping: 0.8 },
  rope: { stretch: 0, bend: 0.002, damping: 0.8 },
  jelly: { stretch: 0.0015, bend: 0.004, damping: 1.2 },
} as const;
const CHOICES = [...(Object.keys(STUFFS) as (keyof typeof STUFFS)[]), AS_SET] as const;

const INPUTS = {
  shape: shape({
    about:
      "A mesh or curves. How it arrives first is how it wants to be; where it arrives later leads what is pinned.",
  }),
  of: choice(CHOICES, { label: "stuff", about: "What it is made of." }),
  stretch: number({
    default: 0.0005,
    min: 0,
    soft: [0, 0.01],
    shownWhen: { input: "of", is: [AS_SET] },
    about:
      "How much a force draws it out: units for a force of 1. It means the same at any frame rate and sub-steps.",
  }),
  bend: number({
    default: 0.01,
    min: 0,
    soft: [0, 0.1],
    shownWhen: { input: "of", is: [AS_SET] },
    about: "The same across each edge; more folds more easily.",
  }),
  damping: number({
    default: 0.6,
    min: 0,
    soft: [0, 5],
    shownWhen: { input: "of", is: [AS_SET] },
    about: "Parts of its movement that are lost in a second.",
  }),
  pin: field.number({
    default: 0,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "Points above 0.5 stay where they arrive: a falloff, a chosen row, a moving shape.",
  }),
  isTied: toggle({
    default: false,
    label: "tied to its pins",
    about:
      "No point gets farther from the pinned one that is nearest to it than it arrives: firm with few sub-steps.",
  }),
  form: field.number({
    default: 0,
    min: 0,
    max: 1,
    soft: [0, 1],
    label: "keeps its form",
    about: "How strongly each point is drawn to where it arrives; 0 leaves it free.",
  }),
  isFull: toggle({
    default: false,
    label: "filled",
    about: "A closed mesh keeps what it encloses, as a balloon does.",
  }),
  pressure: number({
    default: 1,
    min: 0,
    soft: [0.2, 3],
    unit: "×",
    shownWhen: { input: "isFull", is: [true] },
    about: "Times what it enclosed at first.",
  }),
  lengths: field.number({
    default: 1,
    min: 0,
    soft: [0.2, 2],
    unit: "×",
    about: "How long edges want to be at each place: less makes seams that shrink and crease.",
  }),
  gravity: vector({ default: [0, -9.81, 0], soft: [-10, 10], about: "Units a second²." }),
  wind: field.vector({
    default: [0, 0, 0],
    soft: [-10, 10],
    about: "What else speeds each point up, units a second².",
  }),
  against: shape({ about: "A mesh that it leans on and does not go through; it may move." }),
  gap: length({ default: 0.02, min: 0, soft: [0.005, 0.1], about: "How far it stays from that." }),
  friction: number({ default: 0.4, min: 0, soft: [0, 1], about: "How little it slides there." }),
  own: length({
    default: 0,
    min: 0,
    soft: [0, 0.1],
    label: "own thickness",
    about: "How far its own parts keep from each other; 0 lets them pass. Less than its shortest edges.",
  }),
  tear: number({
    default: 0,
    min: 0,
    soft: [0, 2],
    label: "tears at",
    about: "How much longer than it wants to be an edge tears, in parts: 0.5 is half again. 0 for never.",
  }),
  yields: number({
    default: 0,
    min: 0,
    soft: [0, 1],
    label: "gives way at",
    about: "From which part on it stays longer or shorter, as wax does. 0 for never.",
  }),
  substeps: integer({
    default: 10,
    min: 1,
    max: 100,
    soft: [4, 30],
    label: "sub-steps",
    about: "In each frame; more are firmer and slower.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that it hangs already."),
};

type Inputs = Resolved<typeof INPUTS>;

/** Softness of a form that is kept by half. */
const HALF_FORM = 0.01;

const domainOf = (shape: Shape): Domain | null => {
  const on = placedName(shape);
  return on && on !== "sites" && tiesOf(shape) ? withKin(shape, on) : null;
};

const atRest = (inputs: Inputs): SoftBody => {
  const domain = domainOf(inputs.shape);
  const ties = tiesOf(inputs.shape);
  return domain && ties ? softAtRest(domain.columns.position.lanes, ties) : EMPTY;
};

const EMPTY: SoftBody = {
  domains: {
    points: { count: 0, columns: {} },
    stretch: { count: 0, columns: {} },
    bend: { count: 0, columns: {} },
  },
  numbers: { enclosed: [0] },
};

const isOf = (state: SoftBody, domain: Domain, ties: Ties): boolean =>
  state.domains.points.count === domain.count && state.domains.stretch.count * 2 === ties.stretch.length;

const never = (limit: number): number => (limit > 0 ? limit : Number.POSITIVE_INFINITY);

const stepping: Stepping<Inputs, SoftBody> = {
  runUp: "runUp",
  start: atRest,
  step(before, inputs, { seconds }) {
    const { shape, of, gravity, wind, against, gap, friction, own, tear, yields, substeps } = inputs;
    const domain = domainOf(shape);
    const ties = tiesOf(shape);
    if (!domain || !ties) return EMPTY;
    const state = isOf(before, domain, ties) ? before : atRest(inputs);
    const held: Value[] = [inputs.pin, inputs.form, inputs.lengths];
    const [pin, form, lengths] = runValues(held, domain, { onlyFinite: true }).lanes;
    // A wind blows where points are now.
    const { position } = state.domains.points.columns;
    const now = { ...domain, columns: { ...domain.columns, position } };
    const push = runValues(wind, now, { onlyFinite: true }).lanes;
    const stuff = of === AS_SET ? inputs : STUFFS[of];
    return steppedSoft(
      state,
      ties,
      {
        substeps,
        stretch: stuff.stretch,
        bend: stuff.bend,
        damping: stuff.damping,
        pressure: inputs.isFull ? inputs.pressure : null,
        lengths: meanOfPairs(lengths, ties.stretch),
        tied: inputs.isTied ? tiesToPins(domain.columns.position.lanes, pin) : null,
        led: pin,
        goals: domain.columns.position.lanes,
        home: Float32Array.from(form, (f) => (f > 0 ? (HALF_FORM * (1 - Math.min(1, f))) / f : Infinity)),
        push: push.map((lane, a) => lane.map((v) => v + gravity[a])),
        tear: never(tear),
        yields: never(yields),
        own,
        planes: against.mesh?.faces.count ? planesOf(against.mesh, gap) : null,
        gap,
        friction,
      },
      seconds,
    );
  },
};

/** Each free point with the pinned one that is nearest to it as it arrives, and how far that is (T. Kim et al., "Long range attachments", 2012). */
function tiesToPins(
  places: readonly ArrayLike<number>[],
  pin: Float32Array,
): { pairs: Int32Array; lengths: Float32Array } | null {
  const [pinned, free]: number[][] = [[], []];
  for (const [p, led] of pin.entries()) (led >= 0.5 ? pinned : free).push(p);
  if (pinned.length === 0 || free.length === 0) return null;
  const at = (points: readonly number[]) => places.map((lane) => Float32Array.from(points, (p) => lane[p]));
  const { numbers, distances } = new PointGrid(at(pinned)).nearest(at(free));
  return { pairs: Int32Array.from(free.flatMap((p, n) => [p, pinned[numbers[n]]])), lengths: distances };
}

function meanOfPairs(values: Float32Array, pairs: Int32Array): Float32Array {
  const means = new Float32Array(pairs.length / 2);
  for (let e = 0; e < means.length; e++) means[e] = (values[pairs[e * 2]] + values[pairs[e * 2 + 1]]) / 2;
  return means;
}

/** Gaps from a surface within which a point leans on it. */
const NEAR = 8;

/** The plane through the nearest place on a mesh, which faces the point, or out of the mesh for points that are in it. */
const planesOf =
  (mesh: Mesh, gap: number) =>
  (places: readonly Float32Array[]): readonly Float32Array[] | null => {
    const found = nearestOn(mesh, places);
    if (!found) return null;
    const [qx, qy, qz] = found;
    const facing = found.slice(3).map((lane) => Float32Array.from(lane));
    const [nx, ny, nz] = facing;
    const [x, y, z] = places;
    const most = NEAR * Math.max(gap, 0.01);
    for (let i = 0; i < nx.length; i++) {
      const [dx, dy, dz] = [x[i] - qx[i], y[i] - qy[i], z[i] - qz[i]];
      const far = lengthOf(dx, dy, dz);
      const side = dx * nx[i] + dy * ny[i] + dz * nz[i] < 0 ? -1 : 1;
      if (side > 0 && far > most) nx[i] = ny[i] = nz[i] = 0;
      else if (far > 1e-6) {
        nx[i] = (side * dx) / far;
        ny[i] = (side * dy) / far;
        nz[i] = (side * dz) / far;
      }
    }
    return [qx, qy, qz, ...facing];
  };

export const softShape = defineNode({
  type: "soft-shape",
  family: "simulate",
  title: "Soft shape",
  about: "Lets a mesh or curves hang, fall, stretch and crease: cloth, rope, balloons and jelly.",
  synonyms: [
    "cloth",
    "soft body",
    "rope",
    "balloon",
    "jelly",
    "drape",
    "xpbd",
    "constraints",
    "crease",
    "curtain",
    "flag",
    "tear",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape(
      "The same, as it gives way; points have `velocity` and `strain`, by how much edges there are too long.",
    ),
  },
  summary: ({ of, substeps }) => `${of}, ${substeps} sub-steps`,
  cost: ({ shape: { mesh, curves }, substeps }) => ({
    milliseconds: (mesh?.points.count ?? curves?.points.count ?? 0) * substeps * 0.0001,
  }),
  stepping,
  evaluate(inputs, context) {
    const { shape, own } = inputs;
    const state = context.carried<SoftBody>();
    const ties = tiesOf(shape);
    const elements = elementsOf(shape, SILENTLY);
    if (!ties || !elements || elements.on === "sites") {
      context.warn("No mesh and no curves arrive, so nothing gives way.", { input: "shape" });
      return { shape };
    }
    if (!isOf(state, elements.domain, ties)) return { shape };
    const { position, velocity } = state.domains.points.columns;
    const rest = state.domains.stretch.columns.rest.lanes[0] as Float32Array;
    warnOfThickness(own, rest, context);
    const strain = strainOfPoints(rest, position.lanes, ties, elements.domain.count);
    const moved = withElements(shape, elements, {
      position,
      velocity,
      strain: makeColumn("number", [strain]),
    });
    return { shape: moved.mesh ? { ...moved, mesh: withoutTorn(moved.mesh, rest) } : moved };
  },
});

function warnOfThickness(
  own: number,
  rest: Float32Array,
  context: { warn(what: string, details: { input: string }): void },
): void {
  if (own <= 0) return;
  const shortest = rest.reduce((least, length) => (length > 0 && length < least ? length : least), Infinity);
  if (own > shortest * 1.001)
    context.warn(
      `Its own thickness is more than its shortest edge (${shortest.toPrecision(2)} units), so it swells. Make it less.`,
      { input: "own" },
    );
}

/** The mean of what meets at each point. */
function strainOfPoints(
  rest: Float32Array,
  position: readonly ArrayLike<number>[],
  { stretch }: Ties,
  count: number,
): Float32Array {
  const [sum, met] = [new Float32Array(count), new Float32Array(count)];
  const strains = strainsOf(rest, position, stretch);
  for (let e = 0; e < strains.length; e++)
    for (const p of [stretch[e * 2], stretch[e * 2 + 1]]) {
      sum[p] += strains[e];
      met[p]++;
    }
  return sum.map((v, p) => (met[p] > 0 ? v / met[p] : 0));
}

/** Faces at torn edges fall out. */
function withoutTorn(mesh: Mesh, rest: Float32Array): Mesh {
  const { edges } = topologyOf(mesh);
  let isTorn = false;
  for (let e = 0; e < edges.count && !isTorn; e++) isTorn = rest[e] < 0;
  if (!isTorn) return mesh;
  const kept = numbersWhere(mesh.faces.count, (f) => {
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
      if (rest[edges.ofCorner[c]] < 0) return false;
    return true;
  });
  return keepFaces(mesh, kept);
}
