/** Room for new cards: none lands on another, and those that lie behind it move on. */
import type { Box } from "../opening-view";

/** Units of the graph between a card and the one that it feeds, and between one and the one below, where a message has room. */
export const BETWEEN = 60;
export const BELOW = 26;

export type Size = Pick<Box, "width" | "height">;
export type Corner = readonly [number, number];
export type Boxes = ReadonlyMap<string, Box>;
export type Places = Readonly<Record<string, Corner>>;

/** Where something new goes, and which cards move to make room for it. */
export interface Room {
  readonly at: Corner;
  readonly moved: Places;
}

/** Whether two boxes come nearer to each other than so much beside and above. */
const areNear = (a: Box, b: Box, beside: number, above: number): boolean =>
  a.x < b.x + b.width + beside &&
  b.x < a.x + a.width + beside &&
  a.y < b.y + b.height + above &&
  b.y < a.y + a.height + above;

const meet = (a: Box, b: Box): boolean => areNear(a, b, BETWEEN / 2, BELOW);

/** Where it is, unless it lies on another. */
export const freePlace = (box: Box, others: readonly Box[]): Box =>
  others.some((other) => areNear(box, other, 0, 0)) ? freeBelow(box, others) : box;

/** The box, moved down as far as it takes to lie on none of the others. */
export function freeBelow(box: Box, others: readonly Box[]): Box {
  const met = others.filter((other) => meet(box, other));
  if (met.length === 0) return box;
  return freeBelow({ ...box, y: Math.max(...met.map(({ y, height }) => y + height)) + BELOW }, others);
}

const rounded = ({ x, y }: Box): Corner => [Math.round(x), Math.round(y)];

/** Cards from here on to the right go on by so much. */
const shifted = (boxes: Boxes, from: number, by: number): Boxes =>
  new Map([...boxes].map(([id, box]) => [id, box.x >= from ? { ...box, x: box.x + by } : box]));

const movedFrom = (boxes: Boxes, now: Boxes): Places =>
  Object.fromEntries(
    [...now].flatMap(([id, box]) => (box.x === boxes.get(id)?.x ? [] : [[id, rounded(box)] as const])),
  );

/**
 * Behind a card, with what it leads on to further on; before a card; or at the pointer.
 * @param onto cards that what is new leads on to
 */
export function roomFor(
  size: Size,
  boxes: Boxes,
  pointer: Corner,
  stands: { readonly after?: string; readonly before?: string; readonly onto?: readonly string[] },
): Room {
  const [behind, ahead] = [boxes.get(stands.after ?? ""), boxes.get(stands.before ?? "")];
  if (!behind) {
    const [x, y] = ahead ? [ahead.x - size.width - BETWEEN, ahead.y] : pointer;
    return { at: rounded(freeBelow({ ...size, x, y }, [...boxes.values()])), moved: {} };
  }
  const x = behind.x + behind.width + BETWEEN;
  const next = (stands.onto ?? [])
    .flatMap((id) => boxes.get(id)?.x ?? [])
    .filter((left) => left >= behind.x + behind.width);
  const room = Math.min(...next) - x - size.width - BETWEEN;
  const now = room < 0 ? shifted(boxes, behind.x + behind.width, -room) : boxes;
  const at = rounded(freeBelow({ ...size, x, y: behind.y }, [...now.values()]));
  return { at, moved: movedFrom(boxes, now) };
}

/**
 * Room for something new and for the card that joins it with what comes from another card: one above the other, the joining
 * card, which is among the moved ones, where they go on.
 */
export function roomForJoint(
  size: Size,
  joint: Size & { readonly id: string },
  boxes: Boxes,
  pointer: Corner,
  stands: { readonly beside: string; readonly onto: string },
): Room {
  const [beside, next] = [boxes.get(stands.beside), boxes.get(stands.onto)];
  const [x, y] = next ? [next.x, next.y] : pointer;
  const now = shifted(boxes, x, joint.width + BETWEEN);
  const between = freeBelow({ ...joint, x, y }, [...now.values()]);
  const [left, top] = beside ? [now.get(stands.beside)?.x ?? beside.x, beside.y] : pointer;
  const own = freeBelow({ ...size, x: left, y: top }, [...now.values(), between]);
  return { at: rounded(own), moved: { ...movedFrom(boxes, now), [joint.id]: rounded(between) } };
}

/** Whether one lies on the other, or nearer below it than cards stand. */
const crowds = (above: Box, below: Box): boolean =>
  above.x < below.x + below.width &&
  below.x < above.x + above.width &&
  below.y >= above.y &&
  below.y < above.y + above.height + BELOW;

/**
 * Where cards go that stood free below those that have grown, and those below these in turn.
 * @param before of all cards, as they were @param now as they are @param grown those that are higher now
 */
export function roomForGrown(before: Boxes, now: Boxes, grown: readonly string[]): Places {
  const boxes = new Map(now);
  const moved: Record<string, Corner> = {};
  const queue = [...grown];
  for (let id = queue.shift(); id !== undefined; id = queue.shift()) {
    const above = boxes.get(id);
    if (!above) continue;
    for (const [other, below] of boxes) {
      const [a, b] = [before.get(id), before.get(other)];
      // What lay on it already, or nearer, was put there.
      const wasCrowded = a && b && crowds(a, b) && moved[id] === undefined;
      if (other === id || wasCrowded || !crowds(above, below)) continue;
      const lower = { ...below, y: above.y + above.height + BELOW };
      boxes.set(other, lower);
      moved[other] = rounded(lower);
      queue.push(other);
    }
  }
  return moved;
}
