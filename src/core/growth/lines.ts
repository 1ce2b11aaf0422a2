/**
 * Lines that grow by themselves: each point is drawn to the middle of its neighbours and pushed away from all that are near, and where a line is
 * stretched too far it gets another point, so that it folds until it fills what it may (differential growth).
 */
import { tick } from "../cancelling";
import { type Column, type Domain, gather, makeColumn, withColumns } from "../geometry/column";
import { type Curves, isClosedCurve, makeCurves } from "../geometry/curves";
import { copyInMemory, passing } from "../kernels/arena";
import { lengthOf } from "../maths/exact";
import { hash3, unit24 } from "../maths/random";
import { pushedApart } from "./pushed-apart";

/** Puts places where they may be. */
export type Hold = (places: readonly Float32Array[]) => void;

export interface LineSettings {
  /** Units that points are pushed to stand apart, and beyond which an edge is split. */
  readonly apart: number;
  readonly edge: number;
  /** Parts of the way to the middle of both neighbours, and of what is missing between two, that a round brings. */
  readonly pull: number;
  readonly push: number;
  /** Chance of each edge to get another point in a round, at its first point. */
  readonly growth: (points: Domain) => ArrayLike<number>;
  /** 1 for points that stay. */
  readonly held: (points: Domain) => ArrayLike<number>;
  readonly hold: Hold | null;
  readonly most: number;
  readonly seed: number;
}

/** Parts of the longest edge that one must have to be cut by chance. */
const GROWN = 0.5;

/** Points have `age`: rounds since each came in. */
export const begun = (curves: Curves): Curves => ({
  ...curves,
  points: withColumns(curves.points, { age: makeColumn("number", [new Float32Array(curves.points.count)]) }),
});

/** One round later. @param round its number, from which chances follow @returns the same curves when they are full or empty */
export function grownLines(before: Curves, settings: LineSettings, round: number): Curves {
  if (before.points.count === 0) return before;
  const held = Float32Array.from(settings.held(before.points));
  const moved = movedLines(before, settings, held);
  return before.points.count >= settings.most ? moved : splitLines(moved, settings, round);
}

function movedLines(before: Curves, { apart, pull, push, hold }: LineSettings, held: Float32Array): Curves {
  const from = before.points.columns.position.lanes as readonly Float32Array[];
  const position = passing(() => {
    const places = from.map(copyInMemory);
    drawnTogether(before, from, places, held, pull);
    pushedApart(places, held, apart, push);
    hold?.(places);
    return places.map((lane) => Float32Array.from(lane));
  });
  const [age] = before.points.columns.age.lanes;
  const columns = {
    position: makeColumn("vector", position),
    age: makeColumn("number", [Float32Array.from(age, (a) => a + 1)]),
  };
  return { ...before, points: withColumns(before.points, columns) };
}

/** Each point nearer to the middle of both neighbours; ends of open lines stay where they are. */
function drawnTogether(
  curves: Curves,
  from: readonly Float32Array[],
  places: readonly Float32Array[],
  held: Float32Array,
  pull: number,
): void {
  for (let k = 0; k < curves.curves.count; k++) {
    const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
    const isRing = isClosedCurve(curves, k);
    for (let p = first; p < end; p++) {
      tick();
      const isEnd = p === first || p === end - 1;
      if (held[p] >= 1 || (isEnd && !isRing) || end - first < 3) continue;
      const [a, b] = [p === first ? end - 1 : p - 1, p === end - 1 ? first : p + 1];
      const share = pull * (1 - held[p]);
      for (let c = 0; c < 3; c++) places[c][p] += share * ((from[c][a] + from[c][b]) / 2 - from[c][p]);
    }
  }
}

/** Points in the middle of edges that are too long, or whose turn it is by chance. */
function splitLines(before: Curves, { edge, growth, most, seed }: LineSettings, round: number): Curves {
  const chances = growth(before.points);
  const [x, y, z] = before.points.columns.position.lanes;
  let left = most - before.points.count;
  // By new number the point that it was, and for new ones the next one with it.
  const numbers: number[] = [];
  const others: number[] = [];
  const starts = [0];
  for (let k = 0; k < before.curves.count; k++) {
    const [first, end] = [before.curveStarts[k], before.curveStarts[k + 1]];
    const isRing = isClosedCurve(before, k);
    for (let p = first; p < end; p++) {
      numbers.push(p);
      others.push(p);
      if (p === end - 1 && !isRing) continue;
      const next = p === end - 1 ? first : p + 1;
      const long = lengthOf(x[p] - x[next], y[p] - y[next], z[p] - z[next]);
      const grows = unit24(hash3(seed, p, round)) < chances[p];
      // What grew just now is drawn out first.
      if (left <= 0 || next === p || !(long > edge || (grows && long > edge * GROWN))) continue;
      numbers.push(p);
      others.push(next);
      left--;
    }
    starts.push(numbers.length);
  }
  if (numbers.length === before.points.count) return before;
  return withNewPoints(before, Int32Array.from(numbers), Int32Array.from(others), starts);
}

function withNewPoints(before: Curves, numbers: Int32Array, others: Int32Array, starts: number[]): Curves {
  const kept = gather(before.points, numbers);
  const mean = ({ kind, lanes }: Column): Column =>
    makeColumn(
      kind,
      lanes.map((lane) => Float32Array.from(numbers, (p, i) => (lane[p] + lane[others[i]]) / 2)),
    );
  const isNew = (i: number) => numbers[i] !== others[i];
  const [age] = before.points.columns.age.lanes;
  const curves = makeCurves({
    position: mean(before.points.columns.position).lanes as unknown as [
      Float32Array,
      Float32Array,
      Float32Array,
    ],
    curveStarts: Int32Array.from(starts),
    closed: before.curves.columns.closed.lanes[0] as Int32Array,
  });
  const carried = Object.entries(kept.columns).filter(([name]) => name !== "position" && name !== "along");
  return {
    ...curves,
    curves: before.curves,
    points: withColumns(curves.points, {
      ...Object.fromEntries(carried),
      age: makeColumn("number", [Float32Array.from(numbers, (p, i) => (isNew(i) ? 0 : age[p]))]),
    }),
  };
}
