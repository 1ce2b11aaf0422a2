/** What particles see of each other, through the grid of their places (grid.ts). */
import { cellAlong, inBlocks, NUMBERS, real, whole } from "./grid-table";

/**
 * Of the neighbours within a radius that each sees: the way from them, the nearer the more (from 1 where they meet to 0 at the radius); their
 * mean speed less its own; the way to their middle. Nothing for what has no neighbours.
 * @param first number of the block's first particle @param u v w whole lanes of speeds
 * @param least cosine of half the angle of sight, about the own speed; below −1 for all around
 */
export function flockSums(
  n: i32, first: i32,
  apartX: usize, apartY: usize, apartZ: usize, alongX: usize, alongY: usize, alongZ: usize,
  nearX: usize, nearY: usize, nearZ: usize,
  x: usize, y: usize, z: usize, u: usize, v: usize, w: usize, grid: usize, radius: f32, least: f32,
): void {
  const side = real(grid, 3);
  const nx = whole(grid, 4);
  const ny = whole(grid, 5);
  const nz = whole(grid, 6);
  const starts = <usize>whole(grid, 8);
  const blocks = <usize>whole(grid, 9);
  const most = radius * radius;
  for (let i = 0; i < n; i++) {
    const at = (<usize>i) << 2;
    const self = first + i;
    const own = (<usize>self) << 2;
    const px = load<f32>(x + at);
    const py = load<f32>(y + at);
    const pz = load<f32>(z + at);
    const su = load<f32>(u + own);
    const sv = load<f32>(v + own);
    const sw = load<f32>(w + own);
    const speed = Mathf.sqrt(su * su + sv * sv + sw * sw);
    let seen: f32 = 0;
    let ax: f32 = 0, ay: f32 = 0, az: f32 = 0;
    let mu: f32 = 0, mv: f32 = 0, mw: f32 = 0;
    let mx: f32 = 0, my: f32 = 0, mz: f32 = 0;
    if (px - px + (py - py) + (pz - pz) == 0) {
      const x0 = cellAlong(px - radius, real(grid, 0), side, nx);
      const x1 = cellAlong(px + radius, real(grid, 0), side, nx);
      const y0 = cellAlong(py - radius, real(grid, 1), side, ny);
      const y1 = cellAlong(py + radius, real(grid, 1), side, ny);
      const z0 = cellAlong(pz - radius, real(grid, 2), side, nz);
      const z1 = cellAlong(pz + radius, real(grid, 2), side, nz);
      for (let rz = z0; rz <= z1; rz++) {
        for (let ry = y0; ry <= y1; ry++) {
          const row = starts + ((<usize>((rz * ny + ry) * nx)) << 2);
          const end = load<i32>(row + ((<usize>x1 + 1) << 2));
          for (let k = load<i32>(row + ((<usize>x0) << 2)); k < end; k++) {
            const point = blocks + inBlocks(k);
            const dx = load<f32>(point) - px;
            const dy = load<f32>(point, 16) - py;
            const dz = load<f32>(point, 32) - pz;
            const square = dx * dx + dy * dy + dz * dz;
            if (square > most || square == 0) continue;
            const number = load<i32>(point, NUMBERS);
            if (number == self) continue;
            const far = Mathf.sqrt(square);
            if (speed > 0 && dx * su + dy * sv + dz * sw < least * far * speed) continue;
            const near: f32 = (1 - far / radius) / far;
            const other = (<usize>number) << 2;
            seen += 1;
            ax -= dx * near;
            ay -= dy * near;
            az -= dz * near;
            mu += load<f32>(u + other);
            mv += load<f32>(v + other);
            mw += load<f32>(w + other);
            mx += dx;
            my += dy;
            mz += dz;
          }
        }
      }
    }
    const by: f32 = seen > 0 ? 1 / seen : 0;
    const some: f32 = seen > 0 ? 1 : 0;
    store<f32>(apartX + at, ax);
    store<f32>(apartY + at, ay);
    store<f32>(apartZ + at, az);
    store<f32>(alongX + at, mu * by - su * some);
    store<f32>(alongY + at, mv * by - sv * some);
    store<f32>(alongZ + at, mw * by - sw * some);
    store<f32>(nearX + at, mx * by);
    store<f32>(nearY + at, my * by);
    store<f32>(nearZ + at, mz * by);
  }
}
