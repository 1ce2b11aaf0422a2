/** The ways that elements go over a range of frames, as lines. */
import type { Shape } from "../geometry/shape";

/** Elements whose ways are shown, spread over all. */
const MOST_PATHS = 200;

export class MotionPaths {
  /** Ids of those that are shown, in order. */
  private ids: readonly number[] | null = null;
  /** Where each was at the last frame. */
  private last = new Map<number, readonly [number, number, number]>();
  private readonly segments: number[] = [];

  /** Frames are given in order. */
  add({ sites }: Shape): void {
    if (!sites) return;
    const ids = sites.columns.id?.lanes[0];
    const idOf = (i: number) => ids?.[i] ?? i;
    if (!this.ids) {
      const count = Math.min(sites.count, MOST_PATHS);
      this.ids = Array.from({ length: count }, (_, i) => idOf(Math.floor((i * sites.count) / count)));
    }
    const wanted = new Set(this.ids);
    const now = new Map<number, readonly [number, number, number]>();
    const [x, y, z] = sites.columns.position.lanes;
    for (let i = 0; i < sites.count; i++) {
      const id = idOf(i);
      if (!wanted.has(id) || now.has(id)) continue;
      const place = [x[i], y[i], z[i]] as const;
      const before = this.last.get(id);
      if (before) this.segments.push(...before, ...place);
      now.set(id, place);
    }
    this.last = now;
  }

  /** Ends of segments, three numbers each. */
  lines(): Float32Array {
    return Float32Array.from(this.segments);
  }
}
