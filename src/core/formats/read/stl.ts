/** STL, text and binary, through three's loader. Facet normals are left out: faces are shaded by the crease angle. */
import { STLLoader } from "three/examples/jsm/loaders/STLLoader.js";
import type { Shape } from "../../geometry/shape";
import { FormatError } from "../format-error";
import { weldTriangles } from "./weld";

/** 80 bytes of header and a count, then 50 bytes a triangle. */
const HEADER = 84;
const TRIANGLE = 50;

/** @throws FormatError */
export function readStl(bytes: Uint8Array): Shape {
  const text = new TextDecoder().decode(bytes.subarray(0, 512));
  if (!(/^\s*solid/.test(text) && /facet|endsolid/.test(text))) checkBinary(bytes);
  const buffer = bytes.slice().buffer;
  const geometry = new STLLoader().parse(buffer);
  const position = geometry.attributes.position?.array;
  if (!position || position.length === 0) throw new FormatError("there are no triangles.");
  return { mesh: weldTriangles({ position }) };
}

function checkBinary(bytes: Uint8Array): void {
  if (bytes.length < HEADER)
    throw new FormatError(`it is ${bytes.length} bytes long, and a binary STL begins with ${HEADER}.`);
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true);
  const expected = HEADER + TRIANGLE * count;
  if (bytes.length < expected) {
    throw new FormatError(
      `it promises ${count} triangles, which take ${expected} bytes, and is ${bytes.length} bytes long; its end is missing.`,
    );
  }
}
