/** Reading a picture at places: see maths/picture.ts for what is stored. */

/** What is read beyond the edges: the border, the picture again, the picture mirrored, nothing. */
const HELD = 0;
const REPEATED = 1;
const MIRRORED = 2;
const ALONE = 3;

/** Pixel number along one axis; −1 for nothing there. */
@inline
function wrapped(at: i32, size: i32, outside: i32): i32 {
  if (at >= 0 && at < size) return at;
  if (outside == HELD) return at < 0 ? 0 : size - 1;
  if (outside == ALONE) return -1;
  const period = outside == REPEATED ? size : 2 * size;
  const k = ((at % period) + period) % period;
  return k < size ? k : 2 * size - 1 - k;
}

@inline
function sampleAt(samples: usize, at: usize, wide: i32): i32 {
  return wide ? <i32>load<u16>(samples + (at << 1)) : <i32>load<u8>(samples + at);
}

/** Linear red, green and blue times alpha, and alpha, all times the weight; 0 where there is no pixel. */
@inline
function pixel(
  samples: usize, wide: i32, table: usize, width: i32, height: i32, x: i32, y: i32, outside: i32, weight: f32,
): v128 {
  const column = wrapped(x, width, outside);
  const row = wrapped(y, height, outside);
  if (weight == 0 || column < 0 || row < 0) return f32x4.splat(0);
  const at = ((<usize>row) * (<usize>width) + (<usize>column)) << 2;
  const most: f32 = wide ? 65535 : 255;
  const alpha = ((<f32>sampleAt(samples, at + 3, wide)) / most) * weight;
  let color = f32x4.splat(1);
  color = f32x4.replace_lane(color, 0, load<f32>(table + ((<usize>sampleAt(samples, at, wide)) << 2)));
  color = f32x4.replace_lane(color, 1, load<f32>(table + ((<usize>sampleAt(samples, at + 1, wide)) << 2)));
  color = f32x4.replace_lane(color, 2, load<f32>(table + ((<usize>sampleAt(samples, at + 2, wide)) << 2)));
  return f32x4.mul(color, f32x4.splat(alpha));
}

/**
 * Linear RGBA at u, v. `samples`: 4 a pixel, one byte each or two when `wide`; `table`: linear light of every sample
 * value. Smooth reading mixes the four nearest pixels by their alpha.
 */
@inline
function read(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, u: usize, v: usize,
  samples: usize, wide: i32, table: usize, width: i32, height: i32, smooth: i32, outside: i32,
): void {
  // Far beyond any picture, yet whole numbers still fit.
  const edge: f32 = 1e9;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const x = load<f32>(u + i) * <f32>width - 0.5;
    const y = load<f32>(v + i) * <f32>height - 0.5;
    let sum = f32x4.splat(0);
    if (x + y - (x + y) == 0) {
      const px = min<f32>(edge, max<f32>(-edge, x));
      const py = min<f32>(edge, max<f32>(-edge, y));
      if (smooth) {
        const left = Mathf.floor(px);
        const top = Mathf.floor(py);
        const s = px - left;
        const t = py - top;
        const c = <i32>left;
        const r = <i32>top;
        sum = pixel(samples, wide, table, width, height, c, r, outside, (1 - s) * (1 - t));
        sum = f32x4.add(sum, pixel(samples, wide, table, width, height, c + 1, r, outside, s * (1 - t)));
        sum = f32x4.add(sum, pixel(samples, wide, table, width, height, c, r + 1, outside, (1 - s) * t));
        sum = f32x4.add(sum, pixel(samples, wide, table, width, height, c + 1, r + 1, outside, s * t));
      } else {
        const c = <i32>Mathf.floor(px + 0.5);
        const r = <i32>Mathf.floor(py + 0.5);
        sum = pixel(samples, wide, table, width, height, c, r, outside, 1);
      }
    }
    const a = f32x4.extract_lane(sum, 3);
    const share: f32 = a > 0 ? 1 / a : 0;
    store<f32>(red + i, f32x4.extract_lane(sum, 0) * share);
    store<f32>(green + i, f32x4.extract_lane(sum, 1) * share);
    store<f32>(blue + i, f32x4.extract_lane(sum, 2) * share);
    store<f32>(alpha + i, a);
  }
}

export function pictureHeld(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, u: usize, v: usize,
  samples: usize, wide: i32, table: usize, width: i32, height: i32, smooth: i32,
): void {
  read(n, red, green, blue, alpha, u, v, samples, wide, table, width, height, smooth, HELD);
}

export function pictureRepeated(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, u: usize, v: usize,
  samples: usize, wide: i32, table: usize, width: i32, height: i32, smooth: i32,
): void {
  read(n, red, green, blue, alpha, u, v, samples, wide, table, width, height, smooth, REPEATED);
}

export function pictureMirrored(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, u: usize, v: usize,
  samples: usize, wide: i32, table: usize, width: i32, height: i32, smooth: i32,
): void {
  read(n, red, green, blue, alpha, u, v, samples, wide, table, width, height, smooth, MIRRORED);
}

export function pictureAlone(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, u: usize, v: usize,
  samples: usize, wide: i32, table: usize, width: i32, height: i32, smooth: i32,
): void {
  read(n, red, green, blue, alpha, u, v, samples, wide, table, width, height, smooth, ALONE);
}
