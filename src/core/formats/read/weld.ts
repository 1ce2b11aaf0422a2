/** Loose triangle corners to a mesh with shared points. */
import { tick } from "../../cancelling";
import { type Column, makeColumn } from "../../geometry/column";
import { type Mesh, makeMesh } from "../../geometry/mesh";
import { FormatError } from "../format-error";

/** Interleaved attributes, one entry per triangle corner; three corners a triangle. */
export interface LooseTriangles {
  /** 3 numbers a corner. */
  readonly position: ArrayLike<number>;
  /** 3 a corner, unit. */
  readonly normal?: ArrayLike<number>;
  /** 2 a corner, origin top left (glTF 2.0). */
  readonly uv?: ArrayLike<number>;
  /** Linear RGBA, 4 a corner. */
  readonly color?: ArrayLike<number>;
}

/** What is told of each attribute, and its numbers a corner. */
const PARTS = {
  position: { what: "position", lanes: 3 },
  normal: { what: "normal", lanes: 3 },
  uv: { what: "texture coordinate", lanes: 2 },
  color: { what: "colour", lanes: 4 },
} as const;

/**
 * Corners at exactly the same place (and of the same colour) share a point; triangles that lose a corner by
 * this are left out.
 * @throws FormatError when a number is not finite in float32
 */
export function weldTriangles(loose: LooseTriangles): Mesh {
  const corners = Math.floor(loose.position.length / 9) * 3;
  const lanes = {
    position: lanesOf(loose, "position", corners) as readonly Float32Array[],
    normal: lanesOf(loose, "normal", corners),
    uv: lanesOf(loose, "uv", corners),
    color: lanesOf(loose, "color", corners),
  };
  const { pointOf, firsts } = distinct([...lanes.position, ...(lanes.color ?? [])], corners);
  const kept: number[] = [];
  for (let c = 0; c < corners; c += 3) {
    tick();
    const [a, b, d] = [pointOf[c], pointOf[c + 1], pointOf[c + 2]];
    if (a !== b && b !== d && a !== d) kept.push(c, c + 1, c + 2);
  }
  const picked = (lane: Float32Array, indices: ArrayLike<number>) => {
    tick(indices.length / 8);
    return Float32Array.from(indices, (i) => lane[i]);
  };
  const column = (
    kind: Column["kind"],
    list: readonly Float32Array[] | undefined,
    indices: ArrayLike<number>,
  ): Column | undefined =>
    list &&
    makeColumn(
      kind,
      list.map((lane) => picked(lane, indices)),
    );
  const [x, y, z] = lanes.position.map((lane) => picked(lane, firsts));
  const color = column("color", lanes.color, firsts);
  const normal = column("vector", lanes.normal, kept);
  const uv = column("pair", lanes.uv, kept);
  return makeMesh({
    position: [x, y, z],
    faceStarts: Int32Array.from({ length: kept.length / 3 + 1 }, (_, i) => i * 3),
    cornerPoint: Int32Array.from(kept, (c) => pointOf[c]),
    pointColumns: color ? { color } : {},
    cornerColumns: { ...(normal ? { normal } : {}), ...(uv ? { uv } : {}) },
  });
}

/** The numbers of one attribute as float32, planar. */
function lanesOf(
  loose: LooseTriangles,
  part: keyof typeof PARTS,
  corners: number,
): readonly Float32Array[] | undefined {
  const from = loose[part];
  if (!from) return undefined;
  const { what, lanes } = PARTS[part];
  return Array.from({ length: lanes }, (_, l) => {
    const lane = new Float32Array(corners);
    for (let c = 0; c < corners; c++) {
      tick(0.25);
      const value = from[c * lanes + l];
      // Adding 0 makes −0 the same place as 0.
      lane[c] = value + 0;
      if (!Number.isFinite(lane[c]))
        throw new FormatError(
          `the ${what} of corner ${(c % 3) + 1} of triangle ${Math.floor(c / 3) + 1} is not a number${Number.isNaN(value) ? "" : " of a size that can be held"}.`,
        );
    }
    return lane;
  });
}

/** Numbers of the distinct corners, counted from 0, and the first corner of each: a table of hashes with open addresses. */
function distinct(
  lanes: readonly Float32Array[],
  count: number,
): { pointOf: Int32Array; firsts: Int32Array } {
  const bits = lanes.map((lane) => new Int32Array(lane.buffer));
  const size = 2 ** Math.max(4, 32 - Math.clz32(count * 2));
  const table = new Int32Array(size).fill(-1);
  const pointOf = new Int32Array(count);
  const firsts: number[] = [];
  for (let c = 0; c < count; c++) {
    tick();
    let hash = 0;
    for (const lane of bits) hash = Math.imul(hash ^ lane[c], 0x9e3779b1) ^ (hash >>> 15);
    let at = (hash ^ (hash >>> 16)) & (size - 1);
    while (table[at] >= 0 && bits.some((lane) => lane[c] !== lane[firsts[table[at]]]))
      at = (at + 1) & (size - 1);
    if (table[at] < 0) table[at] = firsts.push(c) - 1;
    pointOf[c] = table[at];
  }
  return { pointOf, firsts: Int32Array.from(firsts) };
}
