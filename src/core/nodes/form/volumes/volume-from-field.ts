import { shapeBounds } from "../../../geometry/bounds";
import { makeColumn } from "../../../geometry/column";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import type { Vec3 } from "../../../maths/vector";
import { fullVolume, placedVoxels, volumeOfValues } from "../../../volumes/from-values";
import { defineNode } from "../../define";
import { choice, field, length, out, shape, toggle, vector } from "../../ports";
import { fine } from "./input-volume";

const WHAT = ["distance", "density"] as const;

export const volumeFromField = defineNode({
  type: "volume-from-field",
  family: "form",
  title: "Volume from field",
  about: "Any field as a volume: a noise, a formula or a falloff becomes a solid, or something like smoke.",
  synonyms: ["implicit surface", "isosurface", "noise volume", "gyroid", "cloud", "voxels", "function"],
  inputs: {
    within: shape({ about: "Its box is filled; without one the box that is set here." }),
    middle: vector({ default: [0, 0, 0], soft: [-5, 5], about: "Of the box." }),
    size: vector({ default: [2, 2, 2], min: 0, soft: [0.1, 10], about: "Of the box." }),
    what: choice(WHAT, {
      about: "A distance is below 0 inside of a surface; a density is above 0 where there is something.",
    }),
    value: field.number({ default: 0, soft: [-1, 1], about: "At the place of each voxel." }),
    band: length({
      default: 0.25,
      min: 0.0001,
      soft: [0.05, 1],
      shownWhen: { input: "what", is: ["distance"] },
      about: "Values are cut off there, on both sides of 0.",
    }),
    isColored: toggle({ default: false, label: "coloured", about: "Whether voxels carry a colour." }),
    color: field.color({
      default: "#e8dcc0",
      shownWhen: { input: "isColored", is: [true] },
      about: "At the place of each voxel.",
    }),
    voxel: length({ default: 0.08, min: 0, soft: [0.02, 0.5], about: "How wide a voxel is." }),
  },
  outputs: { shape: out.shape("The volume alone.") },
  summary: ({ what, voxel }) => `${what}, voxels of ${voxel}`,
  cost({ within, size, voxel }) {
    if (!(voxel > 0)) return {};
    const box = shapeBounds(within);
    const sides = box ? [0, 1, 2].map((a) => box.max[a] - box.min[a]) : size;
    const voxels = sides.reduce((product, side) => product * (side / voxel + 8), 1);
    return { bytes: voxels * 20, milliseconds: voxels * 0.00005 };
  },
  evaluate({ within, middle, size, what, value, band, isColored, color, voxel }, context) {
    if (!(voxel > 0)) {
      context.warn("Voxels have no size, so there is no volume.", { input: "voxel" });
      return { shape: EMPTY_SHAPE };
    }
    const box = shapeBounds(within) ?? {
      min: middle.map((v, a) => v - size[a] / 2) as unknown as Vec3,
      max: middle.map((v, a) => v + size[a] / 2) as unknown as Vec3,
    };
    const full = fine(() => fullVolume(box, voxel));
    const domain = placedVoxels(full);
    const [values, ...rgba] = context.run(isColored ? [value, ...color] : [value], domain);
    const volume = volumeOfValues(
      full,
      values,
      what === "distance" ? band : null,
      isColored ? makeColumn("color", rgba) : undefined,
    );
    if (volume.voxels.count === 0)
      context.warn(
        what === "distance"
          ? "The field is nowhere near 0 in the box, so there is no surface."
          : "The field is nowhere above 0 in the box.",
        { input: "value" },
      );
    return { shape: { volume } };
  },
});
