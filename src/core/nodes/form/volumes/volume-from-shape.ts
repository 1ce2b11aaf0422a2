import { withKin } from "../../../geometry/across";
import { shapeBounds } from "../../../geometry/bounds";
import type { Column } from "../../../geometry/column";
import { segments } from "../../../geometry/curves";
import { DOMAINS, placedName } from "../../../geometry/domains";
import { meshArea } from "../../../geometry/measure";
import { EMPTY_SHAPE, type Shape } from "../../../geometry/shape";
import type { Volume } from "../../../geometry/volume";
import { volumeOfBalls } from "../../../volumes/from-balls";
import { volumeOfMesh } from "../../../volumes/from-mesh";
import { defineNode, type NodeContext } from "../../define";
import { choice, field, integer, length, out, shape } from "../../ports";
import { bandCost, fine } from "./input-volume";

const OF = ["what is there", "its points as balls"] as const;
const FILLS = ["what it encloses", "a sheet"] as const;
const BY = ["a size", "a number along its longest side"] as const;

/** Units of a voxel. */
const voxelOf = (
  shape: Shape,
  { by, voxel, along }: { by: (typeof BY)[number]; voxel: number; along: number },
): number => {
  if (by === "a size") return voxel;
  const bounds = shapeBounds(shape);
  return bounds ? Math.max(...[0, 1, 2].map((a) => bounds.max[a] - bounds.min[a])) / along || voxel : voxel;
};

export const volumeFromShape = defineNode({
  type: "volume-from-shape",
  family: "form",
  title: "Volume from shape",
  about:
    "How far each small cube of space is from a shape: to melt it into others, to hollow, dent and fill it.",
  synonyms: [
    "voxels",
    "signed distance field",
    "sdf",
    "level set",
    "implicit",
    "voxelise",
    "metaballs",
    "blob",
    "remesh",
  ],
  inputs: {
    shape: shape({ about: "A mesh, curves, points or sites." }),
    of: choice(OF, { about: "A mesh as it is; or its points, as sites and curves always are: balls." }),
    fills: choice(FILLS, {
      shownWhen: { input: "of", is: ["what is there"] },
      about: "Of a mesh: what lies inside of a closed one, or the faces themselves as a sheet.",
    }),
    thickness: length({
      default: 0.1,
      min: 0,
      soft: [0.01, 1],
      shownWhen: { input: "fills", is: ["a sheet"] },
      about: "How thick the sheet is; less than a voxel has holes.",
    }),
    radius: field.number({
      default: 0.2,
      min: 0,
      soft: [0, 1],
      unit: "units",
      about: "Of the ball at each site or point; curves are as thick as twice that.",
    }),
    by: choice(BY, { label: "voxels by", about: "How fine it is." }),
    voxel: length({
      default: 0.08,
      min: 0,
      soft: [0.02, 0.5],
      shownWhen: { input: "by", is: ["a size"] },
      about: "How wide a voxel is. Volumes of one size are melted together exactly.",
    }),
    along: integer({
      default: 48,
      min: 2,
      soft: [8, 200],
      shownWhen: { input: "by", is: ["a number along its longest side"] },
      about: "How many voxels the shape is long.",
    }),
    band: length({
      default: 0.25,
      min: 0,
      soft: [0, 1],
      about: "How far from the surface distances are told, on both sides; two voxels at least.",
    }),
  },
  outputs: {
    shape: out.shape("The volume alone: voxels have `distance`, below 0 inside, and the shape's colour."),
  },
  summary: ({ by, voxel, along }) => (by === "a size" ? `voxels of ${voxel}` : `${along} voxels long`),
  cost(inputs) {
    const { shape, of, band, radius } = inputs;
    const voxel = voxelOf(shape, inputs);
    const isMesh = shape.mesh !== undefined && of === "what is there";
    const count = isMesh ? 0 : (DOMAINS[placedName(shape) ?? "sites"].of(shape)?.count ?? 0);
    // What a field says of radii is not known yet.
    const area = isMesh && shape.mesh ? meshArea(shape.mesh) : count * 4 * Math.PI * sizeOf(radius) ** 2;
    return bandCost(area, band, voxel);
  },
  evaluate(inputs, context) {
    const { shape, of, fills, thickness, band } = inputs;
    const voxel = voxelOf(shape, inputs);
    if (!(voxel > 0)) {
      context.warn("Voxels have no size, so there is no volume.", { input: "voxel" });
      return { shape: EMPTY_SHAPE };
    }
    const { mesh } = shape;
    if (!mesh || mesh.faces.count === 0 || of !== "what is there") {
      const volume = balls(inputs, voxel, context);
      return { shape: volume ? { volume } : EMPTY_SHAPE };
    }
    const isSheet = fills === "a sheet";
    const made = fine(() => volumeOfMesh(mesh, { voxel, band, thickness: isSheet ? thickness : null }));
    if (!made) return { shape: EMPTY_SHAPE };
    if (made.isOpen)
      context.warn(
        "The mesh is open, so what it encloses is only what most rows of voxels say. Close its holes, or take it as a sheet.",
        { input: "shape", repair: { label: "As a sheet", input: "fills", value: "a sheet" } },
      );
    return { shape: { volume: made.volume } };
  },
});

/** The radius where it is one number for all; else a guess. */
const sizeOf = (radius: unknown): number => (typeof radius === "number" ? radius : 0.2);

function balls(
  { shape, radius, band }: { shape: Shape; radius: Parameters<NodeContext["run"]>[0][number]; band: number },
  voxel: number,
  context: NodeContext,
): Volume | null {
  const on = placedName(shape);
  if (!on) {
    context.warn("Nothing arrives, so there is no volume.", { input: "shape" });
    return null;
  }
  const domain = withKin(shape, on);
  const [radii] = context.run([radius], domain);
  const color: Column | undefined = domain.columns.color;
  const links = on === "curve points" ? linksOf(shape) : undefined;
  const volume = fine(() =>
    volumeOfBalls(
      {
        places: domain.columns.position.lanes,
        radii,
        ...(color?.kind === "color" ? { colors: color.lanes } : {}),
        ...(links ? { links } : {}),
      },
      voxel,
      band,
    ),
  );
  if (!volume) context.warn("All radii are 0, so there is no volume.", { input: "radius" });
  return volume;
}

/** Pairs of points that follow each other on a curve; the point of a curve that has no other twice. */
function linksOf({ curves }: Shape): Int32Array | undefined {
  if (!curves) return undefined;
  const alone: number[] = [];
  for (let k = 0; k < curves.curves.count; k++) {
    const first = curves.curveStarts[k];
    if (curves.curveStarts[k + 1] - first === 1) alone.push(first, first);
  }
  return Int32Array.from([...segments(curves), ...alone]);
}
