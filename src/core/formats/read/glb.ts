/**
 * glTF 2.0, binary or as text with embedded buffers, through @gltf-transform: every mesh of the default scene in world space, joined and as parts,
 * with normals, texture coordinates, vertex colours and what materials say. Lines become curves.
 */
import {
  type Document,
  type GLTF,
  type Mesh as GltfMesh,
  type Node,
  type Primitive,
  WebIO,
} from "@gltf-transform/core";
import { ALL_EXTENSIONS } from "@gltf-transform/extensions";
import { mergeShapes } from "../../geometry/merge";
import type { Mesh } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { USUAL_LOOK } from "../../geometry/surface-look";
import { transformMatrix, transformPoints } from "../../geometry/transform-matrix";
import { FormatError } from "../format-error";
import type { ShapeAsset, ShapePart } from "./asset";
import { chainSegments } from "./chain";
import { withMaterial } from "./glb-materials";
import { GlbTextures } from "./glb-textures";
import { checkGltf } from "./gltf-check";
import { weldTriangles } from "./weld";

const LINES = 1;
const LINE_LOOP = 2;
const LINE_STRIP = 3;
const TRIANGLES = 4;
const TRIANGLE_STRIP = 5;
const TRIANGLE_FAN = 6;

/** glTF as text; buffers have to be in it. @throws FormatError, or the library's error for a damaged file */
export async function readGltf(bytes: Uint8Array): Promise<ShapeAsset> {
  const json = parsed(bytes);
  checkGltf(json, bytes.length, null);
  // Pictures are not read of text, so it does not matter where they are.
  const { images: _images, textures: _textures, samplers: _samplers, ...rest } = json;
  const materials = rest.materials?.map((material) => {
    const { baseColorFactor, metallicFactor, roughnessFactor, metallicRoughnessTexture } =
      material.pbrMetallicRoughness ?? {};
    const factors = metallicRoughnessTexture
      ? { metallicFactor: USUAL_LOOK.metalness, roughnessFactor: USUAL_LOOK.roughness }
      : { metallicFactor, roughnessFactor };
    const emissiveFactor = material.emissiveTexture ? undefined : material.emissiveFactor;
    return {
      ...material,
      ...UNTEXTURED,
      emissiveFactor,
      pbrMetallicRoughness: { baseColorFactor, ...factors },
    };
  });
  const outside = (rest.buffers ?? []).find(({ uri }) => !uri?.startsWith("data:"));
  if (outside) {
    throw new FormatError(
      `it needs "${outside.uri ?? "a binary part"}" beside it. Save it as one file: .glb, or with embedded buffers.`,
    );
  }
  return shapesOf(await io().readJSON({ json: { ...rest, materials }, resources: {} }));
}

const UNTEXTURED = { normalTexture: undefined, occlusionTexture: undefined, emissiveTexture: undefined };

const io = () => new WebIO().registerExtensions(ALL_EXTENSIONS);

/** @throws FormatError, or the library's error for a damaged file */
export async function readGlb(bytes: Uint8Array): Promise<ShapeAsset> {
  if (bytes.length < 12 || new TextDecoder().decode(bytes.subarray(0, 4)) !== "glTF") {
    throw new FormatError('it does not begin with "glTF", so it is not a GLB file.');
  }
  const { json, binary } = partsOf(bytes);
  checkGltf(parsed(json), bytes.length, binary);
  return shapesOf(await io().readBinary(bytes));
}

/** The parts of a GLB (glTF 2.0 § 4.4): its JSON, and how many bytes of binary data follow. */
function partsOf(bytes: Uint8Array): { json: Uint8Array; binary: number | null } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const part = (at: number, what: string) => {
    const length = at + 8 <= bytes.length ? view.getUint32(at, true) : Number.POSITIVE_INFINITY;
    if (length > bytes.length - at - 8)
      throw new FormatError(`its ${what} part promises more bytes than there are; its end is missing.`);
    return { content: bytes.subarray(at + 8, at + 8 + length), type: view.getUint32(at + 4, true) };
  };
  if (view.getUint32(4, true) !== 2)
    throw new FormatError(`it is version ${view.getUint32(4, true)} of GLB; version 2 is read.`);
  const first = part(12, "JSON");
  if (first.type !== JSON_PART) throw new FormatError("its first part is not JSON.");
  const next = 20 + first.content.length;
  return { json: first.content, binary: next < bytes.length ? part(next, "binary").content.length : null };
}

/** "JSON" in ASCII. */
const JSON_PART = 0x4e4f534a;

function parsed(bytes: Uint8Array): GLTF.IGLTF {
  try {
    return JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF;
  } catch (error) {
    throw new FormatError(`it is not JSON: ${(error as Error).message}.`);
  }
}

