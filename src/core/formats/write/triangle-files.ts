/** A frame as OBJ or STL through three's exporters: every copy's triangles in world space. */
import { BufferAttribute, BufferGeometry, Group, LineSegments, Mesh } from "three";
import { OBJExporter } from "three/examples/jsm/exporters/OBJExporter.js";
import { STLExporter } from "three/examples/jsm/exporters/STLExporter.js";
import type { Drawing } from "../../draw/drawing";
import { bakeBatches } from "./bake";

/** Text OBJ; vertex colours after the positions, sRGB. @throws FormatError */
export const writeObj = (drawing: Drawing): Uint8Array =>
  new TextEncoder().encode(new OBJExporter().parse(withLines(drawing)));

/** The scene with its lines; without faces, the lines alone. */
function withLines(drawing: Drawing): Group {
  const { lines } = drawing;
  if (!lines) return sceneOf(drawing, true);
  const scene = drawing.batches.length > 0 ? sceneOf(drawing, true) : new Group();
  const buffers = new BufferGeometry();
  buffers.setAttribute("position", new BufferAttribute(lines.positions, 3));
  const segments = new LineSegments(buffers);
  segments.name = "lines";
  return scene.add(segments);
}

/** Binary STL: 84 + 50 n bytes. @throws FormatError */
export function writeStl(drawing: Drawing): Uint8Array {
  const view = new STLExporter().parse(sceneOf(drawing, false), { binary: true });
  return new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
}

function sceneOf(drawing: Drawing, laid: boolean): Group {
  const scene = new Group();
  bakeBatches(drawing, laid).forEach((geometry, i) => {
    const buffers = new BufferGeometry();
    buffers.setAttribute("position", new BufferAttribute(geometry.positions, 3));
    buffers.setAttribute("normal", new BufferAttribute(geometry.normals, 3));
    if (geometry.colors) buffers.setAttribute("color", new BufferAttribute(geometry.colors, 4));
    if (geometry.uvs) buffers.setAttribute("uv", new BufferAttribute(geometry.uvs, 2));
    buffers.setIndex(new BufferAttribute(geometry.indices, 1));
    const mesh = new Mesh(buffers);
    mesh.name = `mesh-${i + 1}`;
    scene.add(mesh);
  });
  return scene;
}
