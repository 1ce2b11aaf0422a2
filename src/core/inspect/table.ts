/** The elements of an output as a table: in any order, filtered, a window of rows at a time. Plain data, for other threads. */
import type { FlatGraph } from "../capsules/flatten";
import type { ResultMemory } from "../evaluate/memory";
import { apply, column, constant, elementIndex, type Value } from "../fields/expression";
import { runValues } from "../fields/run";
import { writeCsv } from "../formats/write/csv";
import { compileFormula } from "../formula/compile";
import { FormulaFault, parseFormula } from "../formula/parse";
import { type ColumnKind, type Domain, gather, type Lane, makeColumn, withColumns } from "../geometry/column";
import { type DomainName, domainsOf } from "../geometry/domains";
import type { Shape } from "../geometry/shape";
import { histogramOf, rangeOf } from "../kernels/statistics";
import type { PortKind } from "../nodes/ports";
import { carriedAt } from "./carried-values";
import { ascendingOrder, quantile } from "./order";

export interface TableQuery {
  /** Path of a node, and one of its outputs. */
  readonly node: string;
  readonly port: string;
  /** The first that has any elements when missing. */
  readonly domain?: DomainName;
  readonly sort?: { readonly column: string; readonly descending: boolean };
  /** A condition over the attributes, such as `scale.x > 0.5`. */
  readonly filter?: string;
  /** First row of the window and how many. */
  readonly from: number;
  readonly count: number;
  /** Column of which statistics are wanted. */
  readonly describe?: string;
  /** Element whose row is wanted. */
  readonly find?: number;
}

export interface ColumnStatistics {
  readonly column: string;
  /** Numbers that are finite. */
  readonly count: number;
  readonly min: number;
  readonly max: number;
  readonly mean: number;
  /** Of all elements, not of a sample of more. */
  readonly deviation: number;
  readonly median: number;
  readonly bins: readonly number[];
}

export interface TablePage {
  readonly domains: readonly { readonly name: string; readonly count: number }[];
  readonly domain: string;
  /** Elements, and those that pass the filter. */
  readonly total: number;
  readonly passed: number;
  readonly columns: readonly string[];
  /** Of the rows of the window: their elements, their ids, and their numbers, column after column. */
  readonly from: number;
  readonly elements: Int32Array;
  readonly ids: Int32Array;
  readonly numbers: Float64Array;
  readonly statistics: ColumnStatistics | null;
  /** Row of the element that was looked for; −1 when it does not pass. */
  readonly row: number | null;
  /** What is wrong with the filter; all elements pass then. */
  readonly fault: string | null;
  /** What there is instead of elements. */
  readonly plain: string | null;
}

const BINS = 48;
const PARTS: Readonly<Record<ColumnKind, readonly string[]>> = {
  number: [""],
  integer: [""],
  pair: [".u", ".v"],
  vector: [".x", ".y", ".z"],
  rotation: [".x", ".y", ".z", ".w"],
  color: [".r", ".g", ".b", ".a"],
};

/** Elements that are followed: by their ids where those are known. */
export interface FollowQuery extends Pick<TableQuery, "node" | "port" | "domain"> {
  readonly elements: readonly number[];
  readonly ids: readonly number[] | null;
}

export interface Followed {
  /** Of those that are there, three numbers each. */
  readonly places: Float32Array;
  /** Of each its number, −1 where it is not there. */
  readonly elements: readonly number[];
  /** Null where elements have none. */
  readonly ids: readonly number[] | null;
}

/** The number of the element with an id, which is its id where there are none; −1 when it is not there. */
export function indexOfId({ count, columns }: Domain, id: number): number {
  const ids = columns.id?.lanes[0];
  if (ids) return ids.indexOf(id);
  return id < count ? id : -1;
}

/** Keeps the order of the last table, so that scrolling does not sort again. */
export class Tables {
  private key: unknown[] = [];
  private rows: Int32Array = new Int32Array(0);
  private fault: string | null = null;

