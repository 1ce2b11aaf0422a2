/**
 * A frame as binary little-endian PLY (G. Turk, 1994): positions, normals and colours (sRGB bytes), triangles of every
 * copy in world space. Written here, as the usual exporter waits for animation frames, which a server has not.
 */
import type { Drawing } from "../../draw/drawing";
import { encodeSrgb } from "../../maths/color";
import { bakeBatches } from "./bake";

/** 6 floats and 3 bytes a vertex; a count byte and 3 ints a triangle. */
const VERTEX = 27;
const FACE = 13;

/** @throws FormatError when there is nothing to write or too much */
export function writePly(drawing: Drawing): Uint8Array {
  const parts = bakeBatches(drawing, false);
  const vertices = parts.reduce((sum, part) => sum + part.positions.length / 3, 0);
  const faces = parts.reduce((sum, part) => sum + part.indices.length / 3, 0);
  const header = new TextEncoder().encode(headerText(vertices, faces));
  const bytes = new Uint8Array(header.length + vertices * VERTEX + faces * FACE);
  bytes.set(header);
  const view = new DataView(bytes.buffer);
  let at = header.length;
  for (const { positions, normals, colors } of parts) {
    for (let v = 0; v < positions.length / 3; v++) {
      for (let a = 0; a < 3; a++) {
        view.setFloat32(at + a * 4, positions[v * 3 + a], true);
        view.setFloat32(at + 12 + a * 4, normals[v * 3 + a], true);
        const channel = colors ? encodeSrgb(Math.min(1, Math.max(0, colors[v * 4 + a]))) : 1;
        bytes[at + 24 + a] = Math.round(channel * 255);
      }
      at += VERTEX;
    }
  }
  let first = 0;
  for (const { positions, indices } of parts) {
    for (let f = 0; f < indices.length; f += 3) {
      bytes[at] = 3;
      for (let c = 0; c < 3; c++) view.setInt32(at + 1 + c * 4, first + indices[f + c], true);
      at += FACE;
    }
    first += positions.length / 3;
  }
  return bytes;
}

const headerText = (vertices: number, faces: number): string =>
  [
    "ply",
    "format binary_little_endian 1.0",
    "comment Glemmo",
    `element vertex ${vertices}`,
    ...["x", "y", "z", "nx", "ny", "nz"].map((name) => `property float ${name}`),
    ...["red", "green", "blue"].map((name) => `property uchar ${name}`),
    `element face ${faces}`,
    "property list uchar int vertex_indices",
    "end_header",
    "",
  ].join("\n");
