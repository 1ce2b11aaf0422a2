/** Shortest ways along a net of curves. */
import { tick } from "../cancelling";
import { makeColumn, withColumns } from "../geometry/column";
import { type Curves, makeCurves, segments } from "../geometry/curves";
import { lengthOf } from "../maths/exact";
import { Front } from "../spatial/front";
import { PointGrid } from "../spatial/point-grid";

/** Places nearer than that part of a unit are one knot of the net. */
const ONE_PLACE = 1e5;

/** A net: places that curves go through, and the pieces between them. */
interface Net {
  readonly place: readonly Float32Array[];
  /** Two knots a piece, and what it costs to go along it. */
  readonly ends: Int32Array;
  readonly cost: Float64Array;
}

/** @param weight by point: a piece costs its length times the mean of its ends' */
function netOf(curves: Curves, weight: ArrayLike<number>): Net {
  const { lanes } = curves.points.columns.position;
  const numbers = new Map<string, number>();
  const place: number[][] = [[], [], []];
  const knot = new Int32Array(curves.points.count);
  for (let p = 0; p < knot.length; p++) {
    tick(2);
    const key = lanes.map((lane) => Math.round(lane[p] * ONE_PLACE)).join();
    let number = numbers.get(key);
    if (number === undefined) {
      number = numbers.size;
      numbers.set(key, number);
      for (let a = 0; a < 3; a++) place[a].push(lanes[a][p]);
    }
    knot[p] = number;
  }
  const pairs = segments(curves);
  const cost = new Float64Array(pairs.length / 2);
  for (let e = 0; e < cost.length; e++) {
    const [p, q] = [pairs[2 * e], pairs[2 * e + 1]];
    const length = lengthOf(lanes[0][p] - lanes[0][q], lanes[1][p] - lanes[1][q], lanes[2][p] - lanes[2][q]);
    cost[e] = (length * (Math.max(0, weight[p]) + Math.max(0, weight[q]))) / 2;
  }
  return { place: place.map((lane) => Float32Array.from(lane)), ends: pairs.map((p) => knot[p]), cost };
}

/**
 * From each goal the shortest way along the net to the nearest seed (E. Dijkstra, 1959), every piece that any of them takes once.
 * Curves run from where ways part to where they meet; their points have `far`, the cost to the seed, `ways`, how many go there, and
 * `radius`, the square root of their part of all. Null when no goal is reached.
 * @param seeds goals places, each taken by the nearest knot of the net; without goals all ends of the net are
 */
export function shortestWays(
  curves: Curves,
  weight: ArrayLike<number>,
  seeds: readonly ArrayLike<number>[],
  goals: readonly ArrayLike<number>[] | null,
): Curves | null {
  const net = netOf(curves, weight);
  const count = net.place[0].length;
  if (count === 0) return null;
  const beside = Array.from({ length: count }, (): number[] => []);
  for (let e = 0; e < net.cost.length; e++)
    for (let side = 0; side < 2; side++)
      if (net.ends[2 * e] !== net.ends[2 * e + 1]) beside[net.ends[2 * e + side]].push(e);
  const grid = new PointGrid(net.place);
  const { far, back } = reached(net, beside, grid.nearest(seeds).numbers);
  const wanted = goals
    ? grid.nearest(goals).numbers
    : Int32Array.from(beside.keys()).filter((k) => beside[k].length === 1);
  const ways = new Float32Array(count);
  for (const goal of wanted)
    for (let k = goal; k >= 0 && Number.isFinite(far[k]); k = back[k]) {
      tick();
      ways[k]++;
    }
  return curvesOf(net, far, back, ways);
}

function reached(net: Net, beside: readonly (readonly number[])[], seeds: Int32Array) {
  const count = beside.length;
  const far = new Float64Array(count).fill(Number.POSITIVE_INFINITY);
  const back = new Int32Array(count).fill(-1);
  const done = new Uint8Array(count);
  const front = new Front(far);
  for (const seed of seeds) {
    far[seed] = 0;
    front.add(seed);
  }
  for (let k = front.next(); k >= 0; k = front.next()) {
    if (done[k]) continue;
    done[k] = 1;
    for (const e of beside[k]) {
      tick();
      const other = net.ends[2 * e] === k ? net.ends[2 * e + 1] : net.ends[2 * e];
      const found = far[k] + net.cost[e];
      if (done[other] || found >= far[other]) continue;
      far[other] = found;
      back[other] = k;
      front.add(other);
    }
  }
  return { far, back };
}

/** Pieces in chains: each from a goal or a knot where ways meet, along the way back, to the next such knot. */
function curvesOf(net: Net, far: Float64Array, back: Int32Array, ways: Float32Array): Curves | null {
  const into = new Int32Array(ways.length);
  for (let k = 0; k < ways.length; k++) if (ways[k] > 0 && back[k] >= 0) into[back[k]]++;
  const knots: number[] = [];
  const starts = [0];
  for (let k = 0; k < ways.length; k++) {
    if (ways[k] === 0 || back[k] < 0 || into[k] === 1) continue;
    knots.push(k);
    for (let at = back[k]; at >= 0; at = back[at]) {
      knots.push(at);
      if (into[at] !== 1) break;
    }
    starts.push(knots.length);
  }
  if (knots.length === 0) return null;
  const taken = (lane: ArrayLike<number>) => Float32Array.from(knots, (k) => lane[k]);
  const most = ways.reduce((a, b) => Math.max(a, b), 1);
  const made = makeCurves({
    position: [taken(net.place[0]), taken(net.place[1]), taken(net.place[2])],
    curveStarts: Int32Array.from(starts),
  });
  return {
    ...made,
    points: withColumns(made.points, {
      far: makeColumn("number", [taken(far)]),
      ways: makeColumn("number", [taken(ways)]),
      radius: makeColumn("number", [Float32Array.from(knots, (k) => Math.sqrt(ways[k] / most))]),
    }),
  };
}
