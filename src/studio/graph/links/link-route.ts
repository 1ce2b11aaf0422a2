/**
 * The route of a link among the cards: straight on in a soft curve where nothing is in between, else around the cards through the
 * channels between them, by A* (Hart, Nilsson and Raphael 1968) over the lines on which channels can be walked.
 */
import type { Box } from "../opening-view";

export type Place = readonly [number, number];

/** Units of the graph that a route keeps from cards; half of the least room between two of them is more. */
const CLEAR = 5;
/** From a port to the first corner, and from a card's sides to the middle of the channel beside it. */
const STUB = 18;
/** From a card's upper and lower edge to the channel above and below. */
const ABOVE = 11;
/** What a corner costs, in units of route. */
const CORNER = 60;
/** Links of one source run on one line; those of others in the same channel beside it, so far apart. */
const LANE = 3;
const LANES = 5;
/** How far around both ends cards are looked at first. */
const AROUND = 500;

/** Corners of the route, its ends among them; two places: a soft curve may join them. */
export type Route = readonly Place[];

/**
 * @param lane any whole number that stands for the source
 * @param boxes all cards, those of both ends among them
 */
export function routeOf(from: Place, to: Place, boxes: readonly Box[], lane = 0): Route {
  if (isSoft(from, to) && !softRoute(from, to).some((place) => isIn(place, boxes, CLEAR))) return [from, to];
  const near = boxes.filter(
    (box) =>
      box.x < Math.max(from[0], to[0]) + AROUND &&
      box.x + box.width > Math.min(from[0], to[0]) - AROUND &&
      box.y < Math.max(from[1], to[1]) + AROUND &&
      box.y + box.height > Math.min(from[1], to[1]) - AROUND,
  );
  const route = found(from, to, near) ?? (near.length < boxes.length ? found(from, to, boxes) : null);
  return route ? inLane(route, (((lane % LANES) + LANES) % LANES) - (LANES - 1) / 2) : fallback(from, to);
}

/** Whether a soft curve can leave to the right and arrive from the left without a loop. */
const isSoft = (from: Place, to: Place): boolean => to[0] - from[0] >= STUB;

/** Handles of the soft curve reach so far. */
export const softReach = (from: Place, to: Place): number => Math.max(STUB / 2, (to[0] - from[0]) * 0.5);

const SAMPLES = 24;

/** Places on the soft curve. */
export function softRoute(from: Place, to: Place): Place[] {
  const reach = softReach(from, to);
  return Array.from({ length: SAMPLES + 1 }, (_, i): Place => {
    const t = i / SAMPLES;
    const s = 1 - t;
    return [
      s * s * s * from[0] +
        3 * s * s * t * (from[0] + reach) +
        3 * s * t * t * (to[0] - reach) +
        t * t * t * to[0],
      s * s * (s + 3 * t) * from[1] + t * t * (t + 3 * s) * to[1],
    ];
  });
}

const isIn = ([x, y]: Place, boxes: readonly Box[], clear: number): boolean =>
  boxes.some(
    (box) =>
      x > box.x - clear &&
      x < box.x + box.width + clear &&
      y > box.y - clear &&
      y < box.y + box.height + clear,
  );

/** Where there is no route, as when a card lies on another: out, over, in. */
const fallback = (from: Place, to: Place): Route => {
  const middle = (from[1] + to[1]) / 2;
  return simplified([
    from,
    [from[0] + STUB, from[1]],
    [from[0] + STUB, middle],
    [to[0] - STUB, middle],
    [to[0] - STUB, to[1]],
    to,
  ]);
};

const sorted = (values: number[]): number[] => [...new Set(values)].sort((a, b) => a - b);

