/** Buffers of the graphics card: made of what the engine sends, and filled anew where they stand. */
import * as THREE from "three";
import { LOOK_WIDTH } from "@/core/geometry/surface-look";
import type { SentGeometry } from "@/engine/protocol";
import { VERTEX_LOOKS } from "./look-shader";
import { OUTWARD } from "./outlines";

export function toBuffers({ geometry, outward }: SentGeometry): THREE.BufferGeometry {
  const buffers = new THREE.BufferGeometry();
  buffers.setAttribute("position", new THREE.BufferAttribute(geometry.positions, 3));
  buffers.setAttribute("normal", new THREE.BufferAttribute(geometry.normals, 3));
  if (geometry.colors) buffers.setAttribute("color", new THREE.BufferAttribute(geometry.colors, 4));
  if (geometry.uvs) buffers.setAttribute("uv", new THREE.BufferAttribute(geometry.uvs, 2));
  if (geometry.looks) {
    const looks = new THREE.InterleavedBuffer(geometry.looks, LOOK_WIDTH);
    for (const [i, name] of VERTEX_LOOKS.entries())
      buffers.setAttribute(name, new THREE.InterleavedBufferAttribute(looks, 4, i * 4));
  }
  if (outward) buffers.setAttribute(OUTWARD, new THREE.BufferAttribute(outward, 3));
  buffers.setIndex(new THREE.BufferAttribute(geometry.indices, 1));
  return buffers;
}

/** Writes the beginning of a buffer that is there, for the graphics card to take over; nothing for an empty array. */
export function refill(
  buffer: THREE.BufferAttribute | THREE.InterleavedBufferAttribute | THREE.InterleavedBuffer,
  array: Float32Array,
): void {
  if (array.length === 0) return;
  (buffer.array as Float32Array).set(array);
  const { clearUpdateRanges, addUpdateRange } = buffer as THREE.BufferAttribute;
  clearUpdateRanges?.call(buffer);
  addUpdateRange?.call(buffer, 0, array.length);
  buffer.needsUpdate = true;
}

export const dynamic = (attribute: THREE.BufferAttribute): THREE.BufferAttribute =>
  attribute.setUsage(THREE.DynamicDrawUsage);

/** Whether there is still room for so many in something made for `room`, and it is not far too large for them. */
export const fits = (room: number, count: number): boolean => count <= room && room <= count * 4 + 64;
