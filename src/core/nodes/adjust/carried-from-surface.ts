/** An attribute of a surface as a field over other elements: of the nearest place, where a ray meets it, or at the same place of a picture. */
import {
  apply,
  column,
  constant,
  positionField,
  scaleBy,
  type Value,
  type VectorField,
} from "../../fields/expression";
import { LANES, makeColumn } from "../../geometry/column";
import { type Mesh, makeMesh } from "../../geometry/mesh";
import { SurfaceTable } from "../../spatial/surface-table";
import type { NodeContext } from "../define";
import { ofSurface } from "../drive/found-attribute";
import { closestOn, raysOnto } from "../surface-queries";

export const SURFACE_WAYS = [
  "the nearest place on its surface",
  "where facings meet its surface",
  "the same place of a picture",
] as const;
export type SurfaceWay = (typeof SURFACE_WAYS)[number];

export interface FromSurface {
  /** The components of the attribute, 1 where it was found, and how far away. */
  readonly values: readonly Value[];
  readonly found: Value;
  readonly distance: Value;
}

/** Null when the surface has no faces. Elements that are looked from have `normal` or `uv`, as the way asks. */
export function fromSurface(
  mesh: Mesh,
  attribute: string,
  way: SurfaceWay,
  most: number,
  context: NodeContext,
): FromSurface | null {
  const asked = way === "the same place of a picture" ? onPicture(mesh) : mesh;
  const table = asked && SurfaceTable.of(asked);
  if (!asked || !table) return null;
  const carried = ofSurface(asked, attribute, context);
  const count = LANES[carried.kind];
  if (way === "where facings meet its surface") {
    const facing = [0, 1, 2].map((a) => column("normal", a)) as unknown as VectorField;
    const back = facing.map((v) => scaleBy(v, constant(-1))) as unknown as VectorField;
    const [ahead, behind] = [facing, back].map((ray) =>
      raysOnto(table, positionField(), ray, carried, { behind: 0, most, bothSides: true }),
    );
    // Whichever is nearer of what lies ahead and behind.
    const nearer = apply("less", [behind[1], ahead[1]]);
    const turns = apply("select", [behind[0], scaleBy(behind[0], nearer), ahead[0]]);
    const chosen = (i: number) => apply("select", [ahead[i], behind[i], turns]);
    return {
      values: Array.from({ length: count }, (_, l) => chosen(8 + l)),
      found: apply("maximum", [ahead[0], behind[0]]),
      distance: chosen(1),
    };
  }
  const at: VectorField =
    way === "the same place of a picture" ? [column("uv", 0), column("uv", 1), constant(0)] : positionField();
  const [distance, ...rest] = closestOn(table, at, carried);
  return { values: rest.slice(4, 4 + count), found: constant(1), distance };
}

/** The surface as it lies on a picture, its points where their corners are; null when it does not lie on any. */
function onPicture(mesh: Mesh): Mesh | null {
  const uv = mesh.corners.columns.uv;
  if (uv?.kind !== "pair") return null;
  const [u, v] = uv.lanes as readonly Float32Array[];
  const points = Object.fromEntries(
    Object.entries(mesh.points.columns)
      .filter(([name]) => name !== "position" && name !== "uv")
      .map(([name, { kind, lanes }]) => [
        name,
        makeColumn(
          kind,
          lanes.map((lane) =>
            lane instanceof Int32Array
              ? Int32Array.from(mesh.cornerPoint, (p) => lane[p])
              : Float32Array.from(mesh.cornerPoint, (p) => lane[p]),
          ),
        ),
      ]),
  );
  return makeMesh({
    position: [u, v, new Float32Array(u.length)],
    faceStarts: mesh.faceStarts,
    cornerPoint: Int32Array.from(u, (_, c) => c),
    pointColumns: points,
    cornerColumns: mesh.corners.columns,
  });
}
