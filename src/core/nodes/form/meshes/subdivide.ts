import { withKin } from "../../../geometry/across";
import type { Mesh } from "../../../geometry/mesh";
import { topologyOf } from "../../../geometry/topology";
import { edgeAngles } from "../../../meshes/edge-angles";
import { SCHEMES, type Splitting } from "../../../meshes/subdivide/splitting";
import { Subdivision } from "../../../meshes/subdivide/subdivision";
import { triangulated } from "../../../meshes/triangulated";
import { defineNode } from "../../define";
import { angle, choice, field, integer, out, shape } from "../../ports";
import { chosenFaces } from "./chosen-faces";
import { meshOf } from "./input-mesh";

/** Attribute of edges: from 0, smooth, to 1, sharp. */
const CREASE = "crease";

export const subdivide = defineNode({
  type: "subdivide",
  family: "form",
  title: "Subdivide",
  about: "Splits faces into smaller ones, rounding what they make together or leaving it as it is.",
  synonyms: ["smooth", "refine", "more faces", "catmull clark", "loop", "crease", "resolution", "rounder"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    by: choice(SCHEMES, {
      about:
        "Catmull–Clark rounds and makes quads, Loop rounds and makes triangles, flat leaves faces where they are.",
    }),
    rounds: integer({
      default: 1,
      min: 0,
      max: 8,
      soft: [0, 4],
      about: "Each makes four faces of one, about.",
    }),
    where: field.number({ default: 1, soft: [0, 1], about: "Only faces where this is above 0.5 are split." }),
    sharp: angle({
      default: 180,
      min: 0,
      max: 180,
      soft: [0, 180],
      about:
        "Edges that bend by more stay sharp; so do those with an attribute crease of 1, and in part those with less.",
    }),
    tips: choice(["are rounded", "stay"], { about: "Corners of open borders." }),
  },
  outputs: { shape: out.shape("The finer mesh; what points have is blended, edges are in two halves.") },
  summary: ({ by, rounds }) => `${by}, ${rounds} ×`,
  cost: ({ shape, rounds }) => {
    const corners = (shape.mesh?.corners.count ?? 0) * 4 ** Math.max(0, rounds - 1);
    return rounds === 0 ? {} : { points: corners * 1.1, faces: corners, milliseconds: corners * 0.006 };
  },
  evaluate({ shape, by, rounds, where, sharp, tips }, context) {
    const input = meshOf(shape, "split", context);
    if (!input || rounds === 0) return { shape };
    const mesh = by === "Loop" ? triangulated(input) : input;
    const splitting: Splitting = {
      scheme: by,
      sharp: sharpness(mesh, sharp),
      chosen: chosenFaces(mesh, where, context),
      keepsTips: tips === "stay",
    };
    const made = context.reuse<Subdivision>((before) =>
      before?.holdsFor(mesh, splitting, rounds) ? before : new Subdivision(mesh, splitting, rounds),
    );
    return { shape: { ...shape, mesh: made.apply(mesh) } };
  },
});

/** By edge; borders are told apart elsewhere. */
function sharpness(mesh: Mesh, most: number): Float32Array {
  const count = topologyOf(mesh).edges.count;
  const crease = withKin({ mesh }, "edges").columns[CREASE];
  const sharp = new Float32Array(count);
  if (crease?.kind === "number") sharp.set(crease.lanes[0]);
  if (most < Math.PI)
    for (const [e, angle] of edgeAngles(mesh).entries()) if (Math.abs(angle) > most) sharp[e] = 1;
  return sharp;
}
