/** Numbers of 16 bits (IEEE 754 binary16): one of the sign, five of the exponent, ten of the mantissa. */

const BIAS = 15;
const STEPS = 1024;

/** The number that 16 bits stand for. */
export function fromHalf(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1;
  const exponent = (bits >> 10) & 31;
  const part = bits & 1023;
  if (exponent === 31) return part === 0 ? sign * Number.POSITIVE_INFINITY : Number.NaN;
  if (exponent === 0) return (sign * part * 2 ** (1 - BIAS)) / STEPS;
  return sign * 2 ** (exponent - BIAS) * (1 + part / STEPS);
}
