/** Functions of single float64 numbers, from the compiler's library: the same bits wherever the kernels run. */

export function sine64(x: f64): f64 {
  return Math.sin(x);
}

export function cosine64(x: f64): f64 {
  return Math.cos(x);
}

export function tangent64(x: f64): f64 {
  return Math.tan(x);
}

export function arcSine64(x: f64): f64 {
  return Math.asin(x);
}

export function arcCosine64(x: f64): f64 {
  return Math.acos(x);
}

export function arcTangent64(y: f64, x: f64): f64 {
  return Math.atan2(y, x);
}

export function exponential64(x: f64): f64 {
  return Math.exp(x);
}

export function logarithm64(x: f64): f64 {
  return Math.log(x);
}

export function power64(x: f64, y: f64): f64 {
  return Math.pow(x, y);
}

export function cubeRoot64(x: f64): f64 {
  return Math.cbrt(x);
}
