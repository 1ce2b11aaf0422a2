/** What particles see of each other, through the grid of their places (grid.ts). */
import { inBlocks, NUMBERS, whole } from "./grid-table";
import { cellAt, rowsAround } from "./rows-around";
import { lengthOf, sum } from "./vectors";

/** Those of four that are chosen, and 0 for the others. */
@inline
function plus(before: v128, v: v128, chosen: v128): v128 {
  return f32x4.add(before, v128.and(v, chosen));
}

/** Bytes of ten sums, four each. */
const SUMS: usize = 160;
/** Blocks that are met before they are added up, and the bytes of each: which of its four, and where it stands. */
const MET: usize = 64;
const ENTRY: usize = 32;

/**
 * Adds what is met, block by block, to the sums: how many are seen, the ways from them, their speeds, the ways to them.
 * @param leastOfFar times how far one is: the way ahead must be that at least
 */
@inline
function addMet(
  list: usize, end: usize, sums: usize, blocks: usize, u: usize, v: usize, w: usize,
  qx: v128, qy: v128, qz: v128, su: f32, sv: f32, sw: f32, share: v128, leastOfFar: f32,
): void {
  const one = f32x4.splat(1);
  let seen = v128.load(sums);
  let ax = v128.load(sums, 16), ay = v128.load(sums, 32), az = v128.load(sums, 48);
  let mu = v128.load(sums, 64), mv = v128.load(sums, 80), mw = v128.load(sums, 96);
  let mx = v128.load(sums, 112), my = v128.load(sums, 128), mz = v128.load(sums, 144);
  for (let entry = list; entry < end; entry += ENTRY) {
    const at = (<usize>load<i32>(entry, 16)) << 2;
    const block = blocks + (at << 2);
    const dx = f32x4.sub(v128.load(block), qx);
    const dy = f32x4.sub(v128.load(block, 16), qy);
    const dz = f32x4.sub(v128.load(block, 32), qz);
    const far = lengthOf(dx, dy, dz);
    const ahead = f32x4.add(
      f32x4.add(f32x4.mul(dx, f32x4.splat(su)), f32x4.mul(dy, f32x4.splat(sv))),
      f32x4.mul(dz, f32x4.splat(sw)),
    );
    const met = v128.and(v128.load(entry), f32x4.ge(ahead, f32x4.mul(f32x4.splat(leastOfFar), far)));
    const near = f32x4.sub(f32x4.div(one, far), share);
    seen = plus(seen, one, met);
    ax = plus(ax, f32x4.mul(dx, near), met);
    ay = plus(ay, f32x4.mul(dy, near), met);
    az = plus(az, f32x4.mul(dz, near), met);
    mu = plus(mu, v128.load(u + at), met);
    mv = plus(mv, v128.load(v + at), met);
    mw = plus(mw, v128.load(w + at), met);
    mx = plus(mx, dx, met);
    my = plus(my, dy, met);
    mz = plus(mz, dz, met);
  }
  v128.store(sums, seen);
  v128.store(sums, ax, 16);
  v128.store(sums, ay, 32);
  v128.store(sums, az, 48);
  v128.store(sums, mu, 64);
  v128.store(sums, mv, 80);
  v128.store(sums, mw, 96);
  v128.store(sums, mx, 112);
  v128.store(sums, my, 128);
  v128.store(sums, mz, 144);
}

/**
 * Of the neighbours within a radius that each sees: the way from them, the nearer the more (from 1 where they meet to 0 at the radius); their
 * mean speed less its own; the way to their middle. Nothing for what has no neighbours. Goes through the points as the grid has
 * sorted them, so that those who follow each other look at the same neighbours; what is written goes where points stood before.
 * @param first number of the block's first sorted point @param apartX … nearZ whole lanes, written
 * @param u v w speeds in the order of the sorted points, eight more at the end
 * @param grid cells are as wide as the radius, or wider @param spare 160 bytes for sums, 64 × 32 for blocks that are met, 72 for rows of cells
 * @param least cosine of half the angle of sight, about the own speed; below −1 for all around
 */
