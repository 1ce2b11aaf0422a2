/**
 * A frame as binary glTF 2.0, written with @gltf-transform. Right-handed, Y up, one unit is a metre.
 * Instanced: each distinct mesh once, copies by EXT_mesh_gpu_instancing with their colour as the custom
 * attribute `_COLOR_0`; one instanced node per colour would be needed to show tints in viewers that only
 * know the extension's three attributes, so tints that are the same for a whole batch go to its material.
 * Baked: every copy's triangles in world space with vertex colours. Curves leave as lines, baked either way.
 */

import { Document, type Material, type Primitive, WebIO } from "@gltf-transform/core";
import { EXTMeshGPUInstancing } from "@gltf-transform/extensions";
import type { DrawBatch, Drawing, DrawLines } from "../../draw/drawing";
import { type DrawGeometry, triangulate } from "../../draw/triangulate";
import { lengthOf } from "../../maths/exact";
import { cofactorMatrix } from "../../maths/matrix";
import { fromBasis, IDENTITY } from "../../maths/quaternion";
import { FormatError } from "../format-error";
import { bakeBatches, NO_FACES } from "./bake";

export interface GlbOptions {
  /** Share meshes between copies, or write every copy's triangles. */
  readonly copies: "instanced" | "baked";
  readonly name: string;
}

/** @throws FormatError when there is nothing to write or too much */
export async function writeGlb(drawing: Drawing, options: GlbOptions): Promise<Uint8Array> {
  if (drawing.batches.length === 0 && !drawing.lines) throw new FormatError(NO_FACES);
  const document = new Document();
  document.createBuffer();
  document.getRoot().getAsset().generator = "Glemmo";
  const scene = document.createScene(options.name);
  if (drawing.lines) scene.addChild(linesNode(document, drawing.lines));
  if (options.copies === "baked" && drawing.batches.length > 0) {
    bakeBatches(drawing).forEach((geometry, i) => {
      scene.addChild(bakedNode(document, geometry, `mesh-${i + 1}`));
    });
  } else {
    drawing.batches.forEach((batch, i) => {
      const geometry = triangulate(batch.mesh);
      if (geometry.indices.length > 0)
        scene.addChild(instancedNode(document, geometry, batch, `mesh-${i + 1}`));
    });
  }
  return new WebIO().registerExtensions([EXTMeshGPUInstancing]).writeBinary(document);
}

const vectors = (
  document: Document,
  type: "VEC2" | "VEC3" | "VEC4" | "SCALAR",
  array: Float32Array | Uint32Array,
) => document.createAccessor().setType(type).setArray(array).setBuffer(document.getRoot().listBuffers()[0]);

function primitiveOf(document: Document, geometry: DrawGeometry, material: Material): Primitive {
  const primitive = document
    .createPrimitive()
    .setMaterial(material)
    .setAttribute("POSITION", vectors(document, "VEC3", geometry.positions))
    .setAttribute("NORMAL", vectors(document, "VEC3", geometry.normals))
    .setIndices(vectors(document, "SCALAR", geometry.indices));
  if (geometry.uvs) primitive.setAttribute("TEXCOORD_0", vectors(document, "VEC2", geometry.uvs));
  if (geometry.colors) primitive.setAttribute("COLOR_0", vectors(document, "VEC4", clipped(geometry.colors)));
  return primitive;
}

const material = (document: Document, name: string, rgba: readonly number[]): Material =>
  document
    .createMaterial(name)
    .setBaseColorFactor([clip(rgba[0]), clip(rgba[1]), clip(rgba[2]), clip(rgba[3])])
    .setMetallicFactor(0)
    .setRoughnessFactor(0.6)
    .setAlphaMode(rgba[3] < 1 ? "BLEND" : "OPAQUE");

const clip = (c: number): number => Math.min(1, Math.max(0, c));
const clipped = (colors: Float32Array): Float32Array => colors.map(clip);

function instancedNode(document: Document, geometry: DrawGeometry, batch: DrawBatch, name: string) {
  const { count, matrices, colors } = batch;
  const same = sameColor(colors);
  const mesh = document
    .createMesh(name)
    .addPrimitive(primitiveOf(document, geometry, material(document, name, same ?? [1, 1, 1, 1])));
  const node = document.createNode(name).setMesh(mesh);
  const { translation, rotation, scale, sheared } = decompose(matrices, count);
  if (sheared) {
    throw new FormatError(
      "A copy is sheared (an uneven scale on turned clones), which instances cannot hold. Choose baked copies.",
    );
  }
  const instances = document
    .createExtension(EXTMeshGPUInstancing)
    .setRequired(true)
    .createInstancedMesh()
    .setAttribute("TRANSLATION", vectors(document, "VEC3", translation))
    .setAttribute("ROTATION", vectors(document, "VEC4", rotation))
    .setAttribute("SCALE", vectors(document, "VEC3", scale));
  if (!same) instances.setAttribute("_COLOR_0", vectors(document, "VEC4", clipped(colors)));
  return node.setExtension("EXT_mesh_gpu_instancing", instances);
}

/** The colour that all copies share, or null. */
function sameColor(colors: Float32Array): number[] | null {
  for (let i = 4; i < colors.length; i++) if (colors[i] !== colors[i % 4]) return null;
  return Array.from(colors.subarray(0, 4));
}

const GL_LINES = 1;

function linesNode(document: Document, { positions, colors }: DrawLines) {
  const primitive = document
    .createPrimitive()
    .setMode(GL_LINES)
    .setMaterial(material(document, "lines", [1, 1, 1, 1]))
    .setAttribute("POSITION", vectors(document, "VEC3", positions))
    .setAttribute("COLOR_0", vectors(document, "VEC4", clipped(colors)));
  return document.createNode("lines").setMesh(document.createMesh("lines").addPrimitive(primitive));
}

function bakedNode(document: Document, geometry: DrawGeometry, name: string) {
  const mesh = document
    .createMesh(name)
    .addPrimitive(primitiveOf(document, geometry, material(document, name, [1, 1, 1, 1])));
  return document.createNode(name).setMesh(mesh);
}

/** Matrices to translation, unit quaternion and scale per copy (a mirrored copy gets a negative x scale). */
function decompose(m: Float32Array, count: number) {
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
