/** 4×4 matrices, column-major, 16 numbers each, as glTF 2.0 and the stage expect them. */

/**
 * Writes T·R·S at `target[offset…offset+15]`. Position in units, rotation a unit quaternion.
 */
export function composeMatrix(
  target: Float32Array,
  offset: number,
  px: number,
  py: number,
  pz: number,
  qx: number,
  qy: number,
  qz: number,
  qw: number,
  sx: number,
  sy: number,
  sz: number,
): void {
  const x2 = qx + qx;
  const y2 = qy + qy;
  const z2 = qz + qz;
  const xx = qx * x2;
  const xy = qx * y2;
  const xz = qx * z2;
  const yy = qy * y2;
  const yz = qy * z2;
  const zz = qz * z2;
  const wx = qw * x2;
  const wy = qw * y2;
  const wz = qw * z2;
  target[offset] = (1 - (yy + zz)) * sx;
  target[offset + 1] = (xy + wz) * sx;
  target[offset + 2] = (xz - wy) * sx;
  target[offset + 3] = 0;
  target[offset + 4] = (xy - wz) * sy;
  target[offset + 5] = (1 - (xx + zz)) * sy;
  target[offset + 6] = (yz + wx) * sy;
  target[offset + 7] = 0;
  target[offset + 8] = (xz + wy) * sz;
  target[offset + 9] = (yz - wx) * sz;
  target[offset + 10] = (1 - (xx + yy)) * sz;
  target[offset + 11] = 0;
  target[offset + 12] = px;
  target[offset + 13] = py;
  target[offset + 14] = pz;
  target[offset + 15] = 1;
}

/** target[to…] = a[aAt…] · b[bAt…]. The target must not overlap its inputs. */
export function multiplyMatrix(
  target: Float32Array,
  to: number,
  a: Float32Array,
  aAt: number,
  b: Float32Array,
  bAt: number,
): void {
  for (let column = 0; column < 4; column++) {
    const b0 = b[bAt + column * 4];
    const b1 = b[bAt + column * 4 + 1];
    const b2 = b[bAt + column * 4 + 2];
    const b3 = b[bAt + column * 4 + 3];
    for (let row = 0; row < 4; row++) {
      target[to + column * 4 + row] =
        a[aAt + row] * b0 + a[aAt + 4 + row] * b1 + a[aAt + 8 + row] * b2 + a[aAt + 12 + row] * b3;
    }
  }
}
