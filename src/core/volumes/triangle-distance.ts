/** How far places are from a triangle (C. Ericson, "Real-Time Collision Detection", 2005, §5.1.5). */

/** Set to a triangle once, then asked of many places. */
export class TriangleDistance {
  private readonly a = [0, 0, 0];
  private readonly ab = [0, 0, 0];
  private readonly ac = [0, 0, 0];
  /** Parts of the closest place that its corners have. */
  readonly share: [number, number, number] = [1, 0, 0];

  set(xyz: readonly ArrayLike<number>[], a: number, b: number, c: number): void {
    for (let axis = 0; axis < 3; axis++) {
      const from = xyz[axis][a];
      this.a[axis] = from;
      this.ab[axis] = xyz[axis][b] - from;
      this.ac[axis] = xyz[axis][c] - from;
    }
  }

  /** Squared; leaves `share` behind. */
  squared(x: number, y: number, z: number): number {
    const { a, ab, ac } = this;
    const [px, py, pz] = [x - a[0], y - a[1], z - a[2]];
    const d1 = ab[0] * px + ab[1] * py + ab[2] * pz;
    const d2 = ac[0] * px + ac[1] * py + ac[2] * pz;
    if (d1 <= 0 && d2 <= 0) return this.closest(px, py, pz, 0, 0);
    const [bx, by, bz] = [px - ab[0], py - ab[1], pz - ab[2]];
    const d3 = ab[0] * bx + ab[1] * by + ab[2] * bz;
    const d4 = ac[0] * bx + ac[1] * by + ac[2] * bz;
    if (d3 >= 0 && d4 <= d3) return this.closest(px, py, pz, 1, 0);
    const vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) return this.closest(px, py, pz, d1 - d3 === 0 ? 0 : d1 / (d1 - d3), 0);
    const [cx, cy, cz] = [px - ac[0], py - ac[1], pz - ac[2]];
    const d5 = ab[0] * cx + ab[1] * cy + ab[2] * cz;
    const d6 = ac[0] * cx + ac[1] * cy + ac[2] * cz;
    if (d6 >= 0 && d5 <= d6) return this.closest(px, py, pz, 0, 1);
    const vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0) return this.closest(px, py, pz, 0, d2 - d6 === 0 ? 0 : d2 / (d2 - d6));
    const va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      const w = (d4 - d3) / (d4 - d3 + (d5 - d6) || 1);
      return this.closest(px, py, pz, 1 - w, w);
    }
    const all = va + vb + vc;
    return this.closest(px, py, pz, vb / all, vc / all);
  }

  private closest(px: number, py: number, pz: number, v: number, w: number): number {
    const { ab, ac, share } = this;
    share[0] = 1 - v - w;
    share[1] = v;
    share[2] = w;
    const dx = px - ab[0] * v - ac[0] * w;
    const dy = py - ab[1] * v - ac[1] * w;
    const dz = pz - ab[2] * v - ac[2] * w;
    return dx * dx + dy * dy + dz * dz;
  }
}
