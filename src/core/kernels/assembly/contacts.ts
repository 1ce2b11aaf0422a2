/** Balls that meet each other, through the grid of their places (grid.ts). */
import { inBlocks, NUMBERS, whole } from "./grid-table";
import { cellAt, rowsAround } from "./rows-around";

/** How fast two come nearer along the line between them, times their distance: below 0 where they do, 0 where they do not touch. */
@inline
function closing(dx: f32, dy: f32, dz: f32, du: f32, dv: f32, dw: f32, reach: f32): f32 {
  const square = dx * dx + dy * dy + dz * dz;
  if (!(square > 0 && square < reach * reach)) return 0;
  return min<f32>(0, dx * du + dy * dv + dz * dw);
}

/**
 * What a meeting does to speeds. Of sorted points from … from + n − 1 with no `met` it counts how many others each runs into;
 * with it, each pair exchanges momentum along its line, 1 + bounce times what would make them go alike, divided by the greater of both counts, so
 * that the energy of all never grows however many meet at once (each new speed is a mean of what single meetings would give), and momentum stays.
 * @param outU … whole lanes: the speeds afterwards, where points stood before sorting; with no `met` the counts, in sorted order, in the first
 * @param u … met what the sorted points have, in their order: speeds, radius, mass, counts
 * @param spans room for nine rows of cells, two words each @param bounce 0 to 1
 */
export function contactImpulses(
  n: i32, first: i32, outU: usize, outV: usize, outW: usize,
  u: usize, v: usize, w: usize, room: usize, mass: usize, met: usize, grid: usize, spans: usize, bounce: f32,
): void {
  const blocks = <usize>whole(grid, 9);
  let known = -1;
  let rows: usize = 0;
  for (let i = first, stop = first + n; i < stop; i++) {
    const own = blocks + inBlocks(i);
    const px = load<f32>(own);
    const py = load<f32>(own, 16);
    const pz = load<f32>(own, 32);
    const lane = (<usize>i) << 2;
    let count: f32 = 0;
    let su: f32 = 0, sv: f32 = 0, sw: f32 = 0;
    if (px - px + (py - py) + (pz - pz) == 0) {
      const cell = cellAt(px, py, pz, grid);
      if (cell != known) {
        known = cell;
        rows = rowsAround(spans, px, py, pz, grid);
      }
      const mu = load<f32>(u + lane);
      const mv = load<f32>(v + lane);
      const mw = load<f32>(w + lane);
      const radius = load<f32>(room + lane);
      const mine = load<f32>(mass + lane);
      for (let s: usize = 0; s < rows; s += 8) {
        const end = load<i32>(spans + s + 4);
        for (let k = load<i32>(spans + s); k < end; k++) {
          const block = blocks + inBlocks(k);
          const other = (<usize>k) << 2;
          const dx = load<f32>(block) - px;
          const dy = load<f32>(block, 16) - py;
          const dz = load<f32>(block, 32) - pz;
          const near = closing(
            dx, dy, dz,
            load<f32>(u + other) - mu, load<f32>(v + other) - mv, load<f32>(w + other) - mw,
            radius + load<f32>(room + other),
          );
          if (near == 0) continue;
          count += 1;
          if (!met) continue;
          const theirs = load<f32>(mass + other);
          const share = theirs / (mine + theirs) / max<f32>(load<f32>(met + lane), load<f32>(met + other));
          const by: f32 = ((<f32>1 + bounce) * near * share) / (dx * dx + dy * dy + dz * dz);
          su += dx * by;
          sv += dy * by;
          sw += dz * by;
        }
      }
    }
    if (met) {
      const to = (<usize>load<i32>(own, NUMBERS)) << 2;
      store<f32>(outU + to, load<f32>(u + lane) + su);
      store<f32>(outV + to, load<f32>(v + lane) + sv);
      store<f32>(outW + to, load<f32>(w + lane) + sw);
    } else store<f32>(outU + lane, count);
  }
}
