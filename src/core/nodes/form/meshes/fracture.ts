import { shapeBounds } from "../../../geometry/bounds";
import { placesOf } from "../../../geometry/domains";
import { mergeShapes } from "../../../geometry/merge";
import { type Mesh, pointLanes } from "../../../geometry/mesh";
import { IDENTITY } from "../../../maths/quaternion";
import { aboutItself, asPart, type PartFrame } from "../../../meshes/parts";
import { fractured } from "../../../solids/fracture";
import { SOLIDS } from "../../../solids/solid";
import { defineNode } from "../../define";
import { choice, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";
import { mustBeSolid } from "./must-be-solid";
import { clonesOfParts } from "./part-clones";

export const fracture = defineNode({
  type: "fracture",
  family: "form",
  title: "Fracture",
  about:
    "Breaks a solid into pieces, one around each site, with faces inside; put together they are the solid again.",
  synonyms: ["break", "shatter", "voronoi", "shards", "crack", "split", "pieces", "debris"],
  inputs: {
    shape: shape({ about: "A closed mesh." }),
    around: shape({
      about:
        "Sites within it: where they are dense, pieces are small. Scatter sites and Fill sites make them.",
    }),
    as: choice(["clones", "one mesh"], {
      about:
        "A clone for each piece that everything for clones can drive, or one mesh whose faces know their piece.",
    }),
  },
  outputs: {
    shape: out.shape("The pieces; `part` is the number of each, faces have `side`: 1 inside, 0 outside."),
  },
  needs: [SOLIDS],
  summary: ({ as }) => String(as),
  cost: ({ shape, around }) => {
    const [faces, pieces] = [shape.mesh?.corners.count ?? 0, placesOf(around)?.count ?? 0];
    return {
      sites: pieces,
      points: faces + pieces * 40,
      faces: faces + pieces * 40,
      milliseconds: pieces * (4 + faces * 0.004),
    };
  },
  evaluate({ shape, around, as }, context) {
    const mesh = meshOf(shape, "break", context);
    const sites = placesOf(around);
    if (!mesh) return { shape };
    if (!sites || sites.count < 2) {
      context.warn("Fewer than two sites arrive, so it stays in one piece.", { input: "around" });
      return { shape };
    }
    mustBeSolid(mesh, "What arrives", "shape");
    const bounds = shapeBounds({ mesh });
    const pieces = bounds ? fractured(mesh, bounds, sites.columns.position.lanes as Float32Array[]) : [];
    if (pieces.length < sites.count)
      context.note(
        `${pieces.length} pieces of ${sites.count} sites: the cells of the others lie outside of it.`,
      );
    const frames = pieces.map(frameOf);
    if (as === "clones")
      return {
        shape: clonesOfParts(
          pieces.map((piece, i) => aboutItself(piece, frames[i])),
          frames,
        ),
      };
    return { shape: mergeShapes(pieces.map((piece, i) => ({ mesh: asPart(piece, i, frames[i]) }))) };
  },
});

/** About its middle, standing as the whole does: pieces face nowhere. */
function frameOf(piece: Mesh): PartFrame {
  const middle = pointLanes(piece).map((lane) => lane.reduce((sum, v) => sum + v, 0) / lane.length);
  return { middle: [middle[0], middle[1], middle[2]], facing: [0, 0, 0], turn: IDENTITY };
}
