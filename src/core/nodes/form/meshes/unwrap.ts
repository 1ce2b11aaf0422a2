import { withKin } from "../../../geometry/across";
import type { Mesh } from "../../../geometry/mesh";
import { topologyOf } from "../../../geometry/topology";
import { edgeAngles } from "../../../meshes/edge-angles";
import { unwrapped } from "../../../meshes/uvs/unwrap";
import { defineNode } from "../../define";
import { angle, choice, number, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

/** Attribute of edges: 1 where the surface is cut. */
const SEAM = "seam";

export const unwrap = defineNode({
  type: "unwrap",
  family: "form",
  title: "Unwrap",
  about:
    "Cuts a mesh along seams, lays the parts flat so that angles stay, and puts them side by side on a picture.",
  synonyms: [
    "uv",
    "texture coordinates",
    "flatten",
    "atlas",
    "islands",
    "seams",
    "lay out",
    "pack",
    "conformal",
  ],
  inputs: {
    shape: shape({ about: "A mesh." }),
    sharp: angle({
      default: 60,
      min: 0,
      max: 180,
      soft: [0, 180],
      about: "Edges that bend by more are seams; so are those with an attribute seam above 0.5.",
    }),
    spread: angle({
      default: 75,
      min: 1,
      max: 180,
      soft: [10, 120],
      about: "How far faces of one island may look apart: less for less stretching and more islands.",
    }),
    gap: number({
      default: 0.01,
      min: 0,
      max: 0.2,
      soft: [0, 0.05],
      about: "Between islands, as a part of the picture.",
    }),
    strips: choice(["keep angles", "straight"], {
      about: "Whether strips and grids of four-sided faces are laid flat as straight rows and columns.",
    }),
  },
  outputs: {
    shape: out.shape("The same, with `uv` on corners and points, and `island` on faces."),
    flat: out.shape("The islands as they lie, to look at: a picture of side 1, facing z."),
  },
  summary: ({ sharp, spread }) => `seams from ${sharp}°, islands within ${spread}°`,
  cost: ({ shape }) => ({ milliseconds: (shape.mesh?.corners.count ?? 0) * 0.02 }),
  evaluate({ shape, sharp, spread, gap, strips }, context) {
    const mesh = meshOf(shape, "unwrap", context);
    if (!mesh) return { shape, flat: {} };
    const made = unwrapped(mesh, {
      isSeam: seamsOf(mesh, sharp),
      spread,
      gap,
      straight: strips === "straight",
    });
    context.note(`${made.islands} islands cover ${Math.round(made.covered * 100)} % of the picture.`);
    if (made.folded > 0)
      context.warn(`${made.folded} triangles lie upside down. Let islands look less apart, or add seams.`, {
        input: "spread",
      });
    return { shape: { ...shape, mesh: made.mesh }, flat: { mesh: made.flat } };
  },
});

function seamsOf(mesh: Mesh, sharp: number): Uint8Array {
  const seams = new Uint8Array(topologyOf(mesh).edges.count);
  const marked = withKin({ mesh }, "edges").columns[SEAM];
  for (const [e, bend] of edgeAngles(mesh).entries())
    if (Math.abs(bend) > sharp || (marked?.kind === "number" && marked.lanes[0][e] > 0.5)) seams[e] = 1;
  return seams;
}
