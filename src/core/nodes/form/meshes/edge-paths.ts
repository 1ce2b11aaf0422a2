import { withKin } from "../../../geometry/across";
import { type Curves, curveLengths } from "../../../geometry/curves";
import type { Mesh } from "../../../geometry/mesh";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { keepCurves } from "../../../geometry/subset";
import { topologyOf } from "../../../geometry/topology";
import { lengthOf } from "../../../maths/exact";
import type { Vec3 } from "../../../maths/vector";
import { edgeAngles } from "../../../meshes/edge-angles";
import { edgePaths as pathsAlong } from "../../../meshes/edge-paths";
import { defineNode } from "../../define";
import { angle, choice, field, out, shape, vector } from "../../ports";
import { meshOf } from "./input-mesh";

const WHICH = ["open borders", "edges that bend", "where a field says", "all edges"] as const;
const KEEP = ["all of them", "the longest", "the first", "the nearest to a place"] as const;

export const edgePaths = defineNode({
  type: "edge-paths",
  family: "form",
  title: "Edge paths",
  about:
    "Edges of a mesh as curves, one after the other: its open borders, its sharp edges, or those that a field names.",
  synonyms: [
    "wireframe",
    "border",
    "outline",
    "boundary loop",
    "edges to curves",
    "seam",
    "feature lines",
    "rim",
  ],
  inputs: {
    shape: shape({ about: "A mesh." }),
    which: choice(WHICH, { about: "Which edges." }),
    sharp: angle({
      default: 30,
      min: 0,
      max: 180,
      soft: [0, 180],
      shownWhen: { input: "which", is: ["edges that bend"] },
      about: "Those that bend by more.",
    }),
    where: field.number({
      default: 1,
      soft: [0, 1],
      shownWhen: { input: "which", is: ["where a field says"] },
      about: "Edges where this is above 0.5, at their middles.",
    }),
    keep: choice(KEEP, { about: "Which of the curves are kept." }),
    place: vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      handle: "place",
      shownWhen: { input: "keep", is: ["the nearest to a place"] },
      about: "The place that the kept one is nearest to.",
    }),
  },
  outputs: { shape: out.shape("The curves, with what the points carry; `part` is the number of each.") },
  summary: ({ which, keep }) => `${which}, ${keep}`,
  cost: ({ shape }) => ({
    points: (shape.mesh?.corners.count ?? 0) / 2,
    milliseconds: (shape.mesh?.corners.count ?? 0) * 0.002,
  }),
  evaluate({ shape, which, sharp, where, keep, place }, context) {
    const mesh = meshOf(shape, "follow", context);
    if (!mesh) return { shape: EMPTY_SHAPE };
    const isChosen = chosenBy(which, mesh, sharp);
    const values =
      which === "where a field says" ? context.run([where], withKin({ mesh }, "edges"))[0] : null;
    const chosen = Uint8Array.from({ length: topologyOf(mesh).edges.count }, (_, e) =>
      (values ? values[e] > 0.5 : isChosen(e)) ? 1 : 0,
    );
    const curves = pathsAlong(mesh, chosen);
    if (!curves) {
      context.note(
        which === "open borders" ? "The mesh is closed: it has no borders." : "No edge is chosen.",
      );
      return { shape: EMPTY_SHAPE };
    }
    return { shape: { curves: kept(curves, keep, place) } };
  },
});

function chosenBy(which: (typeof WHICH)[number], mesh: Mesh, sharp: number): (edge: number) => boolean {
  if (which === "open borders") {
    const topology = topologyOf(mesh);
    return (e) => topology.isOpen(e);
  }
  if (which !== "edges that bend") return () => true;
  const bends = edgeAngles(mesh);
  return (e) => Math.abs(bends[e]) > sharp;
}

function kept(curves: Curves, keep: (typeof KEEP)[number], place: Vec3): Curves {
  if (keep === "all of them") return curves;
  const best = (value: (k: number) => number) =>
    Array.from({ length: curves.curves.count }, (_, k) => k).reduce((a, b) => (value(b) > value(a) ? b : a));
  const lengths = curveLengths(curves);
  const [x, y, z] = curves.points.columns.position.lanes;
  const near = (k: number) => {
    let least = Number.POSITIVE_INFINITY;
    for (let p = curves.curveStarts[k]; p < curves.curveStarts[k + 1]; p++)
      least = Math.min(least, lengthOf(x[p] - place[0], y[p] - place[1], z[p] - place[2]));
    return -least;
  };
  const chosen = keep === "the first" ? 0 : best(keep === "the longest" ? (k) => lengths[k] : near);
  return keepCurves(curves, Int32Array.of(chosen));
}
