/** Curves of every copy as loose segments where they are seen. */
import { tick } from "../cancelling";
import type { Column, Lane } from "../geometry/column";
import { type Curves, segments } from "../geometry/curves";
import { lanesOf } from "../geometry/shape";
import { THICKNESS } from "../geometry/thickness";
import { addressOf } from "../kernels/arena";
import { fixedAt, laneAt, type Operand } from "../kernels/job";
import { Plan } from "../kernels/plan";
import { cubeRoot } from "../maths/exact";
import { type Part, type Taken, TooManyCopies } from "./copies";
import type { DrawArrays } from "./draw-memory";
import type { DrawLines } from "./loose";

/** Segment ends drawn at most. */
const MAX_LINE_ENDS = 8_000_000;

export function bakeLines(
  found: ReadonlyMap<Curves, Part[]>,
  arrays: DrawArrays,
  taken: Taken,
): DrawLines | undefined {
  const parts = [...found].flatMap(([curves, copies]) => {
    const ends = endsOf(curves);
    return copies.map((part) => ({ curves, ends, part }));
  });
  const total = parts.reduce((sum, { ends, part }) => sum + ends.length * part.count, 0);
  if (total === 0) return undefined;
  if (total > MAX_LINE_ENDS) throw new TooManyCopies(total / 2, "lines", MAX_LINE_ENDS / 2);
  const positions = arrays.take(total * 3);
  const colors = arrays.take(total * 4);
  const isThick = parts.some(({ curves }) => curves.points.columns[THICKNESS]);
  const thickness = isThick ? arrays.take(total) : undefined;
  let at = 0;
  for (const { curves, ends, part } of parts) {
    const copy = part.copies();
    const bake = new LineBaking(curves, ends, taken);
    for (let i = 0; i < copy.count; i++) {
      tick(ends.length / 8);
      const to = at + i * ends.length;
      bake.place(positions, to, copy.matrices.subarray(i * 16, i * 16 + 16));
      bake.color(colors, to, copy.colors.subarray(i * 4, i * 4 + 4));
      if (thickness) bake.thicken(thickness, to, copy.matrices.subarray(i * 16, i * 16 + 16));
    }
    at += ends.length * copy.count;
  }
  return { count: total / 2, positions, colors, ...(thickness ? { thickness } : {}) };
}

/** Points of all segments of curves, two a segment; the same while the curves have the same points in the same order. */
function endsOf(curves: Curves): Int32Array {
  const known = ends.get(curves.curveStarts);
  if (known?.closed === curves.curves.columns.closed) return known.ends;
  const found = segments(curves);
  ends.set(curves.curveStarts, { closed: curves.curves.columns.closed, ends: found });
  return found;
}
const ends = new WeakMap<Int32Array, { readonly closed: Column | undefined; readonly ends: Int32Array }>();

/** Ends of one curve's segments, for each copy of it. */
class LineBaking {
  private readonly own: readonly Lane[] | undefined;
  private readonly thickness: Lane | undefined;
  private readonly lanes: readonly Lane[];
  /** Addresses of the ends and of the places' lanes, when all stand in the memory. */
  private readonly addresses: readonly number[] | null;

  constructor(
    curves: Curves,
    private readonly ends: Int32Array,
    taken: Taken,
  ) {
    this.lanes = curves.points.columns.position.lanes.map((lane) => taken.placed(lane));
    this.own = lanesOf(curves.points, "color", "color").lanes?.map((lane) => taken.placed(lane));
    this.thickness = curves.points.columns[THICKNESS]?.lanes[0];
    const found = [taken.integers(ends), ...this.lanes].map(addressOf);
    this.addresses = found.every((address) => address !== null) ? (found as number[]) : null;
  }

  place(into: Float32Array, at: number, m: Float32Array): void {
    const { ends, lanes } = this;
    const to = addressOf(into);
    if (this.addresses && to !== null) {
      const [numbers, ...whole] = this.addresses;
      const operands = [laneAt(to + at * 12, 12), laneAt(numbers), ...whole.map(fixedAt)];
      const columns = [0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14].map((k) => m[k]);
      runKernel("placeEnds", operands, columns, ends.length);
      return;
    }
    const [x, y, z] = lanes;
    for (const p of ends) {
      for (let a = 0; a < 3; a++)
        into[at * 3 + a] = m[a] * x[p] + m[4 + a] * y[p] + m[8 + a] * z[p] + m[12 + a];
      at++;
    }
  }

  /** A copy that is scaled is as much thicker, by the mean of its axes. */
  thicken(into: Float32Array, at: number, m: Float32Array): void {
    const { ends, thickness } = this;
    if (!thickness) {
      into.fill(0, at, at + ends.length);
      return;
    }
    const times = cubeRoot(Math.abs(determinant(m)));
    for (const p of ends) into[at++] = thickness[p] * times;
  }

  color(into: Float32Array, at: number, color: Float32Array): void {
    const { ends, own } = this;
    if (!own) {
      fillWith(into, at * 4, color, ends.length);
      return;
    }
    const to = addressOf(into);
    const whole = own.map(addressOf);
    if (this.addresses && to !== null && whole.every((address) => address !== null)) {
      const operands = [
        laneAt(to + at * 16, 16),
        laneAt(this.addresses[0]),
        ...(whole as number[]).map(fixedAt),
      ];
      runKernel("colorEnds", operands, [...color], ends.length);
      return;
    }
    for (const p of ends) {
      for (let l = 0; l < 4; l++) into[at * 4 + l] = color[l] * own[l][p];
      at++;
    }
  }
}

/** By how much a matrix makes volumes larger. */
const determinant = (m: Float32Array): number =>
  m[0] * (m[5] * m[10] - m[6] * m[9]) -
  m[4] * (m[1] * m[10] - m[2] * m[9]) +
  m[8] * (m[1] * m[6] - m[2] * m[5]);

/** One colour over and over: what is written is copied, twice as much each time. */
function fillWith(into: Float32Array, at: number, color: Float32Array, times: number): void {
  if (times === 0) return;
  into.set(color, at);
  const all = color.length * times;
  for (let done = color.length; done < all; done *= 2)
    into.copyWithin(at + done, at, at + Math.min(done, all - done));
}

function runKernel(
  kernel: string,
  operands: readonly Operand[],
  numbers: readonly number[],
  count: number,
): void {
  const plan = new Plan();
  plan.calls.push({ kernel, operands, numbers });
  plan.run(count);
}