  page(flat: FlatGraph, memory: ResultMemory, query: TableQuery): TablePage | null {
    const carried = carriedAt(flat, memory, query.node, query.port);
    if (!carried) return null;
    if (carried.kind === "other") return emptyPage(plainText(carried.value));
    if (carried.kind === "field") {
      const { domain, values } = carried;
      return domain
        ? this.of([["where it is used", fieldTable(domain, values, carried.of)]], query)
        : emptyPage(null);
    }
    return this.of(filledDomains(carried.shape), query);
  }

  /** All rows that pass, in their order, as comma-separated values; null when there are no elements. */
  csv(flat: FlatGraph, memory: ResultMemory, query: Omit<TableQuery, "from" | "count">): string | null {
    const domain = this.domainOf(flat, memory, query);
    if (!domain) return null;
    this.order(domain, columnsOf(domain), query);
    return writeCsv(gather(domain, this.rows));
  }

  /** Where elements are, and which; null when they are nowhere. */
  followed(flat: FlatGraph, memory: ResultMemory, query: FollowQuery): Followed | null {
    const domain = this.domainOf(flat, memory, query);
    const position = domain?.columns.position?.lanes;
    if (!domain || !position) return null;
    const elements = query.ids
      ? query.ids.map((id) => indexOfId(domain, id))
      : query.elements.map((element) => (element < domain.count ? element : -1));
    const there = elements.filter((element) => element >= 0);
    const ids = domain.columns.id?.lanes[0];
    return {
      places: Float32Array.from(there.flatMap((element) => position.map((lane) => lane[element]))),
      elements,
      ids: query.ids ?? (ids ? elements.map((element) => ids[element] ?? -1) : null),
    };
  }

  private domainOf(
    flat: FlatGraph,
    memory: ResultMemory,
    { node, port, domain }: Pick<TableQuery, "node" | "port" | "domain">,
  ): Domain | undefined {
    const carried = carriedAt(flat, memory, node, port);
    if (carried?.kind === "field")
      return carried.domain && fieldTable(carried.domain, carried.values, carried.of);
    if (carried?.kind !== "shape") return undefined;
    const domains = filledDomains(carried.shape);
    return (domains.find(([name]) => name === domain) ?? domains[0])?.[1];
  }

  private of(domains: readonly (readonly [string, Domain])[], query: TableQuery): TablePage {
    const [name, domain] = domains.find(([n]) => n === query.domain) ?? domains[0] ?? ["sites", NOTHING];
    const columns = columnsOf(domain);
    this.order(domain, columns, query);
    const { rows } = this;
    const from = Math.max(0, Math.min(query.from, rows.length));
    const elements = rows.slice(from, from + Math.max(0, Math.min(query.count, MOST_ROWS)));
    const numbers = new Float64Array(elements.length * columns.length);
    columns.forEach(({ lane }, c) => {
      for (let i = 0; i < elements.length; i++) numbers[c * elements.length + i] = lane[elements[i]];
    });
    const id = domain.columns.id?.lanes[0];
    const described = columns.find((c) => c.name === query.describe);
    return {
      domains: domains.map(([n, { count }]) => ({ name: n, count })),
      domain: name,
      total: domain.count,
      passed: rows.length,
      columns: columns.map((c) => c.name),
      from,
      elements,
      ids: elements.map((element) => (id ? id[element] : element)),
      numbers,
      statistics: described ? statisticsOf(described.name, described.lane, rows) : null,
      row: query.find === undefined ? null : rows.indexOf(query.find),
      fault: this.fault,
      plain: null,
    };
  }

  private order(
    domain: Domain,
    columns: readonly TableColumn[],
    { sort, filter = "" }: Pick<TableQuery, "sort" | "filter">,
  ): void {
    const lane = columns.find(({ name }) => name === sort?.column)?.lane;
    const key = [...columns.map((c) => c.lane), domain.count, lane, sort?.descending, filter];
    if (key.length === this.key.length && key.every((part, i) => part === this.key[i])) return;
    this.key = key;
    const passed = this.filtered(domain, filter);
    // Turned round before and after, equal ones keep their places in a descending order too.
    if (lane && sort?.descending) this.rows = ascendingOrder(lane, passed.reverse()).reverse();
    else this.rows = lane ? ascendingOrder(lane, passed) : passed;
  }

