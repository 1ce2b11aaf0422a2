/** Linear sRGB and Oklab (B. Ottosson, 2020). */

let l: f32 = 0;
let a: f32 = 0;
let b: f32 = 0;

@inline
function toLab(red: f32, green: f32, blue: f32): void {
  const p = Mathf.cbrt(0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue);
  const q = Mathf.cbrt(0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue);
  const r = Mathf.cbrt(0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue);
  l = 0.2104542553 * p + 0.793617785 * q - 0.0040720468 * r;
  a = 1.9779984951 * p - 2.428592205 * q + 0.4505937099 * r;
  b = 0.0259040371 * p + 0.7827717662 * q - 0.808675766 * r;
}

@inline
function storeRgb(red: usize, green: usize, blue: usize, x: f32, y: f32, z: f32): void {
  const p = x + 0.3963377774 * y + 0.2158037573 * z;
  const q = x - 0.1055613458 * y - 0.0638541728 * z;
  const r = x - 0.0894841775 * y - 1.291485548 * z;
  const p3 = p * p * p;
  const q3 = q * q * q;
  const r3 = r * r * r;
  store<f32>(red, 4.0767416621 * p3 - 3.3077115913 * q3 + 0.2309699292 * r3);
  store<f32>(green, -1.2684380046 * p3 + 2.6097574011 * q3 - 0.3413193965 * r3);
  store<f32>(blue, -0.0041960863 * p3 - 0.7034186147 * q3 + 1.707614701 * r3);
}

export function toOklab(n: i32, ol: usize, oa: usize, ob: usize, red: usize, green: usize, blue: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    toLab(load<f32>(red + i), load<f32>(green + i), load<f32>(blue + i));
    store<f32>(ol + i, l);
    store<f32>(oa + i, a);
    store<f32>(ob + i, b);
  }
}

export function fromOklab(n: i32, red: usize, green: usize, blue: usize, x: usize, y: usize, z: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4)
    storeRgb(red + i, green + i, blue + i, load<f32>(x + i), load<f32>(y + i), load<f32>(z + i));
}

/** Two linear RGB colours mixed by t in Oklab. */
export function mixColors(
  n: i32, red: usize, green: usize, blue: usize,
  ar: usize, ag: usize, ab: usize, br: usize, bg: usize, bb: usize, t: usize,
): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    toLab(load<f32>(ar + i), load<f32>(ag + i), load<f32>(ab + i));
    const x = l;
    const y = a;
    const z = b;
    toLab(load<f32>(br + i), load<f32>(bg + i), load<f32>(bb + i));
    const k = load<f32>(t + i);
    storeRgb(red + i, green + i, blue + i, x + k * (l - x), y + k * (a - y), z + k * (b - z));
  }
}
