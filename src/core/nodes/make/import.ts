import { shapeBounds } from "../../geometry/bounds";
import { flipped, mergeNearPoints, withoutNormals } from "../../geometry/cleanup";
import type { Mesh } from "../../geometry/mesh";
import { EMPTY_SHAPE, type Shape, tallyOf } from "../../geometry/shape";
import { type Placement, transformShape } from "../../geometry/transform";
import { between, IDENTITY, type Quaternion, rotate } from "../../maths/quaternion";
import type { Vec3 } from "../../maths/vector";
import { placedVolume, scaledVolume } from "../../volumes/resample";
import { defineNode } from "../define";
import { fine } from "../form/volumes/input-volume";
import { assetShape, choice, length, number, out, toggle } from "../ports";

/** Metres in one unit of the file. */
const UNITS = { metres: 1, centimetres: 0.01, millimetres: 0.001, inches: 0.0254, feet: 0.3048 } as const;

export const importShape = defineNode({
  type: "import",
  family: "make",
  title: "Import",
  about:
    "A mesh, lines, a point cloud or a volume from a file, with its colours, whole or as a set of its parts.",
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
    "svg",
    "logo",
    "scan",
    "point cloud",
    "nrrd",
    "slices",
    "picture stack",
    "voxels",
    "ct",
    "asset",
    "upload",
  ],
  inputs: {
    file: assetShape({ about: "One of the piece's files." }),
    units: choice(Object.keys(UNITS) as (keyof typeof UNITS)[], {
      about: "What one unit of the file is; here a unit is a metre.",
    }),
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
    join: length({
      default: 0,
      min: 0,
      soft: [0, 0.1],
      about: "Points of the mesh nearer than this become one; 0 leaves them.",
    }),
    flip: toggle({ default: false, about: "Turn all faces round, where they come inside out." }),
    facings: choice(["as in the file", "worked out anew"], {
      about: "Directions for shading; where the file has none they are always worked out.",
    }),
  },
  outputs: {
    shape: out.shape("All that the file holds."),
    parts: out.shape("Its meshes or groups as a set to pick from, each about its own middle."),
  },
  summary: ({ file }) => (file ? String(file) : "no file yet"),
  evaluate({ file, units, scale, up, fit, size, place, join, flip, facings }, context) {
    if (!file) {
      context.warn("No file is chosen yet. Choose one, or drop a file on the studio.", { input: "file" });
      return { shape: EMPTY_SHAPE, parts: EMPTY_SHAPE };
    }
    const mend = (shape: Shape): Shape => {
      if (!shape.mesh) return shape;
      let { mesh }: { mesh?: Mesh } = shape;
      if (join > 0) mesh = mergeNearPoints(mesh, join);
      if (flip) mesh = flipped(mesh);
      if (facings === "worked out anew") mesh = withoutNormals(mesh);
      return { ...shape, mesh };
    };
    const whole = mend(file.shape);
    const turn = up === "z" ? between([0, 0, 1], [0, 1, 0]) : IDENTITY;
    const placement = placeOf(whole, { turn, scale: scale * UNITS[units], fit, size, place });
    const shape = placedWhole(whole, placement);
    const apart = file.parts.length > 0 ? file.parts.map((part) => mend(part.shape)) : [whole];
    context.note(
      sizeReport(
        shape,
        file.parts.map((part) => part.name),
      ),
    );
    return {
      shape,
      parts: {
        sources: apart.map((part) => aboutMiddle(part, placement)),
      },
    };
  },
});

interface Wanted {
  readonly turn: Quaternion;
  readonly scale: number;
  readonly fit: "as it is" | "to a size";
  readonly size: number;
  readonly place: "as it is" | "in the middle" | "on the ground";
}

/** One placement for scale, up axis, fit and place together. */
function placeOf(shape: Shape, { turn, scale, fit, size, place }: Wanted): Placement {
  // Only fitting and placing depend on how large it is.
  const measured = fit === "to a size" || place !== "as it is";
  const turned =
    measured && shapeBounds(placedWhole(shape, { move: [0, 0, 0], turn, scale: [scale, scale, scale] }));
  if (!turned) return { move: [0, 0, 0], turn, scale: [scale, scale, scale] };
  const { min, max } = turned;
  const longest = Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const factor = fit === "to a size" && longest > 0 ? size / longest : 1;
  const all = scale * factor;
  const move: [number, number, number] = [0, 0, 0];
  if (place !== "as it is") for (let a = 0; a < 3; a++) move[a] = (-(min[a] + max[a]) / 2) * factor;
  if (place === "on the ground") move[1] = -min[1] * factor;
  return { move, turn, scale: [all, all, all] };
}

/** Everything in it placed alike. A volume's voxels grow with it; turned or moved, it is read anew on its lattice. */
function placedWhole(shape: Shape, placement: Placement): Shape {
  if (isIdentity(placement)) return shape;
  const { volume, ...others } = transformShape(shape, placement);
  const { move, turn, scale } = placement;
  if (!volume || !(scale[0] > 0)) return others;
  const sized = scaledVolume(volume, scale[0]);
  const rest: Placement = { move, turn, scale: [1, 1, 1] };
  return { ...others, volume: isIdentity(rest) ? sized : fine(() => placedVolume(sized, rest), "file") };
}

const isIdentity = ({ move, turn, scale }: Placement): boolean =>
  turn === IDENTITY && scale.every((s) => s === 1) && move.every((m) => m === 0);

/** A part turned and scaled as the whole, with its own middle at the origin, so that it clones well. */
function aboutMiddle({ volume: _uncloned, ...part }: Shape, { turn, scale }: Placement): Shape {
  const bounds = shapeBounds(part);
  if (!bounds) return part;
  const middle = [0, 1, 2].map((a) => (bounds.min[a] + bounds.max[a]) / 2);
  const at = rotate(turn, middle.map((m, a) => m * scale[a]) as unknown as Vec3);
  return transformShape(part, { move: [-at[0], -at[1], -at[2]], turn, scale });
}

/** What came in, in the units it has here. */
function sizeReport(shape: Shape, parts: readonly string[]): string {
  const bounds = shapeBounds(shape);
  const { sites, points, faces } = tallyOf(shape);
  const counts = [
    sites > 0 ? `${sites} sites` : "",
    points > 0 ? `${points} points` : "",
    faces > 0 ? `${faces} faces` : "",
    shape.volume ? `voxels of ${Number(shape.volume.voxel.toPrecision(3))} units` : "",
  ].filter(Boolean);
  const sides = bounds
    ? [0, 1, 2].map((a) => Number((bounds.max[a] - bounds.min[a]).toPrecision(3))).join(" × ")
    : "0";
  const shown = parts.slice(0, 6).join(", ");
  const names = parts.length > 0 ? ` ${parts.length} parts: ${shown}${parts.length > 6 ? " …" : ""}.` : "";
  return `${counts.join(", ")}; ${sides} units.${names}`;
}
