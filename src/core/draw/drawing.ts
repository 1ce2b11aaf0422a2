/**
 * Shape to draw batches: each distinct mesh once, with a matrix and a colour per copy. Arrays of arrays are
 * multiplied out here and nowhere else.
 */
import { type Bounds, domainBounds, joinBounds, POINT, placedBounds } from "../geometry/bounds";
import type { Column, Domain } from "../geometry/column";
import type { Curves } from "../geometry/curves";
import { lookColumns } from "../geometry/looks-of";
import type { Mesh } from "../geometry/mesh";
import { lanesOf, type Shape } from "../geometry/shape";
import { ROUNDNESS, THICKNESS } from "../geometry/thickness";
import type { Volume } from "../geometry/volume";
import { interleave } from "../kernels/placing";
import { rangeOf } from "../kernels/statistics";
import { lengthOf } from "../maths/exact";
import type { Vec3 } from "../maths/vector";
import { bakeLines } from "./baked-lines";
import { bySource } from "./by-source";
import {
  composeColors,
  composeLooks,
  composeMatrices,
  join,
  multiplyCopies,
  ONE_COPY,
  onSites,
  onSome,
  type Part,
  partOf,
  Taken,
} from "./copies";
import { type DrawArrays, ORDINARY } from "./draw-memory";
import type { DrawDots, DrawLines } from "./loose";
import { type DrawVolume, volumeDrawing } from "./volume-drawing";
import { surfaceOfVolume } from "./volume-surface";

/**
 * `matrices`: 16 numbers a copy, column-major; `colors`: 4 a copy, linear RGBA; `looks`: what they are made of, null where none says so. All
 * are empty where they are those of the drawing before.
 */
export interface DrawBatch {
  readonly mesh: Mesh;
  readonly count: number;
  readonly matrices: Float32Array;
  readonly colors: Float32Array;
  readonly looks: Float32Array | null;
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
  readonly look: readonly (Column | undefined)[];
}

export interface Drawing {
  readonly batches: readonly DrawBatch[];
  readonly lines: DrawLines | undefined;
  readonly dots: DrawDots | undefined;
  readonly volumes: readonly DrawVolume[];
  readonly bounds: Bounds | null;
  /** Copies over all batches that stand on a site; meshes that stand for themselves are not counted. */
  readonly clones: number;
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
  const taken = new Taken(arrays);
  try {
    return drawWith(shape, arrays, before, taken);
  } finally {
    taken.giveBack();
  }
}

function drawWith(
  shape: Shape,
  arrays: DrawArrays,
  before: ReadonlyMap<Mesh, DrawBatch>,
  taken: Taken,
): Drawing {
  const collected: Collected = { meshes: new Map(), curves: new Map(), dots: [], volumes: [], taken };
  collect(shape, ONE_COPY, collected);
  let clones = 0;
  const batches = [...collected.meshes].map(([mesh, parts]) => {
    for (const part of parts) if (part !== ONE_COPY) clones += part.count;
    return batchOf(mesh, parts, arrays, before.get(mesh));
  });
  let bounds = joinBounds(batches.map((batch) => batch.bounds));
  const lines = bakeLines(collected.curves, arrays, taken);
  for (const [curves, parts] of collected.curves) {
    for (const part of parts) {
      if (part !== ONE_COPY) clones += part.count;
      bounds = joinBounds([bounds, placedBounds(domainBounds(curves.points), part.copies().matrices)]);
    }
  }
  const { dots, box } = dotsOf(collected.dots, arrays);
  const volumes = collected.volumes.flatMap(([volume, part]) => {
    const { matrices } = part.copies();
    const drawn = volumeDrawing(volume, matrices.slice(0, MOST_VOLUMES * 16));
    bounds = joinBounds([bounds, placedBounds(drawn, matrices)]);
    return drawn ?? [];
  });
  return { batches, lines, dots, volumes, bounds: joinBounds([bounds, box]), clones };
}

