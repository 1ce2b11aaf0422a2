/**
 * Wavefront OBJ through three's loader: polygons become triangles, objects and groups are joined, vertex
 * colours (taken as sRGB, common practice, no source) and texture coordinates are kept.
 */
import type { BufferGeometry, Mesh as LoadedMesh } from "three";
import { OBJLoader } from "three/examples/jsm/loaders/OBJLoader.js";
import { mergeMeshes } from "../../geometry/merge";
import type { Mesh } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { FormatError } from "../format-error";
import { weldTriangles } from "./weld";

/** @throws FormatError naming the line where the text goes wrong, when it can be told */
export function readObj(bytes: Uint8Array): Shape {
  const text = new TextDecoder().decode(bytes);
  checkLines(text);
  const hasNormals = /^\s*vn\s/m.test(text);
  const root = new OBJLoader().parse(text);
  const meshes: Mesh[] = [];
  root.traverse((child) => {
    const loaded = child as LoadedMesh;
    if (loaded.isMesh) meshes.push(weldTriangles(looseOf(loaded.geometry, hasNormals)));
  });
  return { mesh: mergeMeshes(meshes) };
}

/** The loader works out flat normals where a file has none; those are left to the crease angle instead. */
function looseOf(geometry: BufferGeometry, keepNormals: boolean) {
  const { position, normal, uv, color } = geometry.attributes;
  const rgba = color && new Float32Array(color.count * 4);
  if (rgba) for (let i = 0; i < color.count; i++) rgba.set([color.getX(i), color.getY(i), color.getZ(i), 1], i * 4);
  // OBJ counts v from the bottom, glTF and the core from the top.
  const flipped = uv && Float32Array.from(uv.array, (v, i) => (i % 2 === 1 ? 1 - v : v));
  return {
    position: position.array,
    ...(normal && keepNormals ? { normal: normal.array } : {}),
    ...(flipped ? { uv: flipped } : {}),
    ...(rgba ? { color: rgba } : {}),
  };
}

const NUMBER = /^[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/;

/** The loader accepts nonsense silently; vertices and faces are checked here so that the message has a line. */
function checkLines(text: string): void {
  let vertices = 0;
  let faces = 0;
  let at = 0;
  for (const line of text.split("\n")) {
    at++;
    const words = line.trim().split(/\s+/);
    if (words[0] === "v") {
      vertices++;
      const bad = words.slice(1, 4).find((word) => !NUMBER.test(word));
      if (words.length < 4 || bad !== undefined) {
        throw new FormatError(`line ${at}: a vertex needs three numbers${bad === undefined ? "" : `; "${bad}" is not one`}.`);
      }
    } else if (words[0] === "f") {
      faces++;
      if (words.length < 4) throw new FormatError(`line ${at}: a face needs at least three corners.`);
      for (const word of words.slice(1)) {
        const index = Number(word.split("/")[0]);
        const reach = index < 0 ? vertices + index : index - 1;
        if (!Number.isInteger(index) || index === 0 || reach < 0 || reach >= vertices) {
          throw new FormatError(`line ${at}: the corner "${word}" points at a vertex that is not there (${vertices} so far).`);
        }
      }
    }
  }
  if (faces === 0) throw new FormatError("there are no faces (lines that begin with f).");
}
