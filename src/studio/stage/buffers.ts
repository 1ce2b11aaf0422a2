/** Buffers of the graphics card: made of what the engine sends, and filled anew where they stand. */
import * as THREE from "three";
import { LOOK_WIDTH } from "@/core/geometry/surface-look";
import type { SentGeometry } from "@/engine/protocol";
import { COPY_LOOKS, VERTEX_LOOKS } from "./look-shader";
import { OUTWARD } from "./outlines";

export function toBuffers({ geometry, outward }: SentGeometry): THREE.BufferGeometry {
  const buffers = new THREE.BufferGeometry();
  buffers.setAttribute("position", new THREE.BufferAttribute(geometry.positions, 3));
  buffers.setAttribute("normal", new THREE.BufferAttribute(geometry.normals, 3));
  if (geometry.colors) buffers.setAttribute("color", new THREE.BufferAttribute(geometry.colors, 4));
  if (geometry.uvs) buffers.setAttribute("uv", new THREE.BufferAttribute(geometry.uvs, 2));
  if (geometry.looks)
    setLooks(buffers, VERTEX_LOOKS, new THREE.InterleavedBuffer(geometry.looks, LOOK_WIDTH));
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

/** LOOK_WIDTH numbers an element as attributes of four each. */
function setLooks(
  geometry: THREE.BufferGeometry,
  names: readonly string[],
  looks: THREE.InterleavedBuffer,
): void {
  for (const [i, name] of names.entries())
    geometry.setAttribute(name, new THREE.InterleavedBufferAttribute(looks, 4, i * 4));
}

/** The buffer of what so many copies are made of, made where there is none for as many. */
export function copyLooks(geometry: THREE.BufferGeometry, room: number): THREE.InterleavedBuffer {
  const known = geometry.getAttribute(COPY_LOOKS[0]) as THREE.InterleavedBufferAttribute | undefined;
  if (known?.data.count === room) return known.data;
  const made = new THREE.InstancedInterleavedBuffer(new Float32Array(room * LOOK_WIDTH), LOOK_WIDTH);
  setLooks(geometry, COPY_LOOKS, made);
  return made;
}

export function withoutCopyLooks(geometry: THREE.BufferGeometry): void {
  for (const name of COPY_LOOKS) geometry.deleteAttribute(name);
}

export const dynamic = (attribute: THREE.BufferAttribute): THREE.BufferAttribute =>
  attribute.setUsage(THREE.DynamicDrawUsage);

/** Whether there is still room for so many in something made for `room`, and it is not far too large for them. */
export const fits = (room: number, count: number): boolean => count <= room && room <= count * 4 + 64;
