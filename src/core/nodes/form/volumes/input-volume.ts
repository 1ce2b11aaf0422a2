/** What nodes have in common that work on volumes. */
import type { Shape } from "../../../geometry/shape";
import { TILE, type Volume } from "../../../geometry/volume";
import { toldTo } from "../../../volumes/reshape";
import { TooFine } from "../../../volumes/tiles";
import { type NodeContext, NodeError } from "../../define";

/** Null, with a warning, when none arrives. @param to what cannot be done without one: "melt" */
export function volumeOf(
  { volume, mesh }: Shape,
  to: string,
  context: Pick<NodeContext, "warn">,
  input = "shape",
): Volume | null {
  if (volume && volume.voxels.count > 0) return volume;
  context.warn(
    mesh
      ? `A mesh arrives, and no volume to ${to}. Put "Volume from shape" before it.`
      : `No volume arrives, so there is nothing to ${to}.`,
    { input },
  );
  return null;
}

/** Whether its voxels have an attribute; with a warning that names those they have when they do not. */
export function hasAttribute(
  { voxels }: Volume,
  name: string,
  context: Pick<NodeContext, "warn">,
  input = "attribute",
): boolean {
  if (voxels.columns[name]) return true;
  const there = Object.keys(voxels.columns).join(", ");
  context.warn(`Voxels have no attribute "${name}"; they have ${there}.`, { input });
  return false;
}

/** `volumeOf` for what works on distances: told at least so far. */
export function distancesOf(
  shape: Shape,
  to: string,
  band: number,
  context: Pick<NodeContext, "warn">,
  input = "shape",
): Volume | null {
  const volume = volumeOf(shape, to, context, input);
  if (!volume) return null;
  if (!volume.voxels.columns.distance) {
    context.warn(
      `A volume of densities arrives, and no surface to ${to}. Make its surface, and a volume of that.`,
      { input },
    );
    return null;
  }
  const told = fine(() => toldTo(volume, band), input);
  if (!told) context.warn("The volume has no surface, so nothing is changed.", { input });
  return told;
}

/** Runs what may need more tiles than can be held. @throws NodeError in words */
export function fine<T>(work: () => T, input = "voxel"): T {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof TooFine)) throw error;
    throw new NodeError("That many voxels fit into no memory. Make the voxels larger.", input);
  }
}

/** Bytes of a volume around a surface. @param area square units @param band units on each side */
export function bandCost(area: number, band: number, voxel: number): { bytes: number; milliseconds: number } {
  if (!(voxel > 0)) return { bytes: 0, milliseconds: 0 };
  const thick = 2 * Math.max(band, 2 * voxel) + TILE * voxel;
  const voxels = (area * thick) / voxel ** 3;
  return { bytes: voxels * 12, milliseconds: voxels * 0.0006 };
}