  private filtered(domain: Domain, filter: string): Int32Array {
    const all = () => Int32Array.from({ length: domain.count }, (_, i) => i);
    this.fault = null;
    if (filter.trim() === "") return all();
    try {
      const [condition] = runValues([conditionOf(domain, filter)], domain).lanes;
      const found: number[] = [];
      for (let i = 0; i < domain.count; i++) if (condition[i] > 0.5) found.push(i);
      return Int32Array.from(found);
    } catch (error) {
      if (!(error instanceof FormulaFault)) throw error;
      this.fault = `Character ${error.at + 1}: ${error.message}`;
      return all();
    }
  }
}

/** Rows of one window at most. */
const MOST_ROWS = 2000;
const NOTHING: Domain = { count: 0, columns: {} };

const emptyPage = (plain: string | null): TablePage => ({
  domains: [],
  domain: "",
  total: 0,
  passed: 0,
  columns: [],
  from: 0,
  elements: new Int32Array(0),
  ids: new Int32Array(0),
  numbers: new Float64Array(0),
  statistics: null,
  row: null,
  fault: null,
  plain,
});

const plainText = (value: unknown): string =>
  typeof value === "string" ? value : (JSON.stringify(value) ?? "nothing").slice(0, 400);

interface TableColumn {
  readonly name: string;
  readonly lane: Lane;
}

/** Every domain of a shape that has elements. */
const filledDomains = (shape: Shape): (readonly [DomainName, Domain])[] =>
  [...domainsOf(shape)].filter(([, { count }]) => count > 0);

/** Attributes that come first; the others follow by name. */
const FIRST = ["id", "value", "position", "rotation", "scale", "color"];

function columnsOf(domain: Domain): TableColumn[] {
  const rank = (name: string) => (FIRST.includes(name) ? FIRST.indexOf(name) : FIRST.length);
  return Object.entries(domain.columns)
    .sort(([a], [b]) => rank(a) - rank(b) || (a < b ? -1 : 1))
    .flatMap(([name, { kind, lanes }]) => lanes.map((lane, i) => ({ name: name + PARTS[kind][i], lane })));
}

/** The elements that a field is used on, with its values as a column of its own. */
function fieldTable(domain: Domain, values: readonly Value[], of: PortKind): Domain {
  const { lanes } = runValues(values, domain);
  const kind: ColumnKind = of === "vector" || of === "rotation" || of === "color" ? of : "number";
  const { id, position } = domain.columns;
  const beside = { ...(id ? { id } : {}), ...(position ? { position } : {}) };
  return withColumns({ count: domain.count, columns: beside }, { value: makeColumn(kind, lanes) });
}

/** @throws FormulaFault naming the attributes that there are */
function conditionOf(domain: Domain, filter: string): Value {
  const names = Object.fromEntries(
    Object.entries(domain.columns)
      .filter(([, { lanes }]) => lanes.length !== 2)
      .map(([name, { lanes }]) => [name, lanes.slice(0, 3).map((_, lane) => column(name, lane))]),
  );
  const result = compileFormula(
    parseFormula(filter),
    { constant, apply },
    { index: [elementIndex()], ...names },
  );
  if (result.length !== 1)
    throw new FormulaFault(
      0,
      "A condition is one number; name a part, such as position.x, or use length( ).",
    );
  return result[0];
}

function statisticsOf(name: string, lane: Lane, rows: Int32Array): ColumnStatistics {
  const values = Float32Array.from(rows, (row) => lane[row]);
  const range = rangeOf(values) ?? { min: 0, max: 0 };
  let count = 0;
  let sum = 0;
  for (const value of values) {
    if (!Number.isFinite(value)) continue;
    count++;
    sum += value;
  }
  const mean = sum / Math.max(1, count);
  let squares = 0;
  for (const value of values) if (Number.isFinite(value)) squares += (value - mean) ** 2;
  const finite = count === values.length ? values : values.filter(Number.isFinite);
  return {
    column: name,
    count,
    ...range,
    mean,
    deviation: Math.sqrt(squares / Math.max(1, count)),
    median: count > 0 ? quantile(finite, ascendingOrder(finite), 0.5) : 0,
    bins: histogramOf(values, range.min, range.max, BINS),
  };
}