export function flockSums(
  n: i32, first: i32,
  apartX: usize, apartY: usize, apartZ: usize, alongX: usize, alongY: usize, alongZ: usize,
  nearX: usize, nearY: usize, nearZ: usize,
  u: usize, v: usize, w: usize, grid: usize, spare: usize, radius: f32, least: f32,
): void {
  const blocks = <usize>whole(grid, 9);
  const most = f32x4.splat(radius * radius);
  const share = f32x4.splat(1 / radius);
  const zero = f32x4.splat(0);
  const steps = i32x4(0, 1, 2, 3);
  const looks = least >= -1;
  const list = spare + SUMS;
  const full = list + MET * ENTRY;
  const spans = full;
  let known = -1;
  let rows: usize = 0;
  for (let i = first, stop = first + n; i < stop; i++) {
    const own = blocks + inBlocks(i);
    const px = load<f32>(own);
    const py = load<f32>(own, 16);
    const pz = load<f32>(own, 32);
    const lane = (<usize>i) << 2;
    const su = load<f32>(u + lane);
    const sv = load<f32>(v + lane);
    const sw = load<f32>(w + lane);
    const speed = Mathf.sqrt(su * su + sv * sv + sw * sw);
    const sees = looks && speed > 0;
    for (let at: usize = 0; at < SUMS; at += 16) v128.store(spare + at, zero);
    if (px - px + (py - py) + (pz - pz) == 0) {
      const qx = f32x4.splat(px);
      const qy = f32x4.splat(py);
      const qz = f32x4.splat(pz);
      const cell = cellAt(px, py, pz, grid);
      if (cell != known) {
        known = cell;
        rows = rowsAround(spans, px, py, pz, grid);
      }
      let last = list;
      for (let s: usize = 0; s < rows; s += 8) {
        const begin = load<i32>(spans + s);
        const end = load<i32>(spans + s + 4);
        for (let k = begin & ~3; k < end; k += 4) {
          const block = blocks + ((<usize>k) << 4);
          const dx = f32x4.sub(v128.load(block), qx);
          const dy = f32x4.sub(v128.load(block, 16), qy);
          const dz = f32x4.sub(v128.load(block, 32), qz);
          const square = f32x4.add(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)), f32x4.mul(dz, dz));
          const places = i32x4.add(i32x4.splat(k), steps);
          // Those of other cells, at both ends of a row, come up there.
          const here = v128.and(i32x4.ge_s(places, i32x4.splat(begin)), i32x4.lt_s(places, i32x4.splat(end)));
          const met = v128.and(v128.and(f32x4.le(square, most), f32x4.gt(square, zero)), here);
          v128.store(last, met);
          store<i32>(last, k, 16);
          // Without a branch, as nobody could guess which way it goes.
          last += v128.any_true(met) ? ENTRY : 0;
          if (last == full) {
            addMet(list, last, spare, blocks, u, v, w, qx, qy, qz, su, sv, sw, share, sees ? least * speed : -Infinity);
            last = list;
          }
        }
      }
      addMet(list, last, spare, blocks, u, v, w, qx, qy, qz, su, sv, sw, share, sees ? least * speed : -Infinity);
    }
    const to = (<usize>load<i32>(own, NUMBERS)) << 2;
    const count = sum(v128.load(spare, 0));
    const by: f32 = count > 0 ? 1 / count : 0;
    const some: f32 = count > 0 ? 1 : 0;
    store<f32>(apartX + to, -sum(v128.load(spare, 16)));
    store<f32>(apartY + to, -sum(v128.load(spare, 32)));
    store<f32>(apartZ + to, -sum(v128.load(spare, 48)));
    store<f32>(alongX + to, sum(v128.load(spare, 64)) * by - su * some);
    store<f32>(alongY + to, sum(v128.load(spare, 80)) * by - sv * some);
    store<f32>(alongZ + to, sum(v128.load(spare, 96)) * by - sw * some);
    store<f32>(nearX + to, sum(v128.load(spare, 112)) * by);
    store<f32>(nearY + to, sum(v128.load(spare, 128)) * by);
    store<f32>(nearZ + to, sum(v128.load(spare, 144)) * by);
  }
}
