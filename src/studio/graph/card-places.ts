/** Room for new cards: none lands on another, and those that lie behind it move on. */
import type { Box } from "./opening-view";

/** Units of the graph between a card and the one that it feeds, and between one and the one below. */
const BETWEEN = 52;
const BELOW = 22;

export type Size = Pick<Box, "width" | "height">;
export type Corner = readonly [number, number];
export type Boxes = ReadonlyMap<string, Box>;
export type Places = Readonly<Record<string, Corner>>;

/** Where something new goes, and which cards move to make room for it. */
export interface Room {
  readonly at: Corner;
  readonly moved: Places;
}

const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width + BETWEEN / 2 &&
  b.x < a.x + a.width + BETWEEN / 2 &&
  a.y < b.y + b.height + BELOW &&
  b.y < a.y + a.height + BELOW;

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