function shapesOf(document: Document): ShapeAsset {
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0];
  const parts: ShapePart[] = [];
  const textures = new GlbTextures();
  scene?.traverse((node: Node) => {
    const mesh = node.getMesh();
    const shape = mesh && placed(mesh, node.getWorldMatrix(), textures);
    if (shape) parts.push({ name: node.getName() || mesh.getName() || `part ${parts.length + 1}`, shape });
  });
  if (parts.length === 0) throw new FormatError("its scene has no triangles and no lines.");
  return {
    kind: "shape",
    shape: mergeShapes(parts.map((part) => part.shape)),
    parts: parts.length > 1 ? parts : [],
    ...textures.found,
  };
}

/** All primitives of one mesh under its node's matrix; null when there is nothing to show. */
function placed(mesh: GltfMesh, matrix: readonly number[], textures: GlbTextures): Shape | null {
  const shapes: Shape[] = [];
  for (const primitive of mesh.listPrimitives()) {
    const faces = meshOf(primitive, textures);
    if (faces) shapes.push({ mesh: finite(transformMatrix(faces, matrix), mesh.getName()) });
    const lines = chainSegments(segmentEnds(primitive));
    if (lines) shapes.push({ curves: { ...lines, points: transformPoints(lines.points, matrix) } });
  }
  return shapes.length > 0 ? mergeShapes(shapes) : null;
}

/** @throws FormatError when a node's matrix takes places beyond what float32 holds */
function finite(mesh: Mesh, name: string): Mesh {
  for (const lane of mesh.points.columns.position.lanes)
    if (!lane.every(Number.isFinite))
      throw new FormatError(`"${name || "a mesh"}" is placed or scaled to where numbers end.`);
  return mesh;
}

/** Ends of a line primitive's segments, 6 numbers each; none for other primitives. */
function segmentEnds(primitive: Primitive): number[] {
  const position = primitive.getAttribute("POSITION");
  const mode = primitive.getMode() as number;
  if (!position || ![LINES, LINE_LOOP, LINE_STRIP].includes(mode)) return [];
  const order = vertexOrder(primitive, position.getCount());
  const pairs =
    mode === LINES
      ? order
      : order.flatMap((v, i) =>
          i + 1 < order.length ? [v, order[i + 1]] : mode === LINE_LOOP ? [v, order[0]] : [],
        );
  const ends = pairs.flatMap((v) => position.getElement(v, []));
  if (!ends.every(Number.isFinite)) throw new FormatError("a line's position is not a number.");
  return ends;
}

function meshOf(primitive: Primitive, textures: GlbTextures): Mesh | null {
  const position = primitive.getAttribute("POSITION");
  if (!position) return null;
  const corners = cornerOrder(primitive, position.getCount());
  if (corners.length === 0) return null;
  const read = (name: string, lanes: number): Float32Array | undefined => {
    const accessor = primitive.getAttribute(name);
    if (!accessor) return undefined;
    const values = new Float32Array(corners.length * lanes).fill(1);
    const element: number[] = [];
    corners.forEach((corner, at) => {
      accessor.getElement(corner, element);
      for (let l = 0; l < Math.min(lanes, accessor.getElementSize()); l++)
        values[at * lanes + l] = element[l];
    });
    return values;
  };
  const material = primitive.getMaterial();
  const mesh = weldTriangles({
    position: read("POSITION", 3) as Float32Array,
    normal: read("NORMAL", 3),
    uv: read("TEXCOORD_0", 2),
    color: tinted(read("COLOR_0", 4), material?.getBaseColorFactor(), corners.length),
  });
  return withMaterial(mesh, material, textures);
}

/** Vertex colours times the material's base colour (glTF 2.0 §3.9.2); none when all is white. */
function tinted(colors: Float32Array | undefined, base: readonly number[] | undefined, corners: number) {
  if (!base || base.every((v) => v === 1)) return colors;
  const result = colors ?? new Float32Array(corners * 4).fill(1);
  for (let i = 0; i < result.length; i++) result[i] *= base[i % 4];
  return result;
}

/** Vertex numbers in the order in which the primitive uses them. */
function vertexOrder(primitive: Primitive, vertices: number): number[] {
  const indices = primitive.getIndices()?.getArray();
  const order: number[] = indices
    ? Array.from(indices as ArrayLike<number>)
    : Array.from({ length: vertices }, (_, i) => i);
  const bad = order.find((index) => index >= vertices);
  if (bad !== undefined)
    throw new FormatError(`an index points at vertex ${bad}, and there are ${vertices}.`);
  return order;
}

/** Vertex numbers of the triangles' corners; strips and fans are unrolled (glTF 2.0 §3.7.2.1). */
function cornerOrder(primitive: Primitive, vertices: number): number[] {
  const order = vertexOrder(primitive, vertices);
  switch (primitive.getMode() as number) {
    case TRIANGLES:
      return order.slice(0, order.length - (order.length % 3));
    case TRIANGLE_STRIP:
      return order
        .slice(2)
        .flatMap((c, i) => (i % 2 === 0 ? [order[i], order[i + 1], c] : [order[i + 1], order[i], c]));
    case TRIANGLE_FAN:
      return order.slice(2).flatMap((c, i) => [order[0], order[i + 1], c]);
    default:
      return [];
  }
}
