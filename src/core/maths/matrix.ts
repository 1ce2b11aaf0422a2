/** 4×4 matrices, column-major, 16 numbers each, as glTF 2.0 and the stage expect them. */

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

/** Cofactors of the upper 3×3 of matrix k, column by column: the inverse transpose times the determinant. */
export function cofactorMatrix(m: Float32Array, k: number): number[] {
  const [a, b, c] = [m[k], m[k + 1], m[k + 2]];
  const [d, e, f] = [m[k + 4], m[k + 5], m[k + 6]];
  const [g, h, i] = [m[k + 8], m[k + 9], m[k + 10]];
  return [
    e * i - f * h,
    f * g - d * i,
    d * h - e * g,
    c * h - b * i,
    a * i - c * g,
    b * g - a * h,
    b * f - c * e,
    c * d - a * f,
    a * e - b * d,
  ];
}
