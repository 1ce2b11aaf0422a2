/** What springs and lags carry from frame to frame: where elements are, matched by their ids, so that counts may change. */

import { tick } from "../../cancelling";
import type { NumberField } from "../../fields/expression";
import { runValues } from "../../fields/run";
import {
  type Column,
  type ColumnKind,
  type Columns,
  type Domain,
  makeColumn,
  makeLanes,
} from "../../geometry/column";
import { premultiplied, straighten } from "../../geometry/premultiplied";
import type { Shape } from "../../geometry/shape";
import { alphaShare } from "../../maths/color";
import { unitRotation } from "../../maths/quaternion";
import { own } from "../../own";
import { elementsOf, SILENTLY, withElements } from "../adjust/elements";
import { type NodeContext, NodeError } from "../define";
import { choice, field, integer, shape, text } from "../ports";

export const PLACE = "place, turn and size";
const PLACED = ["position", "rotation", "scale"] as const;

/** Inputs that both have. */
export const FOLLOWING = {
  shape: shape({ about: "Clones or sites; without those, points." }),
  of: choice([PLACE, "an attribute"], { about: "What follows late." }),
  attribute: text({
    default: "size",
    shownWhen: { input: "of", is: ["an attribute"] },
    about: "Which attribute: numbers, vectors or colours.",
  }),
  amount: field.number({
    default: 1,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "0 leaves an element as it arrives, 1 lets it follow.",
  }),
  runUp: integer({
    default: 0,
    min: 0,
    soft: [0, 100],
    about: "Frames worked out before the first, so that motion is under way there.",
  }),
};

export interface Followed {
  readonly shape: Shape;
  readonly of: string;
  readonly attribute: string;
  readonly amount: NumberField;
  readonly runUp: number;
}

/** Lanes of what follows, one after the other: where it is, how fast (a second), and where it was to go at that frame. */
export interface Trail {
  readonly ids: Int32Array;
  readonly now: readonly Float32Array[];
  readonly speed: readonly Float32Array[];
  readonly target: readonly Float32Array[];
}

/** Moves element i of lane l from `trail` before to after, towards its target. */
type Advance = (before: Trail, was: number, after: Trail, i: number, l: number) => void;

const bytesOf = ({ ids, now, speed, target }: Trail): number =>
  ids.byteLength + [...now, ...speed, ...target].reduce((sum, lane) => sum + lane.byteLength, 0);

/** What follows: columns of the elements of what arrives. */
interface Found {
  readonly domain: Domain;
  readonly names: readonly string[];
}

function columnsOf({ shape, of, attribute }: Followed): Found | null {
  const elements = elementsOf(shape, SILENTLY);
  if (!elements) return null;
  const { domain } = elements;
  const wanted = of === PLACE ? PLACED : [attribute.trim()];
  const names = wanted.filter((name) => (own(domain.columns, name)?.kind ?? "integer") !== "integer");
  return { domain, names };
}

const NOTHING: Trail = { ids: new Int32Array(0), now: [], speed: [], target: [] };

/** At rest where things are; colours times their alpha, as what is between two of them is in proportion so. Lanes are ordinary arrays: they outlive the evaluation. */
function restOf(found: Found | null): Trail {
  if (!found) return NOTHING;
  const { domain, names } = found;
  const target = names.flatMap((name) =>
    premultiplied(domain.columns[name]).map((lane) => Float32Array.from(lane)),
  );
  return {
    ids: idsOf(domain),
    target,
    now: target.map((lane) => lane.slice()),
    speed: target.map((lane) => new Float32Array(lane.length)),
  };
}

/** The next state; elements that were not there before begin at rest. */
export function advanced(before: Trail, inputs: Followed, advance: Advance): Trail {
  const found = columnsOf(inputs);
  const after = restOf(found);
  if (after.now.length !== before.now.length) return after;
  const wasAt = matched(before.ids, after.ids);
  align(before, after, wasAt, found?.names ?? [], found?.domain);
  for (let l = 0; l < after.now.length; l++)
    for (let i = 0; i < after.ids.length; i++) {
      tick(2);
      const was = wasAt ? wasAt[i] : i;
      if (was >= 0) advance(before, was, after, i, l);
    }
  return after;
}

function idsOf(domain: Domain): Int32Array {
  const id = domain.columns.id?.lanes[0];
  return Int32Array.from({ length: domain.count }, (_, i) => id?.[i] ?? i);
}

