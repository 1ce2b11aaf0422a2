import { runValues } from "../../fields/run";
import { shapeBounds } from "../../geometry/bounds";
import { type Domain, withColumns } from "../../geometry/column";
import { pointLanes } from "../../geometry/mesh";
import { lanesOf, type Shape } from "../../geometry/shape";
import { PHYSICS } from "../../rigid/physics";
import { MOST_CORNERS, type PieceForm, type PieceSettings } from "../../rigid/pieces-world";
import { piecesAtRest, type RigidPieces, steppedPieces } from "../../rigid/rigid-pieces";
import type { Stepping } from "../../simulate/state";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode, type Resolved } from "../define";
import { choice, field, integer, length, number, out, shape, toggle, vector } from "../ports";
import { runUpInput } from "./step-inputs";

const FORMS = { hulls: "hull", boxes: "box", balls: "ball" } as const;

const INPUTS = {
  shape: shape({ about: "Clones. Each begins where it arrives, and is led there until it is let go." }),
  as: choice(["hulls", "boxes", "balls"], {
    about: "What each is to the others: its own outline without dents, the box around it, or a ball.",
  }),
  free: field.number({
    default: 1,
    min: 0,
    max: 1,
    soft: [0, 1],
    label: "let go",
    about:
      "Above 0.5 a piece falls, from then on: break a wall loose by a passing ball, pour by number and time.",
  }),
  reach: length({
    default: 0,
    min: 0,
    soft: [0, 2],
    label: "joined within",
    about: "Pieces whose places are nearer than that at first keep to each other; 0 joins none.",
  }),
  holds: field.number({
    default: 1,
    min: 0,
    max: 1,
    soft: [0, 1],
    label: "holds",
    about: "Where it falls to 0.5 or less, pieces break loose from those beside them.",
  }),
  gravity: vector({ default: [0, -9.81, 0], soft: [-10, 10], about: "Units a second²." }),
  push: field.vector({
    default: [0, 0, 0],
    soft: [-20, 20],
    about: "What else speeds each up, units a second².",
  }),
  bounce: number({
    default: 0.2,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "Part of the speed that comes back from a knock.",
  }),
  friction: number({ default: 0.5, min: 0, soft: [0, 1], about: "How little they slide on each other." }),
  drag: number({
    default: 0.1,
    min: 0,
    soft: [0, 2],
    about: "Parts of their speed and spin that are lost in a second.",
  }),
  ground: toggle({ default: true, about: "A floor where y is 0." }),
  against: shape({ about: "A mesh that they fall against, with its hollows: a jar, a hill. It may move." }),
  substeps: integer({
    default: 4,
    min: 1,
    max: 32,
    soft: [1, 8],
    label: "sub-steps",
    about: "In each frame: more for small and fast pieces.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that they lie already."),
};

type Inputs = Resolved<typeof INPUTS>;

/** Pieces that one world bears. */
const MOST = 20_000;

const sitesOf = ({ shape: { sites } }: Inputs): Domain | null =>
  sites && sites.count > 0 && sites.count <= MOST ? sites : null;

/** What the clones of one source are to each other; a bare site is a small ball. */
function formOf(source: Shape | undefined, as: Inputs["as"]): PieceForm {
  const bounds = source && shapeBounds(source);
  if (!bounds)
    return { form: "ball", middle: [0, 0, 0], half: [0.05, 0.05, 0.05], corners: new Float32Array(0) };
  const middle = bounds.min.map((v, a) => (v + bounds.max[a]) / 2);
  const half = bounds.min.map((v, a) => (bounds.max[a] - v) / 2);
  return { form: source?.mesh ? FORMS[as] : "box", middle, half, corners: cornersOf(source) };
}

/** Points of its mesh, some of them where there are many. */
function cornersOf({ mesh }: Shape): Float32Array {
  if (!mesh) return new Float32Array(0);
  const { count } = mesh.points;
  const kept = Math.min(count, MOST_CORNERS);
  const lanes = pointLanes(mesh);
  const corners = new Float32Array(kept * 3);
  for (let i = 0; i < kept; i++)
    for (let a = 0; a < 3; a++) corners[i * 3 + a] = lanes[a][Math.floor((i * count) / kept)];
  return corners;
}

function filled(
  sites: Domain,
  name: "rotation" | "scale",
  kind: "rotation" | "vector",
): readonly Float32Array[] {
  const { lanes, fallback } = lanesOf(sites, name, kind);
  return lanes ?? fallback.map((value) => new Float32Array(sites.count).fill(value));
}

const goalsOf = (sites: Domain) => ({
  position: sites.columns.position.lanes,
  rotation: filled(sites, "rotation", "rotation"),
});

function atRest(inputs: Inputs): RigidPieces {
  const sites = sitesOf(inputs);
  if (!sites) return EMPTY;
  const { sources = [] } = inputs.shape;
  const source = sites.columns.source?.lanes[0];
  const settings: PieceSettings = {
    forms: [...sources.map((one) => formOf(one, inputs.as)), formOf(undefined, inputs.as)],
    form: Int32Array.from({ length: sites.count }, (_, i) => {
      const which = source?.[i] ?? -1;
      return which >= 0 ? which : sources.length;
    }),
    scale: filled(sites, "scale", "vector"),
    bounce: inputs.bounce,
    friction: inputs.friction,
    ground: inputs.ground,
    joined: pairsWithin(sites, inputs.reach),
  };
  return piecesAtRest(goalsOf(sites), settings);
}

/** Every two that are nearer than so far, once. */
function pairsWithin(sites: Domain, reach: number): Int32Array {
  if (!(reach > 0)) return new Int32Array(0);
  const places = sites.columns.position.lanes.map((lane) => Float32Array.from(lane));
  const { starts, numbers } = new PointGrid(places).within(places, reach, true);
  const pairs: number[] = [];
  for (let i = 0; i < sites.count; i++)
    for (let k = starts[i]; k < starts[i + 1]; k++) if (numbers[k] > i) pairs.push(i, numbers[k]);
  return Int32Array.from(pairs);
}

const EMPTY: RigidPieces = {
  domains: { pieces: { count: 0, columns: {} }, world: { count: 0, columns: {} } },
  numbers: { bytes: [0] },
};

const stepping: Stepping<Inputs, RigidPieces> = {
  runUp: "runUp",
  start: atRest,
  step(before, inputs, { seconds }) {
    const sites = sitesOf(inputs);
    if (!sites) return EMPTY;
    const state = before.domains.pieces.count === sites.count ? before : atRest(inputs);
    const { substeps, gravity, drag, friction, bounce, against } = inputs;
    const [free, holds] = runValues([inputs.free, inputs.holds], sites, { onlyFinite: true }).lanes;
    // A wind blows where pieces are now.
    const { position, rotation } = state.domains.pieces.columns;
    const push = runValues(inputs.push, withColumns(sites, { position, rotation }), {
      onlyFinite: true,
    }).lanes;
    const mesh = against.mesh && against.mesh.faces.count > 0 ? against.mesh : null;
    return steppedPieces(
      state,
      { substeps, gravity, push, drag, free, holds, goals: goalsOf(sites), against: mesh, friction, bounce },
      seconds,
    );
  },
};

export const rigidPieces = defineNode({
  type: "rigid-pieces",
  family: "simulate",
  title: "Rigid pieces",
  about: "Lets clones fall, knock, roll and pile up, and break loose where a field says so.",
  synonyms: [
    "rigid body",
    "physics",
    "fall",
    "pile",
    "stack",
    "collapse",
    "pour",
    "break",
    "bounce",
    "gravity",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape(
      "The clones where they lie; with `velocity`, `spin` and `free`, 1 once they were let go.",
    ),
  },
  summary: ({ as, substeps }) => `${as}, ${substeps} sub-steps`,
  cost: ({ shape: { sites }, substeps }) => ({
    milliseconds: (sites?.count ?? 0) * (0.004 + substeps * 0.003),
    bytes: (sites?.count ?? 0) * 4000,
  }),
  needs: [PHYSICS],
  stepping,
  evaluate(inputs, context) {
    const { shape } = inputs;
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No clones arrive, so nothing falls. Clone something onto sites first.", {
        input: "shape",
      });
      return { shape };
    }
    if (sites.count > MOST) {
      context.warn(`${sites.count} pieces arrive; at most ${MOST} fall. Let fewer arrive.`, {
        input: "shape",
      });
      return { shape };
    }
    const { pieces } = context.carried<RigidPieces>().domains;
    if (pieces.count !== sites.count) return { shape };
    return { shape: { ...shape, sites: withColumns(sites, pieces.columns) } };
  },
});
