import { withKin } from "../../../geometry/across";
import { drawnOut } from "../../../meshes/draw-out";
import { defineNode } from "../../define";
import { choice, field, out, shape } from "../../ports";
import { chosenFaces } from "./chosen-faces";
import { meshOf } from "./input-mesh";

export const drawOut = defineNode({
  type: "draw-out-faces",
  family: "form",
  title: "Draw out faces",
  about:
    "Pushes faces out of a mesh or into it, with walls around them, each as far and as much drawn together as its fields say.",
  synonyms: ["extrude faces", "inset", "bosses", "spikes", "panels", "studs", "greeble", "push out"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    where: field.number({ default: 1, soft: [0, 1], about: "Only faces where this is above 0.5." }),
    distance: field.number({
      default: 0.2,
      soft: [-1, 1],
      unit: "units",
      about: "Along each face's facing.",
    }),
    as: choice(["each face", "together"], {
      about: "By themselves, or with no walls between those beside each other.",
    }),
    inset: field.number({
      default: 0,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "as", is: ["each face"] },
      about: "0 as large as it was, 1 drawn together into a point.",
    }),
  },
  outputs: {
    shape: out.shape("The mesh; faces have `side`: 0 those that stay, 1 the walls, 2 those drawn out."),
  },
  summary: ({ as }) => String(as),
  cost: ({ shape }) => {
    const corners = shape.mesh?.corners.count ?? 0;
    return {
      points: corners,
      faces: corners + (shape.mesh?.faces.count ?? 0),
      milliseconds: corners * 0.002,
    };
  },
  evaluate({ shape, where, distance, as, inset }, context) {
    const mesh = meshOf(shape, "draw out", context);
    if (!mesh) return { shape };
    const [distances, insets] = context.run([distance, inset], withKin(shape, "faces"));
    const chosen = chosenFaces(mesh, where, context);
    if (chosen && !chosen.includes(1)) {
      context.warn("The condition holds for no face, so none is drawn out.", { input: "where" });
      return { shape };
    }
    return {
      shape: {
        ...shape,
        mesh: drawnOut(mesh, { chosen, distance: distances, inset: insets, together: as === "together" }),
      },
    };
  },
});
