/**
 * A frame as binary glTF 2.0, written with @gltf-transform. Right-handed, Y up, one unit is a metre.
 * Instanced: each distinct mesh once, copies by EXT_mesh_gpu_instancing with their colour as the custom
 * attribute `_COLOR_0`; one instanced node per colour would be needed to show tints in viewers that only
 * know the extension's three attributes, so tints that are the same for a whole batch go to its material.
 * Baked: every copy's triangles in world space with vertex colours. Curves leave as lines, baked either way.
 */

import { type Document, WebIO } from "@gltf-transform/core";
import { EXTMeshGPUInstancing } from "@gltf-transform/extensions";
import type { DrawBatch, Drawing } from "../../draw/drawing";
import type { DrawLines } from "../../draw/loose";
import { type DrawGeometry, triangulate } from "../../draw/triangulate";
import { gatherRows } from "../../geometry/subset";
import type { TextureSet } from "../../geometry/textures";
import { FormatError } from "../format-error";
import { bakeBatches, NO_FACES } from "./bake";
import { byLook, LOOK_EXTENSIONS, type Look, type LookPart, meshOf, partsByLook } from "./glb-looks";
import { clipped, decompose, material, newScene, vectors } from "./glb-parts";
import { WrittenTextures } from "./glb-textures";

export interface GlbOptions {
  /** Share meshes between copies, or write every copy's triangles. */
  readonly copies: "instanced" | "baked";
  readonly name: string;
  /** Pictures that lie on surfaces. */
  readonly textures?: readonly TextureSet[];
}

/** @throws FormatError when there is nothing to write or too much */
export async function writeGlb(drawing: Drawing, options: GlbOptions): Promise<Uint8Array> {
  if (drawing.batches.length === 0 && !drawing.lines) throw new FormatError(NO_FACES);
  const { document, scene } = newScene(options.name);
  const textures = new WrittenTextures(document, options.textures ?? []);
  if (drawing.lines) scene.addChild(linesNode(document, drawing.lines));
  if (options.copies === "baked" && drawing.batches.length > 0) {
    bakeBatches(drawing, true).forEach((geometry, i) => {
      scene.addChild(bakedNode(document, geometry, textures, `mesh-${i + 1}`));
    });
  } else {
    drawing.batches.forEach((batch, i) => {
      const geometry = triangulate(batch.mesh, true);
      if (geometry.indices.length === 0) return;
      const groups = byLook(batch.looks, batch.count);
      const parts = partsByLook(document, geometry);
      groups.forEach(({ look, elements }, g) => {
        const name = groups.length > 1 ? `mesh-${i + 1}-${g + 1}` : `mesh-${i + 1}`;
        const some = groups.length > 1 ? copiesAmong(batch, elements) : batch;
        scene.addChild(instancedNode(document, parts, some, look, textures, name));
      });
    });
  }
  return new WebIO().registerExtensions([EXTMeshGPUInstancing, ...LOOK_EXTENSIONS]).writeBinary(document);
}

type SomeCopies = Pick<DrawBatch, "count" | "matrices" | "colors">;

function copiesAmong({ matrices, colors }: SomeCopies, copies: readonly number[]): SomeCopies {
  const rows = (from: Float32Array, width: number) =>
    gatherRows(from, copies, width, new Float32Array(copies.length * width));
  return { count: copies.length, matrices: rows(matrices, 16), colors: rows(colors, 4) };
}

function instancedNode(
  document: Document,
  parts: readonly LookPart[],
  { count, matrices, colors }: SomeCopies,
  look: Look,
  textures: WrittenTextures,
  name: string,
) {
  const same = sameColor(colors);
  const mesh = meshOf(document, parts, name, same ?? [1, 1, 1, 1], textures, look);
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

function bakedNode(document: Document, geometry: DrawGeometry, textures: WrittenTextures, name: string) {
  return document
    .createNode(name)
    .setMesh(meshOf(document, partsByLook(document, geometry), name, [1, 1, 1, 1], textures));
}
