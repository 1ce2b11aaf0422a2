import { applyAll, constant, type Value } from "../../fields/expression";
import { freshKey } from "../../fields/fresh-key";
import { lanesIn } from "../../geometry/column";
import { VolumeQuestions } from "../../volumes/questions";
import { defineNode } from "../define";
import { hasAttribute, volumeOf } from "../form/volumes/input-volume";
import { field, out, shape, text } from "../ports";

export const volumeSample = defineNode({
  type: "volume-sample",
  family: "drive",
  title: "Volume sample",
  about:
    "What a volume says where each element is: how deep it lies, which way is out, whether it is inside.",
  synonyms: ["voxel value", "signed distance", "density", "gradient", "inside", "depth", "sdf"],
  inputs: {
    shape: shape({ about: "A volume." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is read; the element's position unless linked.",
    }),
    attribute: text({
      default: "",
      about: "Another attribute of the voxels than their distance or density, by its name.",
    }),
  },
  outputs: {
    value: out.number("Distance, below 0 inside, as far as it is told; or the density."),
    inside: out.number("1 inside, 0 outside."),
    vector: out.vector(
      "An attribute of three numbers, as `velocity` is: to carry particles, as a wind or a flow.",
    ),
    gradient: out.vector("Which way the value rises, by how much a unit; of distances the way out."),
  },
  summary: ({ attribute }) => String(attribute || "distance or density"),
  evaluate({ shape, place, attribute }, context) {
    const volume = volumeOf(shape, "read", context);
    if (!volume) return nothing();
    if (attribute && !hasAttribute(volume, attribute, context)) return nothing();
    const questions = new VolumeQuestions(volume, attribute);
    const [value, inside, x, y, z, vx, vy, vz] = applyAll("inVolume", place, {
      key: freshKey(),
      questions,
      lanes: [volume.table, ...lanesIn(volume.voxels)],
    });
    return { value, inside, vector: [vx, vy, vz] as const, gradient: [x, y, z] as const };
  },
});

function nothing() {
  const zero: Value = constant(0);
  const none = [zero, zero, zero] as const;
  return { value: zero, inside: zero, vector: none, gradient: none };
}