/** Of bare sites only places and colours are drawn, so no matrices are made of them. */
function dotsOf(
  parts: readonly Part[],
  arrays: DrawArrays,
): { readonly dots: DrawDots | undefined; readonly box: Bounds | null } {
  if (parts.length === 0) return { dots: undefined, box: null };
  const sites = parts.length === 1 ? parts[0].sites : undefined;
  if (sites) {
    const positions = arrays.take(sites.count * 3);
    interleave("interleave3", sites.columns.position.lanes, 3, positions);
    const dots = {
      count: sites.count,
      positions,
      colors: composeColors(sites, arrays),
      ...said(parts, arrays),
    };
    return { dots, box: widened(domainBounds(sites), dots.thickness) };
  }
  const { count, matrices, colors } = join(parts);
  const positions = arrays.take(count * 3);
  for (let i = 0; i < count; i++) positions.set(matrices.subarray(i * 16 + 12, i * 16 + 15), i * 3);
  const dots = { count, positions, colors, ...said(parts, arrays) };
  return { dots, box: widened(placedBounds(POINT, matrices), dots.thickness) };
}

const said = (parts: readonly Part[], arrays: DrawArrays) => ({
  thickness: numbersOf(THICKNESS, parts, arrays),
  roundness: numbersOf(ROUNDNESS, parts, arrays),
  pictures: numbersOf("textures", parts, arrays),
});

/** Around dots as far as the thickest reaches. */
function widened(box: Bounds | null, thickness: Float32Array | undefined): Bounds | null {
  if (!box || !thickness) return box;
  const half = Math.max(0, rangeOf(thickness)?.max ?? 0) / 2;
  return {
    min: box.min.map((v) => v - half) as unknown as Vec3,
    max: box.max.map((v) => v + half) as unknown as Vec3,
  };
}

/** What sites say of one attribute, 0 for those that say nothing; undefined where none does. */
function numbersOf(name: string, parts: readonly Part[], arrays: DrawArrays): Float32Array | undefined {
  if (!parts.some(({ sites }) => sites?.columns[name])) return undefined;
  const made = arrays.take(parts.reduce((sum, { count }) => sum + count, 0));
  let at = 0;
  for (const { count, sites } of parts) {
    const lane = sites?.columns[name]?.lanes[0];
    if (lane) made.set(lane, at);
    else made.fill(0, at, at + count);
    at += count;
  }
  return made;
}

/** Copies of one volume of densities that are drawn at most: each is looked through whole. */
const MOST_VOLUMES = 64;

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
  const origin: Origin = { placement: [position, rotation, scale], color, look: lookColumns(sites) };
  const same = before?.origin && before.count === sites.count ? before : undefined;
  const placed = origin.placement.every((column, i) => column === same?.origin?.placement[i])
    ? { matrices: NOTHING, bounds: same?.bounds ?? null, reach: same?.reach ?? 0 }
    : { ...composeMatrices(sites, arrays, own), reach: radiusOf(own) * largestScale(sites) };
  const colors = same && color === same.origin?.color ? NOTHING : composeColors(sites, arrays);
  const isMadeOfTheSame = origin.look.every((column, i) => column === same?.origin?.look[i]);
  const looks = isMadeOfTheSame && same?.looks ? NOTHING : composeLooks(sites, arrays);
  return { mesh, count: sites.count, ...placed, colors, looks, origin };
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
  readonly volumes: [Volume, Part][];
  readonly taken: Taken;
}

function addTo<K>(map: Map<K, Part[]>, key: K, at: Part): void {
  const parts = map.get(key);
  if (parts) parts.push(at);
  else map.set(key, [at]);
}

function collect(shape: Shape, at: Part, into: Collected): void {
  if (shape.mesh && shape.mesh.faces.count > 0) addTo(into.meshes, shape.mesh, at);
  if (shape.volume?.voxels.columns.density) into.volumes.push([shape.volume, at]);
  const surface = shape.volume?.voxels.columns.distance && !shape.mesh ? surfaceOfVolume(shape.volume) : null;
  if (surface) addTo(into.meshes, surface, at);
  if (shape.curves && shape.curves.points.count > 0) addTo(into.curves, shape.curves, at);
  const { sites } = shape;
  if (!sites || sites.count === 0) return;
  const own = onSites(sites);
  for (const [source, picked] of bySource(sites, shape.sources?.length ?? 0)) {
    const chosen = picked === "all" ? own : onSome(sites, picked, into.taken);
    const placed = at === ONE_COPY ? chosen : partOf(multiplyCopies(at.copies(), chosen.copies()));
    const shapeThere = source >= 0 ? shape.sources?.[source] : undefined;
    if (shapeThere) collect(shapeThere, placed, into);
    else into.dots.push(placed);
  }
}
