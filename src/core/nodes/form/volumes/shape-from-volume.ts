import { EMPTY_SHAPE } from "../../../geometry/shape";
import { USUAL_DENSITY } from "../../../geometry/volume";
import { withSharpEdges } from "../../../volumes/sharp-edges";
import { blocksOf, surfaceOf } from "../../../volumes/surface-nets";
import { defineNode } from "../../define";
import { choice, number, out, shape, toggle } from "../../ports";
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
  },
  outputs: { shape: out.shape("The mesh, closed, with the colours of the voxels.") },
  summary: (set) => String(set.as),
  cost: ({ shape: { volume } }) => ({
    faces: volume ? volume.voxels.count / 6 : 0,
    milliseconds: (volume?.voxels.count ?? 0) * 0.0001,
  }),
  evaluate({ shape, as, level, isSharp }, context) {
    const volume = volumeOf(shape, "make a mesh of", context);
    if (!volume) return { shape };
    const at = volume.voxels.columns.distance || level !== 0 ? level : USUAL_DENSITY;
    const mesh = (as === "blocks" ? blocksOf : surfaceOf)(volume, { level: at });
    if (!mesh) context.warn("Nothing of the volume lies on that level.", { input: "level" });
    if (!mesh) return { shape: EMPTY_SHAPE };
    return { shape: { mesh: isSharp && as !== "blocks" ? withSharpEdges(mesh, volume, at) : mesh } };
  },
});
