/**
 * What copies are made of, as a texture that is read by the number of the copy: the graphics card has no attributes left for it
 * (16, of which a copy's place alone takes four).
 */
import * as THREE from "three";
import { LOOK_WIDTH } from "@/core/geometry/surface-look";

/** Copies in a row of the texture: as many as fit into 2,048 pixels, which every card has. */
const IN_ROW = Math.floor(2048 / (LOOK_WIDTH / 4));

/** Declares, for vertex shaders, four numbers of the copy, in the order of LOOK_NAMES. */
export const COPY_LOOKS = `
  uniform highp sampler2D copyLooks;
  vec4 copyLook(int part) {
    int row = gl_InstanceID / ${IN_ROW};
    return texelFetch(copyLooks, ivec2((gl_InstanceID - row * ${IN_ROW}) * ${LOOK_WIDTH / 4} + part, row), 0);
  }`;

export interface CopyLooks {
  /** LOOK_WIDTH numbers a copy. */
  readonly array: Float32Array;
  readonly uniform: { value: THREE.DataTexture };
}

/** Null where copies say nothing. */
export const copyLooksOf = ({ userData }: THREE.BufferGeometry): CopyLooks | null =>
  userData.copyLooks ?? null;

/** Room for what so many copies are made of, made where there is none for as many. */
export function copyLooks(geometry: THREE.BufferGeometry, room: number): CopyLooks {
  const rows = Math.ceil(room / IN_ROW);
  const known = copyLooksOf(geometry);
  if (known?.uniform.value.image.height === rows) return known;
  const width = (IN_ROW * LOOK_WIDTH) / 4;
  const array = new Float32Array(rows * width * 4);
  const texture = new THREE.DataTexture(array, width, rows, THREE.RGBAFormat, THREE.FloatType);
  known?.uniform.value.dispose();
  // The same object, which materials that were made for the geometry read.
  const uniform = known?.uniform ?? { value: texture };
  uniform.value = texture;
  return (geometry.userData.copyLooks = { array, uniform });
}

export function withoutCopyLooks(geometry: THREE.BufferGeometry): void {
  copyLooksOf(geometry)?.uniform.value.dispose();
  geometry.userData.copyLooks = undefined;
}
