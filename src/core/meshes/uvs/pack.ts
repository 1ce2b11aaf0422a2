/** Islands put side by side on a picture. */
import { arcTangent2, cosine, sine } from "../../maths/exact";

interface Placed {
  readonly flat: Float64Array;
  readonly width: number;
  readonly height: number;
}

/**
 * Each island turned along its longest way and set into rows, the highest first, within a square of side 1; all as much larger or
 * smaller.
 * @param gap between them, as a part of the picture
 * @returns x y of each point, 0 0 at the bottom left
 */
export function packed(islands: readonly Float64Array[], gap: number): Float64Array[] {
  const boxes = islands.map(laidAlong);
  const order = Array.from(boxes.keys()).sort((a, b) => boxes[b].height - boxes[a].height || a - b);
  const area = boxes.reduce((sum, { width, height }) => sum + width * height, 0);
  let side = Math.sqrt(area) || 1;
  // Rows as wide as they have to be for the whole to be as high as wide, about.
  for (let i = 0; i < ROUNDS; i++) {
    const height = rowsOf(boxes, order, side, gap).height;
    if (height <= side) break;
    side *= GROW;
  }
  const { at, height, width } = rowsOf(boxes, order, side, gap);
  const scale = 1 / Math.max(height, width);
  return boxes.map(({ flat }, i) => flat.map((v, k) => (v + at[i][k & 1]) * scale));
}

const ROUNDS = 200;
const GROW = 1.01;

function rowsOf(boxes: readonly Placed[], order: readonly number[], side: number, gap: number) {
  const room = gap * side;
  const at: [number, number][] = boxes.map(() => [0, 0]);
  let [x, y, row, widest] = [room, room, 0, 0];
  for (const i of order) {
    const { width, height } = boxes[i];
    if (x > room && x + width + room > side) {
      y += row + room;
      [x, row] = [room, 0];
    }
    at[i] = [x, y];
    x += width + room;
    row = Math.max(row, height);
    widest = Math.max(widest, x);
  }
  return { at, height: y + row + room, width: widest };
}

/** Turned so that its longest way lies flat, its box at 0 0. */
function laidAlong(flat: Float64Array): Placed {
  const count = flat.length / 2;
  let [mx, my] = [0, 0];
  for (let p = 0; p < count; p++) {
    mx += flat[2 * p] / count;
    my += flat[2 * p + 1] / count;
  }
  let [xx, xy, yy] = [0, 0, 0];
  for (let p = 0; p < count; p++) {
    const [x, y] = [flat[2 * p] - mx, flat[2 * p + 1] - my];
    xx += x * x;
    xy += x * y;
    yy += y * y;
  }
  const angle = -arcTangent2(2 * xy, xx - yy) / 2;
  const [c, s] = [cosine(angle), sine(angle)];
  const turned = new Float64Array(flat.length);
  const [low, high] = [
    [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY],
    [Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY],
  ];
  for (let p = 0; p < count; p++) {
    const [x, y] = [flat[2 * p] - mx, flat[2 * p + 1] - my];
    for (const [k, v] of [x * c - y * s, x * s + y * c].entries()) {
      turned[2 * p + k] = v;
      low[k] = Math.min(low[k], v);
      high[k] = Math.max(high[k], v);
    }
  }
  return { flat: turned.map((v, i) => v - low[i & 1]), width: high[0] - low[0], height: high[1] - low[1] };
}
