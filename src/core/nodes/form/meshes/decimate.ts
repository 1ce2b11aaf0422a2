import { plainNumber } from "../../../fields/expression";
import { withKin } from "../../../geometry/across";
import { decimated, SIMPLIFYING } from "../../../meshes/decimate";
import { triangulated } from "../../../meshes/triangulated";
import { defineNode } from "../../define";
import { choice, field, integer, number, out, shape, toggle } from "../../ports";
import { meshOf } from "./input-mesh";

export const decimate = defineNode({
  type: "decimate",
  family: "form",
  title: "Decimate",
  about: "Fewer triangles that look as the many did: most go where it is flat.",
  synonyms: ["reduce", "simplify mesh", "fewer faces", "low poly", "optimise", "lighter", "poly count"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    by: choice(["a part", "a count"], { about: "How it is said how many are left." }),
    part: number({
      default: 0.25,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "by", is: ["a part"] },
      about: "Of the triangles, which is left.",
    }),
    count: integer({
      default: 1000,
      min: 4,
      soft: [4, 20_000],
      shownWhen: { input: "by", is: ["a count"] },
      about: "Triangles that are left.",
    }),
    keep: field.number({ default: 0, soft: [0, 1], about: "Points where this is above 0.5 stay." }),
    borders: toggle({ default: true, label: "keep borders", about: "Open borders stay as they are." }),
  },
  outputs: {
    shape: out.shape(
      "The mesh in triangles, with what it carries; points that are left stand where they did.",
    ),
  },
  needs: [SIMPLIFYING],
  summary: ({ by, part, count }) =>
    by === "a part" ? `${Math.round(Number(part) * 100)} % are left` : `${count} are left`,
  cost: ({ shape, by, part, count }) => {
    const corners = shape.mesh?.corners.count ?? 0;
    return { faces: by === "a part" ? corners * part : count, milliseconds: corners * 0.003 };
  },
  evaluate({ shape, by, part, count, keep, borders }, context) {
    const input = meshOf(shape, "simplify", context);
    if (!input) return { shape };
    const mesh = triangulated(input);
    const wanted = by === "a part" ? mesh.faces.count * part : count;
    if (wanted >= mesh.faces.count) return { shape };
    const keeps =
      plainNumber(keep) === 0
        ? null
        : Uint8Array.from(context.run([keep], withKin({ mesh }, "points"))[0], (value) =>
            value > 0.5 ? 1 : 0,
          );
    const made = decimated(mesh, wanted, keeps, borders);
    context.note(
      `${made.mesh.faces.count} of ${mesh.faces.count} triangles are left; the surface moved by ${made.error.toPrecision(2)} units at most, about.`,
    );
    return { shape: { ...shape, mesh: made.mesh } };
  },
});
