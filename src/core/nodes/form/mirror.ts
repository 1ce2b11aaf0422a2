import { mergeNearPoints } from "../../geometry/cleanup";
import { makeColumn, withColumns } from "../../geometry/column";
import { mergeShapes } from "../../geometry/merge";
import type { Mesh } from "../../geometry/mesh";
import { isFilled, type Shape, timesTally } from "../../geometry/shape";
import { keepFaces, numbersWhere } from "../../geometry/subset";
import { type Placement, transformShape } from "../../geometry/transform";
import { IDENTITY } from "../../maths/quaternion";
import { defineNode } from "../define";
import { choice, length, out, shape, toggle } from "../ports";

const AXIS = { x: 0, y: 1, z: 2 } as const;

export const mirror = defineNode({
  type: "mirror",
  family: "form",
  title: "Mirror",
  about: "The other side of a shape, as seen in a mirror across an axis.",
  synonyms: ["flip", "symmetry", "reflect", "symmetric"],
  inputs: {
    shape: shape({ about: "What is mirrored." }),
    across: choice(["x", "y", "z"], { about: "The axis the mirror stands across." }),
    at: length({ default: 0, soft: [-5, 5], about: "Where on that axis." }),
    keep: toggle({ default: true, about: "Keep the original beside its mirror image." }),
    weld: toggle({
      default: false,
      shownWhen: { input: "keep", is: [true] },
      about:
        "Points of a mesh that meet their image on the mirror become one, so that both sides hang together.",
    }),
  },
  outputs: { shape: out.shape("Both sides, or only the mirrored one.") },
  summary: ({ across }) => `across ${across}`,
  cost: ({ shape, keep }) => timesTally([shape], keep ? 2 : 1),
  evaluate({ shape, across, at, keep, weld }, context) {
    if (!isFilled(shape)) context.warn("Nothing arrives, so there is nothing to mirror.", { input: "shape" });
    const mirrored = reflected(shape, AXIS[across], at);
    if (!keep) return { shape: mirrored };
    const both = mergeShapes([shape, mirrored]);
    return { shape: weld && both.mesh ? { ...both, mesh: welded(both.mesh, AXIS[across], at) } : both };
  },
});

/** Units from the mirror up to which a point lies on it. */
const ON_MIRROR = 1e-4;

/** Points on the mirror put right onto it, and made one with their images. Faces that lie on it would be inside, and go. */
function welded(mesh: Mesh, axis: number, at: number): Mesh {
  const position = mesh.points.columns.position.lanes.map((lane, a) =>
    a === axis ? Float32Array.from(lane, (v) => (Math.abs(v - at) <= ON_MIRROR ? at : v)) : lane,
  );
  const onMirror = (p: number) => position[axis][p] === at;
  const faces = numbersWhere(mesh.faces.count, (f) => {
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
      if (!onMirror(mesh.cornerPoint[c])) return true;
    return false;
  });
  const placed = { ...mesh, points: withColumns(mesh.points, { position: makeColumn("vector", position) }) };
  return mergeNearPoints(faces.length < mesh.faces.count ? keepFaces(placed, faces) : placed, ON_MIRROR);
}

function reflected(shape: Shape, axis: number, at: number): Shape {
  const [move, scale] = [
    [0, 0, 0],
    [1, 1, 1],
  ];
  move[axis] = 2 * at;
  scale[axis] = -1;
  return transformShape(shape, { move, turn: IDENTITY, scale } as unknown as Placement);
}
