/**
 * Which elements a node changes: those that its input `on` names; unless it names any, the sites of a shape, else the points of
 * its mesh, else of its curves.
 */

import { tick } from "../cancelling";
import type { Value } from "../fields/expression";
import { areKin, carryAcross, incidence, withKin } from "../geometry/across";
import {
  type ColumnKind,
  type Columns,
  type Domain,
  makeColumn,
  makeLanes,
  withColumns,
} from "../geometry/column";
import { DOMAIN_NAMES, DOMAINS, type DomainName, domainsOf, PLACED, placedName } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import type { Vec3 } from "../maths/vector";
import type { NodeContext } from "./define";
import { choice, type Input } from "./ports";

export interface Elements {
  readonly on: DomainName;
  readonly domain: Domain;
}

const WHAT_IS_THERE = "what is there";
export type On<N extends DomainName = DomainName> = typeof WHAT_IS_THERE | N;

/** The input that says on which elements a node works. @param names what it can work on */
export const onElements = <const N extends DomainName>(
  names: readonly N[] = DOMAIN_NAMES as readonly DomainName[] as readonly N[],
  about = "Which elements: sites, else points, unless others are named.",
): Input<On<N>> => choice([WHAT_IS_THERE, ...names], { about }) as Input<On<N>>;

/** For looking at elements without a word about their missing. */
export const SILENTLY: Pick<NodeContext, "warn"> = { warn: () => {} };

/** Warns and returns null when there is nothing to change. */
export function elementsOf(
  shape: Shape,
  context: Pick<NodeContext, "warn">,
  on: On = WHAT_IS_THERE,
): Elements | null {
  if (on === WHAT_IS_THERE) {
    const name = placedName(shape);
    if (name) return { on: name, domain: DOMAINS[name].of(shape) as Domain };
    context.warn("Nothing arrives, so there is nothing to change.", { input: "shape" });
    return null;
  }
  const domain = withKin(shape, on);
  if (domain.count > 0) return { on, domain };
  context.warn(`No ${on} arrive, so there is nothing to change.`, {
    input: "on",
    repair: { label: `Set "on" to ${WHAT_IS_THERE}`, input: "on", value: WHAT_IS_THERE },
  });
  return null;
}

/** The same for nodes that turn or scale: what can be turned where it stands. */
export const onWholes = () =>
  onElements(
    ["sites", "points", "edges", "faces", "curve points", "curves"],
    "Which elements: sites, else points, unless others are named; faces, edges and curves about their middles.",
  );

/** Whether it has places of its own; all others are where the points are that belong to them. */
export const isPlaced = (name: DomainName): boolean => (PLACED as readonly DomainName[]).includes(name);

/**
 * The shape with columns set on some of its elements. Places of faces, edges, corners or curves take their points along: each
 * by the mean of what those that it belongs to move by.
 */
export function withElements(shape: Shape, elements: Elements, columns: Columns): Shape {
  const { on, domain } = elements;
  const { position, ...others } = columns;
  if (!position || isPlaced(on)) return stored(shape, elements, columns);
  const before = domain.columns.position.lanes;
  const shift = makeLanes("vector", domain.count);
  shift.forEach((lane, a) => {
    for (let i = 0; i < domain.count; i++) lane[i] = position.lanes[a][i] - before[a][i];
  });
  const points = pointsOf(on);
  const mean = carryAcross(makeColumn("vector", shift), incidence(shape, on, points), "mean").lanes;
  const moved = movedPoints(shape, points, (place, p) => place.map((v, a) => v + mean[a][p]));
  return Object.keys(others).length > 0 ? stored(moved, elements, others) : moved;
}

/**
 * The shape with its faces, edges or curves changed about their own middles; a point is put to the mean of where those that it
 * belongs to put it.
 * @param change of the way from the middle of element i to a point
 */
export function changedAboutMiddles(
  shape: Shape,
  { on, domain }: Elements,
  change: (i: number, offset: Vec3) => Vec3,
): Shape {
  const middle = domain.columns.position.lanes;
  const points = pointsOf(on);
  const { starts, items } = incidence(shape, on, points);
  return movedPoints(shape, points, (place, p) => {
    const count = starts[p + 1] - starts[p];
    if (count === 0) return place;
    const sum = [0, 0, 0];
    for (let k = starts[p]; k < starts[p + 1]; k++) {
      const i = items[k];
      const offset = change(i, [place[0] - middle[0][i], place[1] - middle[1][i], place[2] - middle[2][i]]);
      for (let a = 0; a < 3; a++) sum[a] += middle[a][i] + offset[a];
    }
    return sum.map((v) => v / count);
  });
}

const pointsOf = (on: DomainName): "points" | "curve points" => (on === "curves" ? "curve points" : "points");

function movedPoints(
  shape: Shape,
  name: "points" | "curve points",
  place: (before: Vec3, p: number) => readonly number[],
): Shape {
  const domain = DOMAINS[name].of(shape) as Domain;
  const [x, y, z] = domain.columns.position.lanes;
  const lanes = makeLanes("vector", domain.count);
  for (let p = 0; p < domain.count; p++) {
    tick(4);
    const to = place([x[p], y[p], z[p]], p);
    for (let a = 0; a < 3; a++) lanes[a][p] = to[a];
  }
  return DOMAINS[name].put(shape, withColumns(domain, { position: makeColumn("vector", lanes) }));
}

/** The shape with columns set on all of its elements that have places of their own. */
export function withPlaced(shape: Shape, columnsOf: (elements: Elements) => Columns): Shape {
  let made = shape;
  for (const on of PLACED) {
    if ((DOMAINS[on].of(shape)?.count ?? 0) === 0) continue;
    const elements = { on, domain: withKin(shape, on) };
    made = withElements(made, elements, columnsOf(elements));
  }
  return made;
}

/** How many elements of a shape have places of their own. */
export const placedCount = (shape: Shape): number =>
  PLACED.reduce((sum, on) => sum + (DOMAINS[on].of(shape)?.count ?? 0), 0);

/** A mesh has its colour on one of its domains: what is coloured last is seen. */
function stored(shape: Shape, { on, domain }: Elements, columns: Columns): Shape {
  const changed = DOMAINS[on].put(shape, withColumns(domain, columns));
  if (!columns.color || !changed.mesh || on === "sites") return changed;
  let made = changed;
  for (const [name, { count, columns: all }] of domainsOf(changed)) {
    const { color, ...others } = all;
    if (color && name !== on && areKin(on, name)) made = DOMAINS[name].put(made, { count, columns: others });
  }
  return made;
}

/** Runs the values over the elements and makes them a column. */
export const runColumn = (
  kind: ColumnKind,
  values: readonly Value[],
  elements: Elements,
  context: NodeContext,
) => makeColumn(kind, context.run(values, elements.domain));
