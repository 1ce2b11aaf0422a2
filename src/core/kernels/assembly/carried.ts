/**
 * Up to four components of what a surface carries at a place: those of a triangle's three points (or corners), by how much each
 * counts there.
 * @param i four times the element @param c0 … c3 outputs @param name where the numbers of the three stand
 * @param l0 … l3 lanes, the first `count` of them @param clear colours times their alpha, to be straightened
 */
export function storeCarried(
  i: usize, c0: usize, c1: usize, c2: usize, c3: usize, name: usize,
  count: i32, l0: usize, l1: usize, l2: usize, l3: usize, clear: i32, weightA: f64, weightB: f64, weightC: f64,
): void {
  const a = (<usize>load<i32>(name)) << 2;
  const b = (<usize>load<i32>(name, 4)) << 2;
  const c = (<usize>load<i32>(name, 8)) << 2;
  store<f32>(c0 + i, mixed(l0, a, b, c, weightA, weightB, weightC));
  if (count > 1) store<f32>(c1 + i, mixed(l1, a, b, c, weightA, weightB, weightC));
  if (count > 2) store<f32>(c2 + i, mixed(l2, a, b, c, weightA, weightB, weightC));
  if (count > 3) store<f32>(c3 + i, mixed(l3, a, b, c, weightA, weightB, weightC));
  const alpha = load<f32>(c3 + i);
  if (clear && alpha > 0) {
    store<f32>(c0 + i, load<f32>(c0 + i) / alpha);
    store<f32>(c1 + i, load<f32>(c1 + i) / alpha);
    store<f32>(c2 + i, load<f32>(c2 + i) / alpha);
  }
}

@inline
function mixed(lane: usize, a: usize, b: usize, c: usize, u: f64, v: f64, w: f64): f32 {
  return <f32>(<f64>load<f32>(lane + a) * u + <f64>load<f32>(lane + b) * v + <f64>load<f32>(lane + c) * w);
}
