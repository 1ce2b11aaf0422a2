/** Copies to plain triangles in world space, for formats that know no copies. */
import { tick } from "../../cancelling";
import type { DrawBatch, Drawing } from "../../draw/drawing";
import { type DrawGeometry, triangulate } from "../../draw/triangulate";
import { LOOK_WIDTH, saidOr, UNSAID } from "../../geometry/surface-look";
import { cofactorMatrix } from "../../maths/matrix";
import { FormatError } from "../format-error";

/** Vertices written at most; beyond it a file no longer opens anywhere. */
const MAX_BAKED_VERTICES = 20_000_000;

export const NO_FACES =
  "There are no faces to write; lines and sites without a shape are left out of this format.";

/**
 * Every batch baked.
 * @param laid for formats that hold where pictures lie: vertices are split along their seams then
 * @throws FormatError when there is nothing to write or too much
 */
export function bakeBatches(drawing: Drawing, laid: boolean): DrawGeometry[] {
  const parts = drawing.batches
    .map((batch) => ({ batch, geometry: triangulate(batch.mesh, laid) }))
    .filter(({ geometry }) => geometry.indices.length > 0);
  if (parts.length === 0) throw new FormatError(NO_FACES);
  const vertices = parts.reduce(
    (sum, { batch, geometry }) => sum + (geometry.positions.length / 3) * batch.count,
    0,
  );
  if (vertices > MAX_BAKED_VERTICES) {
    throw new FormatError(
      `Baking would write ${vertices} vertices; the limit is ${MAX_BAKED_VERTICES}. Choose GLB with shared copies.`,
    );
  }
  return parts.map(({ batch, geometry }) => bake(geometry, batch));
}

/** Every copy's vertices in world space; normals by the inverse transpose, mirrored copies turned round. */
function bake(geometry: DrawGeometry, batch: DrawBatch): DrawGeometry {
  const vertices = geometry.positions.length / 3;
  const corners = geometry.indices.length;
  const positions = new Float32Array(vertices * batch.count * 3);
  const normals = new Float32Array(vertices * batch.count * 3);
  const colors = new Float32Array(vertices * batch.count * 4);
  const uvs = geometry.uvs ? new Float32Array(vertices * batch.count * 2) : undefined;
  const indices = new Uint32Array(corners * batch.count);
  const looks =
    geometry.looks || batch.looks ? new Float32Array(vertices * batch.count * LOOK_WIDTH) : undefined;
  for (let i = 0; i < batch.count; i++) {
    tick(vertices);
    const first = i * vertices;
    const mirrored = bakePoints(geometry, batch.matrices, i, positions, normals);
    bakeColors(geometry, batch.colors, i, colors);
    if (looks) bakeLooks(geometry, batch.looks, i, looks);
    if (uvs && geometry.uvs) uvs.set(geometry.uvs, first * 2);
    for (let c = 0; c < corners; c++) {
      const swapped = mirrored && c % 3 > 0 ? (c % 3 === 1 ? c + 1 : c - 1) : c;
      indices[i * corners + c] = geometry.indices[swapped] + first;
    }
  }
  return { positions, normals, colors, ...(uvs ? { uvs } : {}), ...(looks ? { looks } : {}), indices };
}

/** Writes the points and normals of copy `i`; true when its matrix mirrors. */
function bakePoints(
  geometry: DrawGeometry,
  m: Float32Array,
  i: number,
  positions: Float32Array,
  normals: Float32Array,
): boolean {
  const k = i * 16;
  const cofactors = cofactorMatrix(m, k);
  const mirrored = m[k] * cofactors[0] + m[k + 1] * cofactors[1] + m[k + 2] * cofactors[2] < 0;
  const sign = mirrored ? -1 : 1;
  const start = i * geometry.positions.length;
  for (let v = 0; v < geometry.positions.length; v += 3) {
    const x = geometry.positions[v];
    const y = geometry.positions[v + 1];
    const z = geometry.positions[v + 2];
    const nx = geometry.normals[v];
    const ny = geometry.normals[v + 1];
    const nz = geometry.normals[v + 2];
    const to = start + v;
    let squares = 0;
    for (let a = 0; a < 3; a++) {
      positions[to + a] = m[k + a] * x + m[k + 4 + a] * y + m[k + 8 + a] * z + m[k + 12 + a];
      const n = sign * (cofactors[a] * nx + cofactors[3 + a] * ny + cofactors[6 + a] * nz);
      normals[to + a] = n;
      squares += n * n;
    }
    const length = Math.sqrt(squares);
    // A copy shrunk to nothing has no direction; any unit vector keeps the file valid.
    for (let a = 0; a < 3; a++) normals[to + a] = length > 1e-20 ? normals[to + a] / length : a === 1 ? 1 : 0;
  }
  return mirrored;
}

/** What copy `i` says it is made of counts before what the mesh says. */
function bakeLooks(
  geometry: DrawGeometry,
  copies: Float32Array | null,
  i: number,
  looks: Float32Array,
): void {
  const length = (geometry.positions.length / 3) * LOOK_WIDTH;
  for (let k = 0; k < length; k++) {
    const copy = copies?.[i * LOOK_WIDTH + (k % LOOK_WIDTH)] ?? UNSAID;
    looks[i * length + k] = saidOr(copy, geometry.looks?.[k] ?? UNSAID);
  }
}

function bakeColors(geometry: DrawGeometry, copies: Float32Array, i: number, colors: Float32Array): void {
  const own = geometry.colors;
  const length = (geometry.positions.length / 3) * 4;
  for (let c = 0; c < length; c++) colors[i * length + c] = copies[i * 4 + (c % 4)] * (own ? own[c] : 1);
}
