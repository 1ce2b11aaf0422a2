/**
 * Surface nets over tiles of 8 × 8 × 8 voxels (S. Gibson, "Constrained elastic surface nets", 1998). The cubes of a tile lie between its voxels and
 * the next ones along each axis, so they reach over a block of 9 × 9 × 9, whose parts are that tile and the seven above it.
 *
 * A list of tiles has for each: eight states (numbers of stored tiles, −1 outside, −2 inside), 81 words with a row's nine sides as bits (1 inside),
 * and 512 numbers of points by cube. `outside` and `inside` are what all of an unstored tile is.
 */
import { sum } from "./vectors";

const ROWS = 81;
const CUBES = 512;
/** Floats from one row of a block to the next: two vectors and one more. */
const ROW = 12;

@inline
function stateOf(states: usize, part: i32): i32 {
  return load<i32>(states + (<usize>part << 2));
}

/** Sides of the eight voxels of a row as bits. */
@inline
function eightSides(state: i32, lane: usize, row: i32, level: v128, turn: v128, outside: f32, inside: f32): i32 {
  if (state < 0) return (state == -1 ? outside : inside) < 0 ? 255 : 0;
  const p = lane + ((<usize>(state * CUBES + row)) << 2);
  const low = f32x4.mul(turn, f32x4.sub(v128.load(p), level));
  const high = f32x4.mul(turn, f32x4.sub(v128.load(p, 16), level));
  const none = f32x4.splat(0);
  return i32x4.bitmask(f32x4.lt(low, none)) | (i32x4.bitmask(f32x4.lt(high, none)) << 4);
}

/** Cubes of a row whose corners are not all on one side, as bits. */
@inline
function crossedOf(a: i32, b: i32, c: i32, d: i32): i32 {
  const any = a | b | c | d;
  const all = a & b & c & d;
  return (any | (any >> 1)) & ~(all & (all >> 1)) & 255;
}

@inline
function row(rows: usize, j: i32, k: i32): i32 {
  return load<i32>(rows + (<usize>(k * 9 + j) << 2));
}

/** Sides of the voxels of n tiles, and how many points and faces their surface has. @param counts two of each tile, written */
export function netSides(
  n: i32, states: usize, rows: usize, counts: usize, lane: usize, level: f32, turn: f32, outside: f32, inside: f32,
): void {
  const levels = f32x4.splat(level);
  const turns = f32x4.splat(turn);
  for (let t = 0; t < n; t++) {
    const here = states + (<usize>t << 5);
    const bits = rows + <usize>t * ROWS * 4;
    for (let k = 0; k < 9; k++)
      for (let j = 0; j < 9; j++) {
        const part = ((k >> 3) << 2) | ((j >> 3) << 1);
        const at = ((k & 7) << 6) + ((j & 7) << 3);
        const low = eightSides(stateOf(here, part), lane, at, levels, turns, outside, inside);
        const high = eightSides(stateOf(here, part | 1), lane, at, levels, turns, outside, inside);
        store<i32>(bits + (<usize>(k * 9 + j) << 2), low | ((high & 1) << 8));
      }
    let points = 0;
    let faces = 0;
    for (let k = 0; k < 8; k++)
      for (let j = 0; j < 8; j++) {
        const a = row(bits, j, k);
        const b = row(bits, j + 1, k);
        const c = row(bits, j, k + 1);
        points += popcnt<i32>(crossedOf(a, b, c, row(bits, j + 1, k + 1)));
        faces += popcnt<i32>((a ^ (a >> 1)) & 255) + popcnt<i32>((a ^ b) & 255) + popcnt<i32>((a ^ c) & 255);
      }
    store<i32>(counts + (<usize>t << 3), points);
    store<i32>(counts + (<usize>t << 3), faces, 4);
  }
}

/** Values of a tile's block less the level, below 0 inside. */
function fillBlock(
  block: usize, states: usize, lane: usize, level: f32, turn: f32, outside: f32, inside: f32,
): void {
  for (let k = 0; k < 9; k++)
    for (let j = 0; j < 9; j++) {
      const part = ((k >> 3) << 2) | ((j >> 3) << 1);
      const at = ((k & 7) << 6) + ((j & 7) << 3);
      const to = block + (<usize>((k * 9 + j) * ROW) << 2);
      const low = stateOf(states, part);
      if (low < 0) {
        const flat = f32x4.splat(low == -1 ? outside : inside);
        v128.store(to, flat);
        v128.store(to, flat, 16);
      } else {
        const p = lane + ((<usize>(low * CUBES + at)) << 2);
        const levels = f32x4.splat(level);
        const turns = f32x4.splat(turn);
        v128.store(to, f32x4.mul(turns, f32x4.sub(v128.load(p), levels)));
        v128.store(to, f32x4.mul(turns, f32x4.sub(v128.load(p, 16), levels)), 16);
      }
      const high = stateOf(states, part | 1);
      const last: f32 =
        high < 0 ? (high == -1 ? outside : inside) : turn * (load<f32>(lane + ((<usize>(high * CUBES + at)) << 2)) - level);
      store<f32>(to, last, 32);
    }
}

