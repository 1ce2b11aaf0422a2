import type { Value } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { type Domain, makeColumn } from "../../geometry/column";
import { placedName } from "../../geometry/domains";
import type { Mesh } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { lengthOf } from "../../maths/exact";
import type { Stepping } from "../../simulate/state";
import { type Ties, tiesOf } from "../../soft/constraints";
import { meanOfPairs, strainOfPoints, tiesToPins } from "../../soft/pairs";
import { type SoftBody, softAtRest, steppedSoft } from "../../soft/soft-body";
import { parted, partedCurves, partedOf } from "../../soft/tearing";
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
    corners: { count: 0, columns: {} },
    stretch: { count: 0, columns: {} },
    bend: { count: 0, columns: {} },
  },
  numbers: { enclosed: [0] },
};

const isOf = (state: SoftBody, domain: Domain | null, ties: Ties | null): boolean =>
  domain !== null &&
  ties !== null &&
  state.domains.points.count === domain.count &&
  state.domains.stretch.count * 2 === ties.stretch.length;

/** The shape that the state is of: as it arrives, or as it has parted since. */
function soFar(shape: Shape, state: SoftBody): Shape {
  const mesh = shape.mesh && partedOf(shape.mesh, state);
  return mesh ? { ...shape, mesh } : shape;
}

const never = (limit: number): number => (limit > 0 ? limit : Number.POSITIVE_INFINITY);

const stepping: Stepping<Inputs, SoftBody> = {
  runUp: "runUp",
  start: atRest,
  step(before, inputs, { seconds }) {
    const { of, gravity, wind, against, gap, friction, own, tear, yields, substeps } = inputs;
    const known = soFar(inputs.shape, before);
    const isKnown = isOf(before, domainOf(known), tiesOf(known));
    const [state, shape] = isKnown ? [before, known] : [atRest(inputs), inputs.shape];
    const [domain, ties] = [domainOf(shape), tiesOf(shape)];
    if (!domain || !ties) return EMPTY;
    const held: Value[] = [inputs.pin, inputs.form, inputs.lengths];
    const [pin, form, lengths] = runValues(held, domain, { onlyFinite: true }).lanes;
    // A wind blows where points are now.
    const { position } = state.domains.points.columns;
    const now = { ...domain, columns: { ...domain.columns, position } };
    const push = runValues(wind, now, { onlyFinite: true }).lanes;
    const stuff = of === AS_SET ? inputs : STUFFS[of];
    const times = meanOfPairs(lengths, ties.stretch);
    const after = steppedSoft(
      state,
      ties,
      {
        substeps,
        stretch: stuff.stretch,
        bend: stuff.bend,
        damping: stuff.damping,
        pressure: inputs.isFull ? inputs.pressure : null,
        lengths: times,
        tied: inputs.isTied ? tiesToPins(domain.columns.position.lanes, pin) : null,
        led: pin,
        goals: domain.columns.position.lanes,
        home: Float32Array.from(form, (f) => (f > 0 ? (HALF_FORM * (1 - Math.min(1, f))) / f : Infinity)),
        push: push.map((lane, a) => lane.map((v) => v + gravity[a])),
        // Meshes part instead.
        tear: shape.mesh ? Number.POSITIVE_INFINITY : never(tear),
        yields: never(yields),
        own,
        planes: against.mesh?.faces.count ? planesOf(against.mesh, gap) : null,
        gap,
        friction,
      },
      seconds,
    );
    if (!shape.mesh || !(tear > 0)) return after;
    const rest = after.domains.stretch.columns.rest.lanes[0];
    const wanted = Float32Array.from(rest, (length, e) => length * (times[e] ?? 1));
    return parted(after, shape.mesh, ties, wanted, tear, pin);
  },
};

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
    const { own } = inputs;
    const state = context.carried<SoftBody>();
    const shape = soFar(inputs.shape, state);
    const ties = tiesOf(shape);
    const elements = elementsOf(shape, SILENTLY);
    if (!ties || !elements || elements.on === "sites") {
      context.warn("No mesh and no curves arrive, so nothing gives way.", { input: "shape" });
      return { shape };
    }
    if (!isOf(state, elements.domain, ties)) return { shape: inputs.shape };
    const { position, velocity } = state.domains.points.columns;
    const rest = state.domains.stretch.columns.rest.lanes[0] as Float32Array;
    warnOfThickness(own, rest, context);
    const strain = strainOfPoints(rest, position.lanes, ties, elements.domain.count);
    const strains = makeColumn("number", [strain]);
    const moved = withElements(shape, elements, { position, velocity, strain: strains });
    return { shape: moved.curves ? { ...moved, curves: partedCurves(moved.curves, rest) } : moved };
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
