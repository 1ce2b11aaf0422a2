/**
 * A column is one named value per element, planar: one typed array (lane) per component, each as long as
 * the domain's count, never written after it is published. Shapes share columns freely.
 */

import { tick } from "../cancelling";
import { roomForFloats, roomForIntegers } from "../kernels/arena";
import { own } from "../own";
import { LOOK_NAMES, UNSAID } from "./surface-look";

export type ColumnKind = "number" | "integer" | "pair" | "vector" | "rotation" | "color";
export type Lane = Float32Array | Int32Array;

/** Lanes per kind; `integer` lanes are Int32Array, all others Float32Array. */
export const LANES: Readonly<Record<ColumnKind, number>> = {
  number: 1,
  integer: 1,
  pair: 2,
  vector: 3,
  rotation: 4,
  color: 4,
};

export interface Column {
  readonly kind: ColumnKind;
  readonly lanes: readonly Lane[];
}

export type Columns = Readonly<Record<string, Column>>;

/** A set of elements with their columns: sites, or a mesh's points, corners or faces. */
export interface Domain {
  readonly count: number;
  readonly columns: Columns;
}

/** A lane of `count` zeros. */
export const makeFloats = (count: number): Float32Array => roomForFloats(count).fill(0);
export const makeIntegers = (count: number): Int32Array => roomForIntegers(count).fill(0);

/** 0, 1, 2 … */
export function countUp(count: number): Int32Array {
  const numbers = roomForIntegers(count);
  for (let i = 0; i < count; i++) {
    tick(0.25);
    numbers[i] = i;
  }
  return numbers;
}

/** New lanes for `count` elements, filled with zeros. */
export function makeLanes(kind: ColumnKind, count: number): Lane[] {
  return Array.from({ length: LANES[kind] }, () =>
    kind === "integer" ? makeIntegers(count) : makeFloats(count),
  );
}

/** A longer lane that begins with another. */
export function widened<T extends Lane | Float64Array>(lane: T, length: number): T {
  const wider = new (lane.constructor as new (length: number) => T)(length);
  wider.set(lane);
  return wider;
}

export const makeColumn = (kind: ColumnKind, lanes: readonly Lane[]): Column => ({ kind, lanes });

/** The value every element has that lacks the attribute; other names default to zeros. */
const STANDARD_DEFAULTS: Readonly<Record<string, readonly number[]>> = {
  rotation: [0, 0, 0, 1],
  scale: [1, 1, 1],
  color: [1, 1, 1, 1],
  size: [1],
  radius: [1],
  source: [-1],
  normal: [0, 0, 1],
  ...Object.fromEntries(LOOK_NAMES.map((name) => [name, [UNSAID]])),
};

/** True for attributes that every element may be taken to have: the standard ones, and its number as id. */
export const hasDefault = (name: string): boolean =>
  name === "id" || own(STANDARD_DEFAULTS, name) !== undefined;

/** Default value of an attribute, one number per lane. */
export const defaultOf = (name: string, kind: ColumnKind): readonly number[] =>
  own(STANDARD_DEFAULTS, name) ?? new Array<number>(LANES[kind]).fill(0);

/** The domain with some columns replaced or added. */
export const withColumns = (domain: Domain, columns: Columns): Domain => ({
  count: domain.count,
  columns: { ...domain.columns, ...columns },
});

/** All lanes of all columns. */
export function* lanesIn(domain: Domain): Generator<Lane> {
  for (const { lanes } of Object.values(domain.columns)) yield* lanes;
}

/** Elements of `domain` at `indices`, in that order; every column is gathered. */
export function gather(domain: Domain, indices: Int32Array): Domain {
  const columns: Record<string, Column> = {};
  for (const [name, column] of Object.entries(domain.columns)) {
    const lanes = makeLanes(column.kind, indices.length);
    lanes.forEach((lane, l) => {
      const from = column.lanes[l];
      for (let i = 0; i < indices.length; i++) {
        tick(0.25);
        lane[i] = from[indices[i]];
      }
    });
    columns[name] = { kind: column.kind, lanes };
  }
  return { count: indices.length, columns };
}

/**
 * Several domains one after the other. Columns that only some have are filled with the attribute's default;
 * where kinds differ, the first one's kind wins and the others fall back to the default.
 */
export function concatenate(domains: readonly Domain[]): Domain {
  const filled = domains.filter((d) => d.count > 0);
  if (filled.length === 1) return filled[0];
  const count = filled.reduce((sum, d) => sum + d.count, 0);
  const kinds = new Map<string, ColumnKind>();
  for (const domain of filled) {
    for (const [name, column] of Object.entries(domain.columns)) {
      if (!kinds.has(name)) kinds.set(name, column.kind);
    }
  }
  const columns: Record<string, Column> = {};
  for (const [name, kind] of kinds) {
    const lanes = makeLanes(kind, count);
    let at = 0;
    for (const domain of filled) {
      const column = domain.columns[name];
      const fallback = defaultOf(name, kind);
      lanes.forEach((lane, l) => {
        tick(domain.count / 16);
        if (column?.kind === kind) lane.set(column.lanes[l], at);
        else lane.fill(fallback[l] ?? 0, at, at + domain.count);
      });
      at += domain.count;
    }
    columns[name] = { kind, lanes };
  }
  return { count, columns };
}
