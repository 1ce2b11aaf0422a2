/** The nearest place on curves: their pieces in runs, each in a box, the nearest boxes looked at first. */
import { AlongCurves } from "../geometry/along-curves";
import type { Curves } from "../geometry/curves";

/** Pieces in a run. */
const RUN = 16;

/** A piece from point `p` to `q` of curve `k`, the length travelled before it and its own. */
interface Pieces {
  readonly p: Int32Array;
  readonly q: Int32Array;
  readonly k: Int32Array;
  readonly before: Float64Array;
}

export class NearCurves {
  /** Functions cannot be sent: a field with this in it fails to cross to another thread at once. */
  readonly staysHere = (): true => true;
  private readonly along: AlongCurves;
  private readonly lanes: readonly ArrayLike<number>[];
  private readonly pieces: Pieces;
  /** Six numbers a run: least x, y, z, greatest x, y, z. */
  private readonly boxes: Float64Array;
  private readonly distances: Float64Array;

  constructor(curves: Curves) {
    this.along = new AlongCurves(curves);
    this.lanes = curves.points.columns.position.lanes;
    this.pieces = piecesOf(curves, this.along);
    const runs = Math.ceil(this.pieces.p.length / RUN);
    this.distances = new Float64Array(runs);
    this.boxes = new Float64Array(runs * 6).map((_, i) => (i % 6 < 3 ? Infinity : -Infinity));
    this.pieces.p.forEach((p, s) => {
      const box = Math.floor(s / RUN) * 6;
      for (const point of [p, this.pieces.q[s]])
        for (let a = 0; a < 3; a++) {
          this.boxes[box + a] = Math.min(this.boxes[box + a], this.lanes[a][point]);
          this.boxes[box + 3 + a] = Math.max(this.boxes[box + 3 + a], this.lanes[a][point]);
        }
    });
  }

  /**
   * Writes of the place that is nearest to (x, y, z) its distance, x, y, z, the curve's direction there, the part of its curve's
   * length and the curve's number to `at` + `i` of `floats`. Of two that are as near it is the earlier one.
   */
  find(x: number, y: number, z: number, floats: Float32Array, at: readonly number[], i: number): void {
    const { boxes, distances, pieces, lanes } = this;
    let nearest = 0;
    for (let b = 0; b < distances.length; b++) {
      distances[b] =
        outside(x, boxes[b * 6], boxes[b * 6 + 3]) +
        outside(y, boxes[b * 6 + 1], boxes[b * 6 + 4]) +
        outside(z, boxes[b * 6 + 2], boxes[b * 6 + 5]);
      if (distances[b] < distances[nearest]) nearest = b;
    }
    let [best, piece, share] = [Infinity, 0, 0];
    const look = (b: number) => {
      for (let s = b * RUN; s < Math.min(pieces.p.length, (b + 1) * RUN); s++) {
        const [p, q] = [pieces.p[s], pieces.q[s]];
        const [ux, uy, uz] = [
          lanes[0][q] - lanes[0][p],
          lanes[1][q] - lanes[1][p],
          lanes[2][q] - lanes[2][p],
        ];
        const [vx, vy, vz] = [x - lanes[0][p], y - lanes[1][p], z - lanes[2][p]];
        const whole = ux * ux + uy * uy + uz * uz;
        const t = whole > 0 ? Math.min(1, Math.max(0, (ux * vx + uy * vy + uz * vz) / whole)) : 0;
        const [dx, dy, dz] = [vx - ux * t, vy - uy * t, vz - uz * t];
        const d = dx * dx + dy * dy + dz * dz;
        if (d < best || (d === best && s < piece)) [best, piece, share] = [d, s, t];
      }
    };
    look(nearest);
    for (let b = 0; b < distances.length; b++) if (b !== nearest && distances[b] <= best) look(b);
    const [p, q, k] = [pieces.p[piece], pieces.q[piece], pieces.k[piece]];
    const way = [0, 1, 2].map((a) => lanes[a][q] - lanes[a][p]);
    const size = Math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2]);
    floats[at[0] + i] = Math.sqrt(best);
    for (let a = 0; a < 3; a++) {
      floats[at[1 + a] + i] = lanes[a][p] + way[a] * share;
      floats[at[4 + a] + i] = size > 0 ? way[a] / size : 0;
    }
    const length = this.along.lengths[k];
    floats[at[7] + i] = length > 0 ? (pieces.before[piece] + size * share) / length : 0;
    floats[at[8] + i] = k;
  }
}

/** The square of how far a number lies outside of a range. */
function outside(v: number, low: number, high: number): number {
  const d = v < low ? low - v : v > high ? v - high : 0;
  return d * d;
}

function piecesOf(curves: Curves, along: AlongCurves): Pieces {
  const [p, q, k, before]: number[][] = [[], [], [], []];
  const [x, y, z] = curves.points.columns.position.lanes;
  for (let c = 0; c < along.count; c++) {
    const [first, end] = [curves.curveStarts[c], curves.curveStarts[c + 1]];
    const last = along.isRound(c) ? end : end - 1;
    let travelled = 0;
    // A curve of one point is a piece without length.
    for (let a = first; a < Math.max(last, first + 1) && first < end; a++) {
      const b = a + 1 < end ? a + 1 : first;
      p.push(a);
      q.push(b);
      k.push(c);
      before.push(travelled);
      const [dx, dy, dz] = [x[b] - x[a], y[b] - y[a], z[b] - z[a]];
      travelled += Math.sqrt(dx * dx + dy * dy + dz * dz);
    }
  }
  return {
    p: Int32Array.from(p),
    q: Int32Array.from(q),
    k: Int32Array.from(k),
    before: Float64Array.from(before),
  };
}
