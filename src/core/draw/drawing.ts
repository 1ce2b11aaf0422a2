/**
 * Shape to draw batches: each distinct mesh once, with a matrix and a colour per copy. Arrays of arrays are
 * multiplied out here and nowhere else.
 */
import { tick } from "../cancelling";
import {
  type Bounds,
  domainBounds,
  joinBounds,
  POINT,
  placedBounds,
  siteMatricesAndBounds,
} from "../geometry/bounds";
import type { Column, Domain } from "../geometry/column";
import { type Curves, segments } from "../geometry/curves";
import type { Mesh } from "../geometry/mesh";
import { lanesOf, type Shape } from "../geometry/shape";
import { interleave } from "../kernels/placing";
import { rangeOf } from "../kernels/statistics";
import { MOST_SITES } from "../limits";
import { lengthOf } from "../maths/exact";
import { multiplyMatrix } from "../maths/matrix";
import { bySource } from "./by-source";
import { type DrawArrays, ORDINARY } from "./draw-memory";

/**
 * `matrices`: 16 numbers a copy, column-major; `colors`: 4 a copy, linear RGBA. Both are empty where they are those of
 * the drawing before.
 */
export interface DrawBatch {
  readonly mesh: Mesh;
  readonly count: number;
  readonly matrices: Float32Array;
  readonly colors: Float32Array;
  readonly bounds: Bounds | null;
  /** Radius of the largest copy, units; infinite when it is not known. */
  readonly reach: number;
  /** Columns that it was composed from; undefined when there is more to it. */
  readonly origin: Origin | undefined;
}

/** The very columns that copies stand on: a column is never written again, so the same ones look the same. */
interface Origin {
  readonly placement: readonly (Column | undefined)[];
  readonly color: Column | undefined;
}

/** Curves of every copy as loose segments in world space: two ends each, 3 and 4 numbers an end. */
export interface DrawLines {
  readonly count: number;
  readonly positions: Float32Array;
  readonly colors: Float32Array;
}

/** Sites without a shape: shown as dots on the stage, left out of files. 3 and 4 numbers a dot. */
export interface DrawDots {
  readonly count: number;
  readonly positions: Float32Array;
  readonly colors: Float32Array;
}

export interface Drawing {
  readonly batches: readonly DrawBatch[];
  readonly lines: DrawLines | undefined;
  readonly dots: DrawDots | undefined;
  readonly bounds: Bounds | null;
  /** Copies over all batches that stand on a site; meshes that stand for themselves are not counted. */
  readonly clones: number;
}

/** More than can be drawn, `MOST_SITES` copies at most: the stage says so instead of stopping. */
export class TooManyCopies extends Error {
  constructor(
    readonly copies: number,
    what = "copies",
    limit = MOST_SITES,
  ) {
    super(`This draws ${copies} ${what}; the limit is ${limit}. Clone onto fewer sites.`);
  }
}

interface Copies {
  readonly count: number;
  readonly matrices: Float32Array;
  readonly colors: Float32Array;
}

const ONE: Copies = {
  count: 1,
  matrices: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
  colors: Float32Array.of(1, 1, 1, 1),
};

/** Copies that may still be uncomposed. */
interface Part {
  readonly count: number;
  readonly copies: () => Copies;
  /** The sites that are the copies, when nothing else is to them. */
  readonly sites?: Domain;
}

const ONE_COPY: Part = { count: 1, copies: () => ONE };

const partOf = (copies: Copies): Part => ({ count: copies.count, copies: () => copies });

/** Copies on all sites, composed when they are first asked for. */
function onSites(sites: Domain): Part {
  let composed: Copies | null = null;
  return {
    count: sites.count,
    sites,
    copies: () => {
      composed ??= {
        count: sites.count,
        matrices: composeMatrices(sites, ORDINARY, null).matrices,
        colors: composeColors(sites, ORDINARY),
      };
      return composed;
    },
  };
}

function composeMatrices(
  sites: Domain,
  arrays: DrawArrays,
  own: Bounds | null,
): { matrices: Float32Array; bounds: Bounds | null } {
  const matrices = arrays.take(sites.count * 16);
  return { matrices, bounds: siteMatricesAndBounds(sites, matrices, own) };
}