/** Sums of where edges are cut, of the cube at hand. */
let sumX: f64 = 0;
let sumY: f64 = 0;
let sumZ: f64 = 0;
let cuts: f64 = 0;

/** Where along four edges from a to b the surface cuts them; 0 along those that it does not cut. */
@inline
function cutsOf(a: v128, b: v128, isCut: v128): v128 {
  return v128.and(f32x4.div(a, f32x4.sub(a, b)), isCut);
}

/** The mean of where the surface cuts the edges of a cube: those along each axis at once. */
function meanCut(cube: usize): void {
  const none = f32x4.splat(0);
  // Corners x y z, as 000 010 100 110, and those with z 1.
  const low = v128.shuffle<f32>(v128.load(cube), v128.load(cube + ROW * 4), 0, 4, 1, 5);
  const above = cube + 9 * ROW * 4;
  const high = v128.shuffle<f32>(v128.load(above), v128.load(above + ROW * 4), 0, 4, 1, 5);
  const lowIn = f32x4.lt(low, none);
  const highIn = f32x4.lt(high, none);
  const isX = v128.xor(v128.shuffle<f32>(lowIn, highIn, 0, 1, 4, 5), v128.shuffle<f32>(lowIn, highIn, 2, 3, 6, 7));
  const isY = v128.xor(v128.shuffle<f32>(lowIn, highIn, 0, 2, 4, 6), v128.shuffle<f32>(lowIn, highIn, 1, 3, 5, 7));
  const isZ = v128.xor(lowIn, highIn);
  const x = cutsOf(v128.shuffle<f32>(low, high, 0, 1, 4, 5), v128.shuffle<f32>(low, high, 2, 3, 6, 7), isX);
  const y = cutsOf(v128.shuffle<f32>(low, high, 0, 2, 4, 6), v128.shuffle<f32>(low, high, 1, 3, 5, 7), isY);
  const z = cutsOf(low, high, isZ);
  // Edges along x are at y z = 00 10 01 11, those along y at x z, those along z at x y = 00 01 10 11.
  const bitsX = i32x4.bitmask(isX);
  const bitsY = i32x4.bitmask(isY);
  const bitsZ = i32x4.bitmask(isZ);
  sumX = <f64>sum(x) + <f64>popcnt<i32>((bitsY & 10) | ((bitsZ & 12) << 4));
  sumY = <f64>sum(y) + <f64>popcnt<i32>((bitsX & 10) | ((bitsZ & 10) << 4));
  sumZ = <f64>sum(z) + <f64>popcnt<i32>((bitsX & 12) | ((bitsY & 12) << 4));
  cuts = <f64>popcnt<i32>(bitsX | (bitsY << 4) | (bitsZ << 8));
}

/**
 * A point in each cube that the surface passes, and its number by cube.
 * @param places x, y, z of each tile in voxels @param starts number of each tile's first point @param block room for 81 × 12 floats
 * @param blocky 1 puts points in the middles of their cubes, where corners of voxels meet
 */
export function netPoints(
  n: i32, states: usize, rows: usize, places: usize, starts: usize, numbers: usize, block: usize, lane: usize, xs: usize, ys: usize, zs: usize,
  level: f32, turn: f32, outside: f32, inside: f32, voxel: f64, blocky: i32,
): void {
  for (let t = 0; t < n; t++) {
    let number = load<i32>(starts + (<usize>t << 2));
    if (load<i32>(starts + (<usize>t << 2), 4) == number) continue;
    const bits = rows + <usize>t * ROWS * 4;
    if (!blocky) fillBlock(block, states + (<usize>t << 5), lane, level, turn, outside, inside);
    const place = places + <usize>t * 12;
    const x = <f64>load<i32>(place);
    const y = <f64>load<i32>(place, 4);
    const z = <f64>load<i32>(place, 8);
    for (let k = 0; k < 8; k++)
      for (let j = 0; j < 8; j++) {
        let crossed = crossedOf(row(bits, j, k), row(bits, j + 1, k), row(bits, j, k + 1), row(bits, j + 1, k + 1));
        while (crossed) {
          const i = ctz<i32>(crossed);
          crossed &= crossed - 1;
          store<i32>(numbers + (<usize>(t * CUBES + (k << 6) + (j << 3) + i) << 2), number);
          const to = <usize>number << 2;
          number++;
          if (blocky) {
            sumX = sumY = sumZ = 0.5;
            cuts = 1;
          } else meanCut(block + (<usize>((k * 9 + j) * ROW + i) << 2));
          store<f32>(xs + to, <f32>((x + <f64>i + sumX / cuts) * voxel));
          store<f32>(ys + to, <f32>((y + <f64>j + sumY / cuts) * voxel));
          store<f32>(zs + to, <f32>((z + <f64>k + sumZ / cuts) * voxel));
        }
      }
  }
}

