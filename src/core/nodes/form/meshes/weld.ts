import { withKin } from "../../../geometry/across";
import { mergeNearPoints } from "../../../geometry/cleanup";
import { defineNode } from "../../define";
import { field, length, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

export const weld = defineNode({
  type: "weld",
  family: "form",
  title: "Weld",
  about: "Points of a mesh that lie together become one, so that faces beside each other hang together.",
  synonyms: ["merge points", "join", "stitch", "close seams", "doubles", "fuse"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    distance: length({
      default: 0.001,
      min: 0,
      soft: [0, 0.1],
      about: "Points no further apart become one.",
    }),
    where: field.number({ default: 1, soft: [0, 1], about: "Only points where this is above 0.5." }),
  },
  outputs: { shape: out.shape("The mesh; faces with fewer than three points left are gone.") },
  summary: ({ distance }) => `within ${distance} units`,
  evaluate({ shape, distance, where }, context) {
    const mesh = meshOf(shape, "weld", context);
    if (!mesh) return { shape };
    const made = mergeNearPoints(mesh, distance, context.run([where], withKin({ mesh }, "points"))[0]);
    const gone = mesh.points.count - made.points.count;
    context.note(
      gone === 0 ? "No points lie that near." : `${gone} of ${mesh.points.count} points went into others.`,
    );
    return { shape: { ...shape, mesh: made } };
  },
});
