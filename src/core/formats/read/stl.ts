/** STL, text and binary. Facet normals are left out: faces are shaded by the crease angle. */
import { tick } from "../../cancelling";
import type { Shape } from "../../geometry/shape";
import { FormatError } from "../format-error";
import { weldTriangles } from "./weld";

/** 80 bytes of header and a count, then 50 bytes a triangle: a normal, three corners, two bytes of no meaning here. */
const HEADER = 84;
const TRIANGLE = 50;
const NORMAL = 12;

/** @throws FormatError */
export function readStl(bytes: Uint8Array): Shape {
  const position = isText(bytes) ? textCorners(new TextDecoder().decode(bytes)) : binaryCorners(bytes);
  if (position.length === 0) throw new FormatError("there are no triangles.");
  return { mesh: weldTriangles({ position }) };
}

/** Binary files may begin with "solid" too; those are as long as their count says. */
function isText(bytes: Uint8Array): boolean {
  if (bytes.length >= HEADER && bytes.length === HEADER + TRIANGLE * countIn(bytes)) return false;
  const head = new TextDecoder().decode(bytes.subarray(0, 512));
  return /^\s*solid/.test(head) && /facet|endsolid/.test(head);
}

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const countIn = (bytes: Uint8Array): number => viewOf(bytes).getUint32(80, true);

function binaryCorners(bytes: Uint8Array): Float32Array {
  if (bytes.length < HEADER)
    throw new FormatError(`it is ${bytes.length} bytes long, and a binary STL begins with ${HEADER}.`);
  const count = countIn(bytes);
  const expected = HEADER + TRIANGLE * count;
  if (bytes.length < expected) {
    throw new FormatError(
      `it promises ${count} triangles, which take ${expected} bytes, and is ${bytes.length} bytes long; its end is missing.`,
    );
  }
  const view = viewOf(bytes);
  const corners = new Float32Array(count * 9);
  for (let t = 0; t < count; t++) {
    tick();
    const at = HEADER + t * TRIANGLE + NORMAL;
    for (let k = 0; k < 9; k++) corners[t * 9 + k] = view.getFloat32(at + k * 4, true);
  }
  return corners;
}

/** What follows each "vertex" of a text; all other words say nothing that is needed. */
function textCorners(text: string): number[] {
  const corners: number[] = [];
  const numbers = /^\s+(\S+)\s+(\S+)\s+(\S+)/;
  for (let at = text.indexOf("vertex"); at >= 0; at = text.indexOf("vertex", at + 6)) {
    tick();
    // Three numbers are no longer than this.
    const found = numbers.exec(text.slice(at + 6, at + 6 + 200));
    const values = found?.slice(1).map(Number) ?? [];
    if (values.length < 3 || values.some(Number.isNaN))
      throw new FormatError(`vertex ${corners.length / 3 + 1} has no three numbers.`);
    corners.push(...values);
  }
  const loose = (corners.length / 3) % 3;
  if (loose > 0) throw new FormatError(`its last triangle has only ${loose} of three corners.`);
  return corners;
}
