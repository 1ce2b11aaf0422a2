/** What a search goes on with: the nearest first. */

/** Points by their distance, the nearest first: a binary heap. A point may stand in it several times. */
export class Front {
  private readonly points: number[] = [];
  private readonly keys: number[] = [];

  constructor(private readonly distance: Float64Array) {}

  add(p: number): void {
    const key = this.distance[p];
    let i = this.points.push(p) - 1;
    this.keys.push(key);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (this.keys[up] <= key) break;
      this.put(i, up);
      i = up;
    }
    this.points[i] = p;
    this.keys[i] = key;
  }

  /** Takes the nearest; −1 when there is none. */
  next(): number {
    if (this.points.length === 0) return -1;
    const first = this.points[0];
    const [p, key] = [this.points.pop() as number, this.keys.pop() as number];
    const { length } = this.points;
    if (length === 0) return first;
    let i = 0;
    for (let down = 1; down < length; down = 2 * i + 1) {
      if (down + 1 < length && this.keys[down + 1] < this.keys[down]) down++;
      if (this.keys[down] >= key) break;
      this.put(i, down);
      i = down;
    }
    this.points[i] = p;
    this.keys[i] = key;
    return first;
  }

  private put(to: number, from: number): void {
    this.points[to] = this.points[from];
    this.keys[to] = this.keys[from];
  }
}
