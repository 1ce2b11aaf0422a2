import { flipped, withoutNormals } from "../../../geometry/cleanup";
import { meshVolume } from "../../../geometry/measure";
import { withFacings } from "../../../meshes/facings";
import { defineNode } from "../../define";
import { angle, choice, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

export const facings = defineNode({
  type: "facings",
  family: "form",
  title: "Facings",
  about: "Which way a mesh looks: round or with edges, by an angle, turned inside out or outwards.",
  synonyms: [
    "normals",
    "shade smooth",
    "flat",
    "hard edges",
    "flip",
    "inside out",
    "auto smooth",
    "recalculate",
  ],
  inputs: {
    shape: shape({ about: "A mesh." }),
    faces: choice(["stay", "are turned round", "look outwards"], {
      about: "Whether faces are turned round: all, or, of what is closed, all when it is inside out.",
    }),
    looks: choice(["round up to an angle", "flat", "as points are"], {
      about:
        "How it is shaded: edges seen from an angle on, each face by itself, or as it is when nobody says.",
    }),
    sharp: angle({
      default: 40,
      min: 0,
      max: 180,
      soft: [0, 180],
      shownWhen: { input: "looks", is: ["round up to an angle"] },
      about: "Edges that bend by more are seen.",
    }),
  },
  outputs: {
    shape: out.shape(
      "The same, with facings on its corners; they are worked out anew where points are moved later.",
    ),
  },
  summary: ({ looks, sharp }) => (looks === "round up to an angle" ? `edges from ${sharp}°` : String(looks)),
  cost: ({ shape }) => ({ milliseconds: (shape.mesh?.corners.count ?? 0) * 0.001 }),
  evaluate({ shape, faces, looks, sharp }, context) {
    const input = meshOf(shape, "look at", context);
    if (!input) return { shape };
    const isTurned = faces === "are turned round" || (faces === "look outwards" && meshVolume(input) < 0);
    const mesh = isTurned ? flipped(input) : input;
    const made =
      looks === "as points are" ? withoutNormals(mesh) : withFacings(mesh, looks === "flat" ? 0 : sharp);
    return { shape: { ...shape, mesh: made } };
  },
});
