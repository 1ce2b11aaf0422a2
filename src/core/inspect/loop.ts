/** Whether a piece comes back to where it began: the frame after its last against its first. */
import { tick } from "../cancelling";
import { shapeBounds } from "../geometry/bounds";
import type { Domain } from "../geometry/column";
import { DOMAINS, PLACED } from "../geometry/domains";
import { lanesOf, type Shape } from "../geometry/shape";
import { arcTangent2, lengthOf } from "../maths/exact";

export interface Gap {
  readonly most: number;
  readonly mean: number;
}

export interface LoopGap {
  /** Elements that both frames have: sites, points of meshes and of curves. */
  readonly count: number;
  /** How many more one frame has than the other. */
  readonly lost: number;
  /** Units. */
  readonly position: Gap;
  /** Degrees. */
  readonly rotation: Gap;
  readonly scale: Gap;
  /** Linear, 0 to 1. */
  readonly color: Gap;
  /** Diagonal of what is shown, units. */
  readonly size: number;
}

/** Elements are compared in their order. */
export function loopGap(first: Shape, after: Shape): LoopGap {
  const sums = { position: new Sum(), rotation: new Sum(), scale: new Sum(), color: new Sum() };
  let count = 0;
  let lost = 0;
  for (const [a, b] of pairs(first, after)) {
    const both = Math.min(a?.count ?? 0, b?.count ?? 0);
    count += both;
    lost += Math.abs((a?.count ?? 0) - (b?.count ?? 0));
    if (!a || !b) continue;
    for (const [name, kind] of [
      ["position", "vector"],
      ["scale", "vector"],
      ["color", "color"],
    ] as const)
      differ(a, b, name, kind, both, sums[name]);
    turn(a, b, both, sums.rotation);
  }
  const bounds = shapeBounds(first);
  const size = bounds
    ? lengthOf(...([0, 1, 2].map((i) => bounds.max[i] - bounds.min[i]) as [number, number, number]))
    : 0;
  const gap = (of: keyof typeof sums): Gap => sums[of].gap(count);
  return {
    count,
    lost,
    position: gap("position"),
    rotation: gap("rotation"),
    scale: gap("scale"),
    color: gap("color"),
    size,
  };
}

/** So little is not seen: a thousandth of the size, a tenth of a degree, a step of a screen's colours. */
export const isClosed = ({ lost, position, rotation, scale, color, size }: LoopGap): boolean =>
  lost === 0 &&
  position.most <= size / 1000 &&
  rotation.most <= 0.1 &&
  scale.most <= 0.001 &&
  color.most <= 1 / 255;

class Sum {
  private most = 0;
  private sum = 0;

  add(value: number): void {
    if (value > this.most) this.most = value;
    this.sum += value;
  }

  gap(count: number): Gap {
    return { most: this.most, mean: count > 0 ? this.sum / count : 0 };
  }
}

const pairs = (a: Shape, b: Shape): (readonly [Domain | undefined, Domain | undefined])[] =>
  PLACED.map((name) => [DOMAINS[name].of(a), DOMAINS[name].of(b)]);

function differ(
  a: Domain,
  b: Domain,
  name: "position" | "scale" | "color",
  kind: "vector" | "color",
  count: number,
  into: Sum,
): void {
  const [from, to] = [lanesOf(a, name, kind), lanesOf(b, name, kind)];
  // The very same column, or none on either side.
  if (from.lanes === to.lanes) return;
  for (let i = 0; i < count; i++) {
    tick(2);
    const off = (l: number) =>
      (from.lanes?.[l][i] ?? from.fallback[l]) - (to.lanes?.[l][i] ?? to.fallback[l]);
    into.add(lengthOf(off(0), off(1), off(2)));
  }
}

function turn(a: Domain, b: Domain, count: number, into: Sum): void {
  const [from, to] = [lanesOf(a, "rotation", "rotation"), lanesOf(b, "rotation", "rotation")];
  if (from.lanes === to.lanes) return;
  for (let i = 0; i < count; i++) {
    tick(4);
    const at = ({ lanes, fallback }: typeof from, l: number) => lanes?.[l][i] ?? fallback[l];
    const [near, far] = [1, -1].map((sign) =>
      lengthOf(
        at(from, 0) - sign * at(to, 0),
        at(from, 1) - sign * at(to, 1),
        at(from, 2) - sign * at(to, 2),
        at(from, 3) - sign * at(to, 3),
      ),
    );
    // q and −q are the same turn; half the angle between unit quaternions from the two sides of their triangle.
    into.add((4 * arcTangent2(Math.min(near, far), Math.max(near, far)) * 180) / Math.PI);
  }
}
