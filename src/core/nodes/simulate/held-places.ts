/** Places brought onto a surface, or back within walls. */
import { positionField, type VectorField } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { makeColumn } from "../../geometry/column";
import type { Mesh } from "../../geometry/mesh";
import { pointNormals } from "../../geometry/normals";
import type { Hold } from "../../growth/lines";
import { Arena } from "../../kernels/arena";
import { Inside } from "../../spatial/inside";
import { SurfaceTable } from "../../spatial/surface-table";
import { closestOn } from "../surface-queries";

type Lanes = readonly Float32Array[];

/** What is asked of a surface that stands still, at every frame and round: made once for each mesh, and given back when it is forgotten. */
interface Asked {
  readonly table: SurfaceTable | null;
  readonly facings: readonly Float32Array[];
}

const asked = new WeakMap<Mesh, Asked>();

function askedOf(mesh: Mesh): Asked {
  let known = asked.get(mesh);
  if (!known) {
    known = { table: new Arena().within(() => SurfaceTable.of(mesh)), facings: pointNormals(mesh) };
    asked.set(mesh, known);
  }
  return known;
}

/** Nearest places on a mesh, and its facings there: six lanes. Works in the current arena. */
export function nearestOn(mesh: Mesh, places: Lanes): Lanes | null {
  const { table, facings } = askedOf(mesh);
  if (!table) return null;
  const found = closestOn(table, positionField(), { lanes: facings, kind: "vector", byCorner: false });
  const wanted = [...found.slice(1, 4), ...found.slice(5, 8)] as unknown as VectorField;
  const domain = { count: places[0].length, columns: { position: makeColumn("vector", places) } };
  return runValues(wanted, domain, { onlyFinite: true }).lanes;
}

/** Puts all places onto a surface. */
export const heldOn =
  (mesh: Mesh): Hold =>
  (places) => {
    const found = places[0].length > 0 ? nearestOn(mesh, places) : null;
    if (found) for (let a = 0; a < 3; a++) places[a].set(found[a]);
  };

/** Puts those that have left a closed mesh back to the nearest place on it. */
export function heldWithin(mesh: Mesh): Hold {
  const inside = new Inside(mesh);
  return (places) => {
    const out: number[] = [];
    const [x, y, z] = places;
    for (let i = 0; i < x.length; i++) if (!inside.contains(x[i], y[i], z[i])) out.push(i);
    if (out.length === 0) return;
    const found = nearestOn(
      mesh,
      places.map((lane) => Float32Array.from(out, (i) => lane[i])),
    );
    if (found) for (let a = 0; a < 3; a++) for (const [n, i] of out.entries()) places[a][i] = found[a][n];
  };
}
