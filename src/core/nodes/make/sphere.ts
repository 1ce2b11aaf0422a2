import { geodesicMesh, sphereMesh } from "../../geometry/primitives";
import { defineNode } from "../define";
import { choice, integer, length, out } from "../ports";

export const sphere = defineNode({
  type: "sphere",
  family: "make",
  title: "Sphere",
  about: "A ball, built of rings with poles up and down, or evenly of triangles.",
  synonyms: ["ball", "globe", "bead", "round"],
  inputs: {
    radius: length({ default: 0.5, min: 0, soft: [0, 4], about: "From the middle to the surface." }),
    build: choice(["rings", "geodesic"], { about: "Rings and poles, or triangles of nearly the same size." }),
    around: integer({
      default: 24,
      min: 3,
      soft: [3, 96],
      shownWhen: { input: "build", is: ["rings"] },
      about: "Faces around.",
    }),
    rings: integer({
      default: 12,
      min: 2,
      soft: [2, 48],
      shownWhen: { input: "build", is: ["rings"] },
      about: "Bands from pole to pole.",
    }),
    detail: integer({
      default: 2,
      min: 0,
      max: 9,
      soft: [0, 5],
      shownWhen: { input: "build", is: ["geodesic"] },
      about: "How often each of the twenty triangles is split in four.",
    }),
  },
  outputs: { shape: out.shape("The ball as a mesh.") },
  summary: ({ radius }) => `radius ${radius} units`,
  cost: ({ build, around, rings, detail }) => ({
    points: build === "rings" ? around * rings : 10 * 4 ** detail + 2,
    faces: build === "rings" ? around * rings : 20 * 4 ** detail,
  }),
  evaluate: ({ radius, build, around, rings, detail }) => ({
    shape: { mesh: build === "rings" ? sphereMesh(radius, around, rings) : geodesicMesh(radius, detail) },
  }),
});