function composeColors(sites: Domain, arrays: DrawArrays): Float32Array {
  const { lanes } = lanesOf(sites, "color", "color");
  const colors = arrays.take(sites.count * 4);
  return lanes ? interleave("interleave4", lanes, 4, colors) : colors.fill(1);
}

/**
 * @param arrays where large arrays are taken from; whoever has done with the drawing may give them back
 * @param before batches shown at present: what a batch has in common with the one of its mesh is left out
 * @throws TooManyCopies
 */
export function drawingOf(
  shape: Shape,
  arrays: DrawArrays = ORDINARY,
  before: ReadonlyMap<Mesh, DrawBatch> = new Map(),
): Drawing {
  const taken: Float32Array[] = [];
  const remembering: DrawArrays = {
    ...arrays,
    take(length) {
      const array = arrays.take(length);
      taken.push(array);
      return array;
    },
  };
  try {
    return draw(shape, remembering, before);
  } catch (error) {
    for (const array of taken) arrays.give(array);
    throw error;
  }
}

function draw(shape: Shape, arrays: DrawArrays, before: ReadonlyMap<Mesh, DrawBatch>): Drawing {
  const collected: Collected = { meshes: new Map(), curves: new Map(), dots: [] };
  collect(shape, ONE_COPY, collected);
  let clones = 0;
  const batches = [...collected.meshes].map(([mesh, parts]) => {
    for (const part of parts) if (part !== ONE_COPY) clones += part.count;
    return batchOf(mesh, parts, arrays, before.get(mesh));
  });
  let bounds = joinBounds(batches.map((batch) => batch.bounds));
  const lines = bakeLines(collected.curves);
  for (const [curves, parts] of collected.curves) {
    for (const part of parts) {
      if (part !== ONE_COPY) clones += part.count;
      bounds = joinBounds([bounds, placedBounds(domainBounds(curves.points), part.copies().matrices)]);
    }
  }
  const bare = join(collected.dots);
  const positions = new Float32Array(bare.count * 3);
  for (let i = 0; i < bare.count; i++) positions.set(bare.matrices.subarray(i * 16 + 12, i * 16 + 15), i * 3);
  return {
    batches,
    lines,
    dots: bare.count > 0 ? { count: bare.count, positions, colors: bare.colors } : undefined,
    bounds: joinBounds([bounds, placedBounds(POINT, bare.matrices)]),
    clones,
  };
}

const NOTHING = new Float32Array(0);

function batchOf(
  mesh: Mesh,
  parts: readonly Part[],
  arrays: DrawArrays,
  before: DrawBatch | undefined,
): DrawBatch {
  const own = domainBounds(mesh.points);
  const sites = parts.length === 1 ? parts[0].sites : undefined;
  if (!sites) {
    const joined = join(parts);
    const bounds = placedBounds(own, joined.matrices);
    return { mesh, ...joined, bounds, reach: Number.POSITIVE_INFINITY, origin: undefined };
  }
  const { position, rotation, scale, color } = sites.columns;
  const origin: Origin = { placement: [position, rotation, scale], color };
  const same = before?.origin && before.count === sites.count ? before : undefined;
  const placed = origin.placement.every((column, i) => column === same?.origin?.placement[i])
    ? { matrices: NOTHING, bounds: same?.bounds ?? null, reach: same?.reach ?? 0 }
    : { ...composeMatrices(sites, arrays, own), reach: radiusOf(own) * largestScale(sites) };
  const colors = same && color === same.origin?.color ? NOTHING : composeColors(sites, arrays);
  return { mesh, count: sites.count, ...placed, colors, origin };
}

/** Half the diagonal. */
const radiusOf = (box: Bounds | null): number =>
  box ? lengthOf(box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]) / 2 : 0;

/** The greatest scale of any site along any axis. */
function largestScale(sites: Domain): number {
  const { lanes } = lanesOf(sites, "scale", "vector");
  if (!lanes) return 1;
  const ranges = lanes.map((lane) => rangeOf(lane) ?? { min: 0, max: 0 });
  return Math.max(...ranges.flatMap(({ min, max }) => [Math.abs(min), Math.abs(max)]));
}

interface Collected {
  readonly meshes: Map<Mesh, Part[]>;
  readonly curves: Map<Curves, Part[]>;
  readonly dots: Part[];
}

function addTo<K>(map: Map<K, Part[]>, key: K, at: Part): void {
  const parts = map.get(key);
  if (parts) parts.push(at);
  else map.set(key, [at]);
}

