/** Linear sRGB and Oklab (B. Ottosson, 2020). */
import { between } from "./between";

@inline
function sum3(a: f32, x: v128, b: f32, y: v128, c: f32, z: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(f32x4.splat(a), x), f32x4.mul(f32x4.splat(b), y)), f32x4.mul(f32x4.splat(c), z));
}

/** Cube root: a third of the exponent as a guess, then Halley's step twice. */
@inline
function cubeRoot(x: v128): v128 {
  const size = f32x4.abs(x);
  const third = f32x4.mul(f32x4.convert_i32x4_s(size), f32x4.splat(0.3333333333333333));
  let y = i32x4.add(i32x4.trunc_sat_f32x4_s(third), i32x4.splat(709921077));
  y = stepped(y, size);
  y = stepped(y, size);
  y = v128.andnot(y, f32x4.eq(size, f32x4.splat(0)));
  return v128.or(y, v128.and(x, i32x4.splat(0x80000000)));
}

@inline
function stepped(y: v128, x: v128): v128 {
  const cube = f32x4.mul(f32x4.mul(y, y), y);
  const twice = f32x4.add(x, x);
  return f32x4.mul(y, f32x4.div(f32x4.add(cube, twice), f32x4.add(f32x4.add(cube, cube), x)));
}

/** Cone responses, cube-rooted. */
@inline
function first(red: v128, green: v128, blue: v128): v128 {
  return cubeRoot(sum3(0.4122214708, red, 0.5363325363, green, 0.0514459929, blue));
}

@inline
function second(red: v128, green: v128, blue: v128): v128 {
  return cubeRoot(sum3(0.2119034982, red, 0.6806995451, green, 0.1073969566, blue));
}

@inline
function third(red: v128, green: v128, blue: v128): v128 {
  return cubeRoot(sum3(0.0883024619, red, 0.2817188376, green, 0.6299787005, blue));
}

@inline
function lightness(p: v128, q: v128, r: v128): v128 {
  return sum3(0.2104542553, p, 0.793617785, q, -0.0040720468, r);
}

@inline
function greenRed(p: v128, q: v128, r: v128): v128 {
  return sum3(1.9779984951, p, -2.428592205, q, 0.4505937099, r);
}

@inline
function blueYellow(p: v128, q: v128, r: v128): v128 {
  return sum3(0.0259040371, p, 0.7827717662, q, -0.808675766, r);
}

@inline
function cubed(x: v128, a: f32, y: v128, b: f32, z: v128): v128 {
  const root = f32x4.add(f32x4.add(x, f32x4.mul(f32x4.splat(a), y)), f32x4.mul(f32x4.splat(b), z));
  return f32x4.mul(f32x4.mul(root, root), root);
}

@inline
function storeRgb(red: usize, green: usize, blue: usize, x: v128, y: v128, z: v128): void {
  const p = cubed(x, 0.3963377774, y, 0.2158037573, z);
  const q = cubed(x, -0.1055613458, y, -0.0638541728, z);
  const r = cubed(x, -0.0894841775, y, -1.291485548, z);
  v128.store(red, sum3(4.0767416621, p, -3.3077115913, q, 0.2309699292, r));
  v128.store(green, sum3(-1.2684380046, p, 2.6097574011, q, -0.3413193965, r));
  v128.store(blue, sum3(-0.0041960863, p, -0.7034186147, q, 1.707614701, r));
}

export function toOklab(n: i32, ol: usize, oa: usize, ob: usize, red: usize, green: usize, blue: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(red + i);
    const y = v128.load(green + i);
    const z = v128.load(blue + i);
    const p = first(x, y, z);
    const q = second(x, y, z);
    const r = third(x, y, z);
    v128.store(ol + i, lightness(p, q, r));
    v128.store(oa + i, greenRed(p, q, r));
    v128.store(ob + i, blueYellow(p, q, r));
  }
}

export function fromOklab(n: i32, red: usize, green: usize, blue: usize, x: usize, y: usize, z: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16)
    storeRgb(red + i, green + i, blue + i, v128.load(x + i), v128.load(y + i), v128.load(z + i));
}

/** Two linear RGB colours mixed by t in Oklab; the way there is linear from the cube roots on, so those are mixed. */
export function mixColors(
  n: i32, red: usize, green: usize, blue: usize,
  ar: usize, ag: usize, ab: usize, br: usize, bg: usize, bb: usize, t: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const x = v128.load(ar + i);
    const y = v128.load(ag + i);
    const z = v128.load(ab + i);
    const u = v128.load(br + i);
    const v = v128.load(bg + i);
    const w = v128.load(bb + i);
    const k = v128.load(t + i);
    const p = between(first(x, y, z), first(u, v, w), k);
    const q = between(second(x, y, z), second(u, v, w), k);
    const r = between(third(x, y, z), third(u, v, w), k);
    storeRgb(red + i, green + i, blue + i, lightness(p, q, r), greenRed(p, q, r), blueYellow(p, q, r));
  }
}
