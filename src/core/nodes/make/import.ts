import { shapeBounds } from "../../geometry/bounds";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { transformShape } from "../../geometry/transform";
import { between, IDENTITY } from "../../maths/quaternion";
import { defineNode } from "../define";
import { assetShape, choice, length, number, out } from "../ports";

export const importShape = defineNode({
  type: "import",
  family: "make",
  title: "Import",
  about: "A mesh or a point cloud from a file, with its colours.",
  synonyms: [
    "file",
    "load",
    "open",
    "model",
    "obj",
    "glb",
    "gltf",
    "ply",
    "stl",
    "csv",
    "scan",
    "point cloud",
    "asset",
    "upload",
  ],
  inputs: {
    file: assetShape({ about: "One of the piece's files." }),
    scale: number({ default: 1, min: 0, soft: [0, 10], about: "Times the size in the file." }),
    up: choice(["y", "z"], { about: "The axis that points up in the file." }),
    fit: choice(["as it is", "to a size"], {
      about: "Keep the file's size or bring the longest side to one.",
    }),
    size: length({
      default: 2,
      min: 0,
      soft: [0, 10],
      shownWhen: { input: "fit", is: ["to a size"] },
      about: "Longest side.",
    }),
    place: choice(["as it is", "in the middle", "on the ground"], { about: "Where it sits." }),
  },
  outputs: { shape: out.shape("What the file holds.") },
  summary: ({ file }) => (file ? String(file) : "no file yet"),
  evaluate({ file, scale, up, fit, size, place }, context) {
    if (!file) {
      context.warn("No file is chosen yet. Choose one, or drop a file on the studio.", { input: "file" });
      return { shape: EMPTY_SHAPE };
    }
    const turn = up === "z" ? between([0, 0, 1], [0, 1, 0]) : IDENTITY;
    const turned = transformShape(file, { move: [0, 0, 0], turn, scale: [scale, scale, scale] });
    const bounds = shapeBounds(turned);
    if (!bounds) return { shape: turned };
    const { min, max } = bounds;
    const longest = Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
    const factor = fit === "to a size" && longest > 0 ? size / longest : 1;
    const middle = [0, 1, 2].map((a) => (-(min[a] + max[a]) / 2) * factor) as [number, number, number];
    if (place === "as it is") middle.fill(0);
    if (place === "on the ground") middle[1] = -min[1] * factor;
    if (factor === 1 && middle.every((m) => m === 0)) return { shape: turned };
    return {
      shape: transformShape(turned, { move: middle, turn: IDENTITY, scale: [factor, factor, factor] }),
    };
  },
});