/** Where each element was before, −1 for new ones; null when all are the same in the same order. */
function matched(before: Int32Array, after: Int32Array): Int32Array | null {
  if (before.length === after.length && before.every((id, i) => id === after[i])) return null;
  const places = new Map<number, number>();
  before.forEach((id, i) => {
    places.set(id, i);
  });
  return after.map((id) => places.get(id) ?? -1);
}

/** A rotation and its opposite are one turn: the new target is the one that is nearer to the last. */
function align(
  before: Trail,
  after: Trail,
  wasAt: Int32Array | null,
  names: readonly string[],
  domain?: Domain,
): void {
  let first = 0;
  for (const name of names) {
    const column = domain?.columns[name];
    if (column?.kind === "rotation")
      for (let i = 0; i < after.ids.length; i++) {
        const was = wasAt ? wasAt[i] : i;
        if (was < 0) continue;
        let dot = 0;
        for (let l = first; l < first + 4; l++) dot += before.target[l][was] * after.target[l][i];
        if (dot >= 0) continue;
        for (let l = first; l < first + 4; l++) {
          after.target[l][i] *= -1;
          after.now[l][i] = after.target[l][i];
        }
      }
    first += column?.lanes.length ?? 0;
  }
}

/** A field of the inputs over the elements that follow. */
export function lanesOver(inputs: Followed, values: readonly NumberField[]): readonly Float32Array[] {
  const found = columnsOf(inputs);
  return found
    ? runValues(values, found.domain, { onlyFinite: true }).lanes
    : values.map(() => new Float32Array(0));
}

/** What arrives, following by steps; see NodeContext.follow. */
export function followedShape<I extends Followed>(
  inputs: I,
  context: NodeContext,
  step: (before: Trail, at: I, seconds: number) => Trail,
): Shape {
  const trail = context.follow<I, Trail>({
    runUp: inputs.runUp,
    start: (at) => restOf(columnsOf(at)),
    bytes: bytesOf,
    step,
  });
  return shapeOf(inputs, trail, context);
}

/** The shape with what follows where it is now, and how fast places move as `velocity`. */
function shapeOf(inputs: Followed, trail: Trail, context: NodeContext): Shape {
  const elements = elementsOf(inputs.shape, context);
  const found = columnsOf(inputs);
  if (!elements || !found) return inputs.shape;
  const { domain, names } = found;
  if (names.length === 0) {
    const [name] = inputs.of === PLACE ? ["position"] : [inputs.attribute.trim()];
    if (own(domain.columns, name))
      throw new NodeError(
        `"${name}" holds whole numbers, which cannot follow. Store it as a number first.`,
        "attribute",
      );
    context.warn(`No attribute "${name}" arrives, so nothing follows.`, { input: "attribute" });
    return inputs.shape;
  }
  const [amount] = context.run([inputs.amount], domain);
  const columns: Record<string, Column> = {};
  let first = 0;
  for (const name of names) {
    const { kind, lanes } = domain.columns[name];
    const now = trail.now.slice(first, first + lanes.length);
    columns[name] = makeColumn(kind, mixed(kind, lanes, straightened(kind, now), amount));
    if (name === "position") {
      const speed = trail.speed.slice(first, first + 3);
      columns.velocity = makeColumn("vector", mixed("vector", speed, speed, amount));
    }
    first += lanes.length;
  }
  return withElements(inputs.shape, elements, columns as Columns);
}

function straightened(kind: ColumnKind, lanes: readonly Float32Array[]): readonly Float32Array[] {
  if (kind !== "color") return lanes;
  const copies = lanes.map((lane) => lane.slice());
  straighten(kind, copies);
  return copies;
}

function mixed(
  kind: ColumnKind,
  from: readonly ArrayLike<number>[],
  to: readonly Float32Array[],
  amount: Float32Array,
) {
  const lanes = makeLanes(kind, amount.length) as Float32Array[];
  for (let i = 0; i < amount.length; i++) {
    tick(2);
    let sign = 1;
    if (kind === "rotation") sign = from.reduce((sum, lane, l) => sum + lane[i] * to[l][i], 0) < 0 ? -1 : 1;
    for (let l = 0; l < lanes.length; l++) {
      const start = from[l][i];
      const share = kind === "color" && l < 3 ? alphaShare(amount[i], from[3][i], to[3][i]) : amount[i];
      lanes[l][i] = share === 1 ? to[l][i] * sign : start + (to[l][i] * sign - start) * share;
    }
    if (kind === "rotation") unitRotation(lanes, i);
  }
  return lanes;
}
