/** What nodes ask a surface, as fields: the closest place on it, and where rays meet it. */
import { applyAll, type Value, type VectorField } from "../fields/expression";
import { freshKey } from "../fields/fresh-key";
import type { Lane } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { SurfaceTable } from "../spatial/surface-table";
import type { NodeContext } from "./define";
import type { Carried } from "./drive/found-attribute";

export const NOTHING_CARRIED: Carried = { lanes: [], kind: "number", byCorner: false };

/** The surface of an input; the node keeps it, and what moved alone is fitted anew. null where there are no faces. */
export const surfaceTableOf = (mesh: Mesh | undefined, context: NodeContext): SurfaceTable | null =>
  context.reuse<SurfaceTable | null>(
    (before) => (mesh ? SurfaceTable.of(mesh, before) : null),
    (made) => made?.lanes ?? [],
  );

const asked = (table: SurfaceTable, carried: Carried) => ({
  ...carried,
  key: freshKey(),
  surface: table.address,
  carried: carried.lanes,
  lanes: [...table.lanes, ...carried.lanes] as readonly Lane[],
});

/** As the operation `closest`. @param most units: what is further away need not be the closest */
export const closestOn = (
  table: SurfaceTable,
  place: VectorField,
  carried: Carried,
  most = Number.POSITIVE_INFINITY,
): Value[] => applyAll("closest", place, { ...asked(table, carried), most });

/** As the operation `castRay`. @param behind units before the place at which rays begin */
export const raysOnto = (
  table: SurfaceTable,
  place: VectorField,
  direction: VectorField,
  carried: Carried,
  limits: { readonly behind: number; readonly most: number; readonly bothSides: boolean },
): Value[] => applyAll("castRay", [...place, ...direction], { ...asked(table, carried), ...limits });
