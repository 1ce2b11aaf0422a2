import { EMPTY_SHAPE } from "../../../geometry/shape";
import { USUAL_DENSITY } from "../../../geometry/volume";
import { decimated, SIMPLIFYING } from "../../../meshes/decimate";
import { triangulated } from "../../../meshes/triangulated";
import { withSharpEdges } from "../../../volumes/sharp-edges";
import { blocksOf, surfaceOf } from "../../../volumes/surface-nets";
import { defineNode } from "../../define";
import { choice, length, number, out, shape, toggle } from "../../ports";
import { volumeOf } from "./input-volume";

const AS = ["a smooth surface", "blocks"] as const;

export const shapeFromVolume = defineNode({
  type: "shape-from-volume",
  family: "form",
  title: "Shape from volume",
  about:
    "The surface of a volume as a mesh of even, four-sided faces, with sharp edges if you like, or its voxels as blocks.",
  synonyms: ["isosurface", "marching cubes", "surface nets", "polygonise", "mesh", "voxel blocks", "remesh"],
  inputs: {
    shape: shape({ about: "A volume." }),
    as: choice(AS, { about: "A surface between the voxels, or the voxels themselves without inner walls." }),
    level: number({
      default: 0,
      soft: [-0.5, 0.5],
      about: "Which distance is the surface, or which density: 0 stands for 0.5 there.",
    }),
    isSharp: toggle({
      default: false,
      label: "sharp edges",
      shownWhen: { input: "as", is: ["a smooth surface"] },
      about: "Points go where the sides meet that pass them, so that edges and corners are not rounded off.",
    }),
    off: length({
      default: 0,
      min: 0,
      soft: [0, 0.05],
      label: "fewer where flat",
      about:
        "Units that the surface may be off by, for triangles that are larger where it is flat; 0 leaves even faces.",
    }),
  },
  needs: [SIMPLIFYING],
  outputs: { shape: out.shape("The mesh, closed, with the colours of the voxels.") },
  summary: (set) => String(set.as),
  cost: ({ shape: { volume } }) => ({
    faces: volume ? volume.voxels.count / 6 : 0,
    milliseconds: (volume?.voxels.count ?? 0) * 0.0001,
  }),
  evaluate({ shape, as, level, isSharp, off }, context) {
    const volume = volumeOf(shape, "make a mesh of", context);
    if (!volume) return { shape };
    const at = volume.voxels.columns.distance || level !== 0 ? level : USUAL_DENSITY;
    const mesh = (as === "blocks" ? blocksOf : surfaceOf)(volume, { level: at });
    if (!mesh) context.warn("Nothing of the volume lies on that level.", { input: "level" });
    if (!mesh) return { shape: EMPTY_SHAPE };
    const shown = isSharp && as !== "blocks" ? withSharpEdges(mesh, volume, at) : mesh;
    if (off === 0) return { shape: { mesh: shown } };
    const { mesh: fewer } = decimated(triangulated(shown), 0, null, false, off);
    context.note(`${fewer.faces.count} triangles instead of ${shown.faces.count} even faces.`);
    return { shape: { mesh: fewer } };
  },
});
