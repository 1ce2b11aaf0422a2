/**
 * Shape to draw batches: each distinct mesh once, with a matrix and a colour per copy. Arrays of arrays are
 * multiplied out here and nowhere else.
 */
import { type Bounds, domainBounds, joinBounds, POINT, placedBounds, siteMatrices } from "../geometry/bounds";
import type { Domain } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { lanesOf, type Shape } from "../geometry/shape";
import { multiplyMatrix } from "../maths/matrix";

/** `matrices`: 16 numbers a copy, column-major; `colors`: 4 a copy, linear RGBA. */
export interface DrawBatch {
  readonly mesh: Mesh;
  readonly count: number;
  readonly matrices: Float32Array;
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
  readonly dots: DrawDots | undefined;
  readonly bounds: Bounds | null;
  /** Copies over all batches that stand on a site; meshes that stand for themselves are not counted. */
  readonly clones: number;
}

/** Copies drawn at most; beyond this the stage says so instead of stopping. */
export const MAX_COPIES = 4_000_000;

export class TooManyCopies extends Error {
  constructor(readonly copies: number) {
    super(`This draws ${copies} copies; the limit is ${MAX_COPIES}. Clone onto fewer sites.`);
  }
}

interface Copies {
  readonly count: number;
  readonly matrices: Float32Array;
  readonly colors: Float32Array;
}

const ONE_COPY: Copies = {
  count: 1,
  matrices: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
  colors: Float32Array.of(1, 1, 1, 1),
};

/** @throws TooManyCopies */
export function drawingOf(shape: Shape): Drawing {
  const found = new Map<Mesh, Copies[]>();
  const dots: Copies[] = [];
  collect(shape, ONE_COPY, found, dots);
  const batches: DrawBatch[] = [];
  let bounds: Bounds | null = null;
  let clones = 0;
  for (const [mesh, parts] of found) {
    const joined = join(parts);
    for (const part of parts) if (part !== ONE_COPY) clones += part.count;
    batches.push({ mesh, ...joined });
    bounds = joinBounds([bounds, placedBounds(domainBounds(mesh.points), joined.matrices)]);
  }
  const bare = join(dots);
  const positions = new Float32Array(bare.count * 3);
  for (let i = 0; i < bare.count; i++) positions.set(bare.matrices.subarray(i * 16 + 12, i * 16 + 15), i * 3);
  return {
    batches,
    dots: bare.count > 0 ? { count: bare.count, positions, colors: bare.colors } : undefined,
    bounds: joinBounds([bounds, placedBounds(POINT, bare.matrices)]),
    clones,
  };
}

function collect(shape: Shape, at: Copies, found: Map<Mesh, Copies[]>, dots: Copies[]): void {
  if (shape.mesh && shape.mesh.faces.count > 0) {
    const parts = found.get(shape.mesh);
    if (parts) parts.push(at);
    else found.set(shape.mesh, [at]);
  }
  const { sites } = shape;
  if (!sites || sites.count === 0) return;
  const own = ownCopies(sites);
  for (const [source, picked] of bySource(sites, shape.sources?.length ?? 0)) {
    const chosen = picked === "all" ? own : pick(own, picked);
    const placed = at === ONE_COPY ? chosen : multiplyCopies(at, chosen);
    const shapeThere = source >= 0 ? shape.sources?.[source] : undefined;
    if (shapeThere) collect(shapeThere, placed, found, dots);
    else dots.push(placed);
  }
}

function ownCopies(sites: Domain): Copies {
  const { lanes } = lanesOf(sites, "color", "color");
  const colors = new Float32Array(sites.count * 4);
  if (lanes)
    for (let i = 0; i < sites.count; i++) for (let l = 0; l < 4; l++) colors[i * 4 + l] = lanes[l][i];
  else colors.fill(1);
  return { count: sites.count, matrices: siteMatrices(sites), colors };
}

/** Sites per source number; −1 holds the bare ones. */
function bySource(sites: Domain, sources: number): [number, Int32Array | "all"][] {
  const source = sites.columns.source?.lanes[0];
  if (!source || sources === 0) return [[-1, "all"]];
  let same = 1;
  while (same < sites.count && source[same] === source[0]) same++;
  if (same === sites.count) return [[source[0] < sources ? source[0] : -1, "all"]];
  const groups = new Map<number, number[]>();
  for (let i = 0; i < sites.count; i++) {
    const s = source[i] < sources ? source[i] : -1;
    const group = groups.get(s);
    if (group) group.push(i);
    else groups.set(s, [i]);
  }
  return [...groups].map(([s, group]) => [s, Int32Array.from(group)]);
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
  if (count > MAX_COPIES) throw new TooManyCopies(count);
  const matrices = new Float32Array(count * 16);
  const colors = new Float32Array(count * 4);
  let at = 0;
  for (let o = 0; o < outer.count; o++) {
    for (let i = 0; i < inner.count; i++) {
      multiplyMatrix(matrices, at * 16, outer.matrices, o * 16, inner.matrices, i * 16);
      for (let k = 0; k < 4; k++) colors[at * 4 + k] = outer.colors[o * 4 + k] * inner.colors[i * 4 + k];
      at++;
    }
  }
  return { count, matrices, colors };
}

function join(parts: readonly Copies[]): Copies {
  if (parts.length === 1) return parts[0];
  const count = parts.reduce((sum, part) => sum + part.count, 0);
  if (count > MAX_COPIES) throw new TooManyCopies(count);
  const matrices = new Float32Array(count * 16);
  const colors = new Float32Array(count * 4);
  let at = 0;
  for (const part of parts) {
    matrices.set(part.matrices, at * 16);
    colors.set(part.colors, at * 4);
    at += part.count;
  }
  return { count, matrices, colors };
}