function collect(shape: Shape, at: Part, into: Collected): void {
  if (shape.mesh && shape.mesh.faces.count > 0) addTo(into.meshes, shape.mesh, at);
  if (shape.curves && shape.curves.points.count > 0) addTo(into.curves, shape.curves, at);
  const { sites } = shape;
  if (!sites || sites.count === 0) return;
  const own = onSites(sites);
  for (const [source, picked] of bySource(sites, shape.sources?.length ?? 0)) {
    const chosen = picked === "all" ? own : partOf(pick(own.copies(), picked));
    const placed = at === ONE_COPY ? chosen : partOf(multiplyCopies(at.copies(), chosen.copies()));
    const shapeThere = source >= 0 ? shape.sources?.[source] : undefined;
    if (shapeThere) collect(shapeThere, placed, into);
    else into.dots.push(placed);
  }
}

/** Segment ends drawn at most. */
const MAX_LINE_ENDS = 8_000_000;

function bakeLines(found: ReadonlyMap<Curves, Part[]>): DrawLines | undefined {
  const parts = [...found].flatMap(([curves, copies]) => {
    const ends = segments(curves);
    return copies.map((part) => ({ curves, ends, part }));
  });
  const total = parts.reduce((sum, { ends, part }) => sum + ends.length * part.count, 0);
  if (total === 0) return undefined;
  if (total > MAX_LINE_ENDS) throw new TooManyCopies(total / 2, "lines", MAX_LINE_ENDS / 2);
  const positions = new Float32Array(total * 3);
  const colors = new Float32Array(total * 4);
  let at = 0;
  for (const { curves, ends, part } of parts) {
    const copy = part.copies();
    const [x, y, z] = curves.points.columns.position.lanes;
    const own = lanesOf(curves.points, "color", "color").lanes;
    for (let i = 0; i < copy.count; i++) {
      tick(ends.length);
      const m = copy.matrices;
      const k = i * 16;
      for (const p of ends) {
        for (let a = 0; a < 3; a++)
          positions[at * 3 + a] = m[k + a] * x[p] + m[k + 4 + a] * y[p] + m[k + 8 + a] * z[p] + m[k + 12 + a];
        for (let l = 0; l < 4; l++) colors[at * 4 + l] = copy.colors[i * 4 + l] * (own ? own[l][p] : 1);
        at++;
      }
    }
  }
  return { count: total / 2, positions, colors };
}

function pick(from: Copies, indices: Int32Array): Copies {
  const matrices = new Float32Array(indices.length * 16);
  const colors = new Float32Array(indices.length * 4);
  indices.forEach((i, at) => {
    for (let k = 0; k < 16; k++) matrices[at * 16 + k] = from.matrices[i * 16 + k];
    for (let k = 0; k < 4; k++) colors[at * 4 + k] = from.colors[i * 4 + k];
  });
  return { count: indices.length, matrices, colors };
}

/** Every outer copy with every inner one; colours multiply. */
function multiplyCopies(outer: Copies, inner: Copies): Copies {
  const count = outer.count * inner.count;
  if (count > MOST_SITES) throw new TooManyCopies(count);
  const matrices = new Float32Array(count * 16);
  const colors = new Float32Array(count * 4);
  let at = 0;
  for (let o = 0; o < outer.count; o++) {
    for (let i = 0; i < inner.count; i++) {
      tick();
      multiplyMatrix(matrices, at * 16, outer.matrices, o * 16, inner.matrices, i * 16);
      for (let k = 0; k < 4; k++) colors[at * 4 + k] = outer.colors[o * 4 + k] * inner.colors[i * 4 + k];
      at++;
    }
  }
  return { count, matrices, colors };
}

function join(parts: readonly Part[]): Copies {
  if (parts.length === 1) return parts[0].copies();
  const count = parts.reduce((sum, part) => sum + part.count, 0);
  if (count > MOST_SITES) throw new TooManyCopies(count);
  const matrices = new Float32Array(count * 16);
  const colors = new Float32Array(count * 4);
  let at = 0;
  for (const part of parts) {
    const copies = part.copies();
    matrices.set(copies.matrices, at * 16);
    colors.set(copies.colors, at * 4);
    at += part.count;
  }
  return { count, matrices, colors };
}
