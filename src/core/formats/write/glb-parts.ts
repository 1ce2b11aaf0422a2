/** Pieces that all GLB files are written from. */
import { Document, type Material, type Primitive } from "@gltf-transform/core";
import type { DrawGeometry } from "../../draw/triangulate";
import { lengthOf } from "../../maths/exact";
import { cofactorMatrix } from "../../maths/matrix";
import { fromBasis, IDENTITY } from "../../maths/quaternion";

/** A document with one buffer and an empty scene. */
export function newScene(name: string) {
  const document = new Document();
  document.createBuffer();
  document.getRoot().getAsset().generator = "Glemmo";
  return { document, scene: document.createScene(name) };
}

/** An accessor over an array, in the document's one buffer. */
export const vectors = (
  document: Document,
  type: "VEC2" | "VEC3" | "VEC4" | "SCALAR",
  array: Float32Array | Uint32Array,
) => document.createAccessor().setType(type).setArray(array).setBuffer(document.getRoot().listBuffers()[0]);

export function primitiveOf(document: Document, geometry: DrawGeometry): Primitive {
  const primitive = document
    .createPrimitive()
    .setAttribute("POSITION", vectors(document, "VEC3", geometry.positions))
    .setAttribute("NORMAL", vectors(document, "VEC3", geometry.normals))
    .setIndices(vectors(document, "SCALAR", geometry.indices));
  if (geometry.uvs) primitive.setAttribute("TEXCOORD_0", vectors(document, "VEC2", geometry.uvs));
  if (geometry.colors) primitive.setAttribute("COLOR_0", vectors(document, "VEC4", clipped(geometry.colors)));
  return primitive;
}

export const material = (document: Document, name: string, rgba: readonly number[]): Material =>
  document
    .createMaterial(name)
    .setBaseColorFactor([clip(rgba[0]), clip(rgba[1]), clip(rgba[2]), clip(rgba[3])])
    .setMetallicFactor(0)
    .setRoughnessFactor(0.6)
    .setAlphaMode(rgba[3] < 1 ? "BLEND" : "OPAQUE");

export const clip = (c: number): number => Math.min(1, Math.max(0, c));
export const clipped = (colors: Float32Array): Float32Array => colors.map(clip);

/** Matrices to translation, unit quaternion and scale per copy (a mirrored copy gets a negative x scale). */
export function decompose(m: Float32Array, count: number) {
  const translation = new Float32Array(count * 3);
  const rotation = new Float32Array(count * 4);
  const scale = new Float32Array(count * 3);
  let sheared = false;
  for (let i = 0; i < count; i++) {
    const k = i * 16;
    translation.set(m.subarray(k + 12, k + 15), i * 3);
    const axes = [0, 1, 2].map((axis) => Array.from(m.subarray(k + axis * 4, k + axis * 4 + 3)));
    const lengths = axes.map((axis) => lengthOf(axis[0], axis[1], axis[2]));
    const cofactors = cofactorMatrix(m, k);
    if (m[k] * cofactors[0] + m[k + 1] * cofactors[1] + m[k + 2] * cofactors[2] < 0) lengths[0] = -lengths[0];
    scale.set(lengths, i * 3);
    const units = axes.map((axis, a) => axis.map((v) => (lengths[a] === 0 ? 0 : v / lengths[a])));
    const tiny = lengths.some((l) => Math.abs(l) < 1e-12);
    const lean = [
      [0, 1],
      [1, 2],
      [2, 0],
    ].some(
      ([a, b]) =>
        Math.abs(units[a][0] * units[b][0] + units[a][1] * units[b][1] + units[a][2] * units[b][2]) > 1e-3,
    );
    if (lean && !tiny) sheared = true;
    // A copy shrunk to nothing along an axis has no readable rotation; none shows either way.
    const [x, y, z] = units as unknown as Parameters<typeof fromBasis>;
    const q = tiny ? IDENTITY : fromBasis(x, y, z);
    const norm = lengthOf(q[0], q[1], q[2], q[3]);
    for (let l = 0; l < 4; l++) rotation[i * 4 + l] = q[l] / norm;
  }
  return { translation, rotation, scale, sheared };
}
