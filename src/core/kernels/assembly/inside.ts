/**
 * What lies inside of a closed mesh, as spatial/inside.ts counts it: lines along X, and the triangles of one bucket over Y and Z. All
 * is worked out in float64 and in the same order, so both say the same.
 *
 * The table (words): buckets along one axis; where entries, points (three a triangle), x, y and z begin, in words; two free; least
 * y, least z and the sides of a bucket as float64; then where each bucket's entries begin.
 */
const ENTRIES: usize = 4;
const POINTS: usize = 8;
const PLACES: usize = 12;
const LOW: usize = 32;
const SIDE: usize = 48;
const STARTS: usize = 64;

/** 1 where (x, y, z) lies inside, else 0. */
export function insideSurface(n: i32, out: usize, x: usize, y: usize, z: usize, table: usize): void {
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 4) {
    const winding = windingAt(table, <f64>load<f32>(x + i), <f64>load<f32>(y + i), <f64>load<f32>(z + i));
    store<f32>(out + i, winding == 0 ? 0 : 1);
  }
}

/** How often the line from far off to a place enters, less how often it leaves. */
function windingAt(table: usize, x: f64, y: f64, z: f64): i32 {
  const buckets = load<i32>(table);
  const j = (y - load<f64>(table + LOW)) / load<f64>(table + SIDE);
  const k = (z - load<f64>(table + LOW + 8)) / load<f64>(table + SIDE + 8);
  const most = <f64>buckets;
  if (!(j >= 0 && k >= 0 && j <= most && k <= most)) return 0;
  const bucket = (<usize>(cell(j, buckets) * buckets + cell(k, buckets))) << 2;
  const entries = table + ((<usize>load<i32>(table + ENTRIES)) << 2);
  const first = entries + ((<usize>load<i32>(table + STARTS + bucket)) << 2);
  const end = entries + ((<usize>load<i32>(table + STARTS + bucket + 4)) << 2);
  let sum = 0;
  for (let e = first; e < end; e += 4) sum += turnAt(table, load<i32>(e), x, y, z);
  return sum;
}

@inline
function cell(at: f64, buckets: i32): i32 {
  return min(buckets - 1, max(0, <i32>Math.floor(at)));
}

@inline
function lane(table: usize, axis: usize): usize {
  return table + ((<usize>load<i32>(table + PLACES + (axis << 2))) << 2);
}

let edgeX: f64 = 0;
let edgeZ: f64 = 0;

/** X and Z of an edge at a height; the same bits from both of its triangles. */
function edgeAt(table: usize, p: i32, q: i32, y: f64): void {
  const low = (<usize>min(p, q)) << 2;
  const high = (<usize>max(p, q)) << 2;
  const xs = lane(table, 0);
  const ys = lane(table, 1);
  const zs = lane(table, 2);
  const y0 = <f64>load<f32>(ys + low);
  const t = (y - y0) / (<f64>load<f32>(ys + high) - y0);
  const x0 = <f64>load<f32>(xs + low);
  const z0 = <f64>load<f32>(zs + low);
  edgeX = x0 + t * (<f64>load<f32>(xs + high) - x0);
  edgeZ = z0 + t * (<f64>load<f32>(zs + high) - z0);
}

/** 1 where the line enters through a triangle before it comes to x, −1 where it leaves, else 0. */
function turnAt(table: usize, triangle: i32, x: f64, y: f64, z: f64): i32 {
  const at = table + ((<usize>load<i32>(table + POINTS)) << 2) + (<usize>triangle) * 12;
  const ys = lane(table, 1);
  const a = load<i32>(at);
  const b = load<i32>(at, 4);
  const c = load<i32>(at, 8);
  const aboveA = <f64>load<f32>(ys + ((<usize>a) << 2)) > y;
  const aboveB = <f64>load<f32>(ys + ((<usize>b) << 2)) > y;
  const aboveC = <f64>load<f32>(ys + ((<usize>c) << 2)) > y;
  if (aboveA == aboveB && aboveB == aboveC) return 0;
  // Where its edges pass the height: one on the way up, one on the way down.
  if (!aboveA && aboveB) edgeAt(table, a, b, y);
  else if (!aboveB && aboveC) edgeAt(table, b, c, y);
  else edgeAt(table, c, a, y);
  const ux = edgeX;
  const uz = edgeZ;
  if (aboveA && !aboveB) edgeAt(table, a, b, y);
  else if (aboveB && !aboveC) edgeAt(table, b, c, y);
  else edgeAt(table, c, a, y);
  if (uz > z == edgeZ > z) return 0;
  if (!(ux + ((z - uz) / (edgeZ - uz)) * (edgeX - ux) <= x)) return 0;
  return uz < edgeZ ? -1 : 1;
}