/** The least route by length and corners; null when there is none. */
function found(from: Place, to: Place, boxes: readonly Box[]): Route | null {
  const start: Place = [from[0] + STUB, from[1]];
  const goal: Place = [to[0] - STUB, to[1]];
  const xs = sorted([start[0], goal[0], ...boxes.flatMap((b) => [b.x - STUB, b.x + b.width + STUB])]);
  const ys = sorted([start[1], goal[1], ...boxes.flatMap((b) => [b.y - ABOVE, b.y + b.height + ABOVE])]);
  const [wide, high] = [xs.length, ys.length];
  const blockedX = blocked(xs, ys, boxes, (b) => [b.x, b.x + b.width, b.y, b.y + b.height]);
  const blockedY = blocked(ys, xs, boxes, (b) => [b.y, b.y + b.height, b.x, b.x + b.width]);
  const at = (place: Place) => ys.indexOf(place[1]) * wide + xs.indexOf(place[0]);
  const [first, last] = [at(start), at(goal)];
  // A state is a place and whether it was come to sideways (0) or up or down (1).
  const cost = new Float64Array(wide * high * 2).fill(Number.POSITIVE_INFINITY);
  const came = new Int32Array(wide * high * 2).fill(-1);
  const queue = new Queue();
  const guess = (place: number) =>
    Math.abs(xs[place % wide] - goal[0]) + Math.abs(ys[(place / wide) | 0] - goal[1]);
  cost[first * 2] = 0;
  queue.push(first * 2, guess(first));
  for (let state = queue.pop(); state >= 0; state = queue.pop()) {
    const [place, turned] = [state >> 1, state & 1];
    if (place === last && turned === 0) return cornersTo(state);
    const [i, j] = [place % wide, (place / wide) | 0];
    const step = (to: number, direction: number, length: number) => {
      const next = to * 2 + direction;
      const sum = cost[state] + length + (direction === turned ? 0 : CORNER);
      if (sum >= cost[next]) return;
      cost[next] = sum;
      came[next] = state;
      queue.push(next, sum + guess(to));
    };
    if (i + 1 < wide && !blockedX[j * wide + i]) step(place + 1, 0, xs[i + 1] - xs[i]);
    if (i > 0 && !blockedX[j * wide + i - 1]) step(place - 1, 0, xs[i] - xs[i - 1]);
    if (j + 1 < high && !blockedY[i * high + j]) step(place + wide, 1, ys[j + 1] - ys[j]);
    if (j > 0 && !blockedY[i * high + j - 1]) step(place - wide, 1, ys[j] - ys[j - 1]);
    // Turning on the spot, so that the goal can be entered sideways.
    step(place, 1 - turned, 0);
  }
  return null;

  function cornersTo(end: number): Route {
    const route: Place[] = [to];
    for (let state = end; state >= 0; state = came[state])
      route.push([xs[(state >> 1) % wide], ys[((state >> 1) / wide) | 0]]);
    route.push(from);
    return simplified(route.reverse());
  }
}

/** For the piece of each line across `lines` to its next crossing: whether a card is in it. */
function blocked(
  along: readonly number[],
  lines: readonly number[],
  boxes: readonly Box[],
  spans: (box: Box) => readonly [number, number, number, number],
): Uint8Array {
  const shut = new Uint8Array(along.length * lines.length);
  for (const box of boxes) {
    const [from, until, low, high] = spans(box);
    for (let line = 0; line < lines.length; line++) {
      if (lines[line] <= low - CLEAR || lines[line] >= high + CLEAR) continue;
      for (let i = 0; i + 1 < along.length; i++)
        if (along[i + 1] > from - CLEAR && along[i] < until + CLEAR) shut[line * along.length + i] = 1;
    }
  }
  return shut;
}

/** Without places that come twice, and those that lie on the line between their neighbours. */
function simplified(route: readonly Place[]): Route {
  const once = route.filter(([x, y], i) => i === 0 || x !== route[i - 1][0] || y !== route[i - 1][1]);
  return once.filter(([x, y], i) => {
    const [before, after] = [once[i - 1], once[i + 1]];
    if (!before || !after) return true;
    return !((before[0] === x && x === after[0]) || (before[1] === y && y === after[1]));
  });
}

/** The stretches between the first and the last one moved aside, so that those of several sources lie beside each other. */
function inLane(route: Route, lane: number): Route {
  return route.map((place, i): Place => {
    if (i === 0 || i === route.length - 1) return place;
    const [before, after] = [route[i - 1], route[i + 1]];
    // Stretches at the ports keep their height.
    const upright = before[0] === place[0] || after[0] === place[0];
    const level =
      (before[1] === place[1] && i - 1 > 0) || (after[1] === place[1] && i + 1 < route.length - 1);
    return [place[0] + (upright ? lane * LANE : 0), place[1] + (level ? lane * LANE : 0)];
  });
}

/** The least first; a binary heap in two arrays. */
class Queue {
  private readonly states: number[] = [];
  private readonly costs: number[] = [];

  push(state: number, cost: number): void {
    const { states, costs } = this;
    let at = states.length;
    states.push(state);
    costs.push(cost);
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (costs[up] <= cost) break;
      states[at] = states[up];
      costs[at] = costs[up];
      at = up;
    }
    states[at] = state;
    costs[at] = cost;
  }

  /** −1 when nothing is left. */
  pop(): number {
    const { states, costs } = this;
    const least = states[0] ?? -1;
    const state = states.pop() ?? -1;
    const cost = costs.pop() ?? 0;
    const count = states.length;
    if (count === 0) return least;
    let at = 0;
    for (;;) {
      let down = at * 2 + 1;
      if (down >= count) break;
      if (down + 1 < count && costs[down + 1] < costs[down]) down++;
      if (costs[down] >= cost) break;
      states[at] = states[down];
      costs[at] = costs[down];
      at = down;
    }
    states[at] = state;
    costs[at] = cost;
    return least;
  }
}