/** The number of the point of a cube `back` (1, 8 and 64 for one along x, y and z) that may lie in a tile before; −1 where none is. */
function pointOf(lower: usize, numbers: usize, x: i32, y: i32, z: i32, back: i32): i32 {
  const i = x - (back & 1);
  const j = y - ((back >> 3) & 1);
  const k = z - (back >> 6);
  const part = (i < 0 ? 1 : 0) | (j < 0 ? 2 : 0) | (k < 0 ? 4 : 0);
  const tile = load<i32>(lower + (<usize>part << 2));
  if (tile < 0) return -1;
  return load<i32>(numbers + (<usize>(tile * CUBES + ((k & 7) << 6) + ((j & 7) << 3) + (i & 7)) << 2));
}

/**
 * Faces of four corners: each edge that is cut is gone around by the four cubes at it, counter-clockwise seen from outside.
 * @param lower of each tile the numbers in the list of itself and the seven below it, −1 for none @param starts number of each tile's first face
 * @returns how many faces lack a point: their first corner is −1
 */
export function netFaces(n: i32, rows: usize, lower: usize, starts: usize, numbers: usize, corners: usize): i32 {
  let lacking = 0;
  for (let t = 0; t < n; t++) {
    let to = corners + (<usize>load<i32>(starts + (<usize>t << 2)) << 4);
    if (load<i32>(starts + (<usize>t << 2), 4) == load<i32>(starts + (<usize>t << 2))) continue;
    const bits = rows + <usize>t * ROWS * 4;
    const before = lower + (<usize>t << 5);
    const mine = numbers + (<usize>(load<i32>(before) * CUBES) << 2);
    for (let k = 0; k < 8; k++)
      for (let j = 0; j < 8; j++) {
        const own = row(bits, j, k);
        const cutX = (own ^ (own >> 1)) & 255;
        const cutY = (own ^ row(bits, j + 1, k)) & 255;
        const cutZ = (own ^ row(bits, j, k + 1)) & 255;
        let any = cutX | cutY | cutZ;
        while (any) {
          const i = ctz<i32>(any);
          any &= any - 1;
          const side = (own >> i) & 1;
          // Most edges have all four cubes in their own tile.
          const isWithin = i > 0 && j > 0 && k > 0;
          const cube = mine + (<usize>((k << 6) + (j << 3) + i) << 2);
          const here = load<i32>(cube);
          for (let axis = 0; axis < 3; axis++) {
            if (!(((axis == 0 ? cutX : axis == 1 ? cutY : cutZ) >> i) & 1)) continue;
            // One step back along the axis after this one, and along the one after that.
            const b = axis == 0 ? 8 : axis == 1 ? 64 : 1;
            const c = axis == 0 ? 64 : axis == 1 ? 1 : 8;
            let first: i32;
            let second: i32;
            let fourth: i32;
            if (isWithin) {
              first = load<i32>(cube - (<usize>(b + c) << 2));
              second = load<i32>(cube - (<usize>c << 2));
              fourth = load<i32>(cube - (<usize>b << 2));
            } else {
              first = pointOf(before, numbers, i, j, k, b + c);
              second = pointOf(before, numbers, i, j, k, c);
              fourth = pointOf(before, numbers, i, j, k, b);
            }
            if (first < 0 || second < 0 || here < 0 || fourth < 0) {
              first = -1;
              lacking++;
            }
            store<i32>(to, first < 0 || side ? first : fourth);
            store<i32>(to, side ? second : here, 4);
            store<i32>(to, side ? here : second, 8);
            store<i32>(to, side ? fourth : first, 12);
            to += 16;
          }
        }
      }
  }
  return lacking;
}
