/**
 * PLY (G. Turk, 1994), text and binary. Faces of any number of corners are cut into triangles; a file without faces is a point cloud
 * and becomes sites. Colours that are whole numbers are taken as sRGB (common practice, no source).
 */
import { tick } from "../../cancelling";
import { areaVector } from "../../geometry/mesh";
import type { Shape } from "../../geometry/shape";
import { cutPolygon } from "../../geometry/triangles";
import { decodeSrgb } from "../../maths/color";
import { FormatError } from "../format-error";
import { cloudSites } from "./cloud";
import { bytesOfType, type PlyElement, type PlyProperty, type PlyType, plyHeader } from "./ply-header";
import { weldTriangles } from "./weld";

/** @throws FormatError */
export function readPly(bytes: Uint8Array): Shape {
  const { format, elements, length } = plyHeader(bytes);
  const data = bytes.subarray(length);
  const next =
    format === "ascii" ? textNumbers(data) : binaryNumbers(data, format === "binary_little_endian");
  let vertices: Vertices | null = null;
  let faces: Faces | null = null;
  for (const element of elements) {
    if (element.name === "vertex") vertices = readVertices(element, next);
    else if (element.name === "face") faces = readFaces(element, next);
    else
      for (let i = 0; i < element.count; i++)
        for (const p of element.properties) skip(p, next, element.name, i);
  }
  if (!vertices || vertices.count === 0) throw new FormatError("there are no vertices.");
  const { count, columns } = vertices;
  const place = ["x", "y", "z"].map((name) => columns.get(name)?.values);
  const [x, y, z] = place;
  if (!x || !y || !z) throw new FormatError('its vertices have no "x", "y" and "z".');
  const color = colorsOf(vertices);
  if (!faces || faces.starts.length < 2)
    return { sites: cloudSites(interleaved([x, y, z], count), color && interleaved(color, count)) };
  const { corners, from } = triangles(faces, [x, y, z], count);
  const of = (lanes: readonly (ArrayLike<number> | undefined)[], at: ArrayLike<number>) =>
    lanes.every((lane) => lane !== undefined) ? picked(lanes as readonly ArrayLike<number>[], at) : undefined;
  const named = (...names: string[]) => names.map((name) => columns.get(name)?.values);
  const own = faces.uv.length > 0 ? faceCoordinates(faces, from) : undefined;
  const ofVertices =
    of(named("u", "v"), corners) ??
    of(named("s", "t"), corners) ??
    of(named("texture_u", "texture_v"), corners);
  return {
    mesh: weldTriangles({
      position: picked([x, y, z], corners),
      normal: of(named("nx", "ny", "nz"), corners),
      uv: own ?? ofVertices,
      color: color && picked(color, corners),
    }),
  };
}

/** The next number of the data, of a type. @param what such as "vertex 12", for messages */
type Next = (type: PlyType, what: () => string) => number;

function textNumbers(data: Uint8Array): Next {
  let at = 0;
  return (_type, what) => {
    while (at < data.length && data[at] <= 32) at++;
    const start = at;
    while (at < data.length && data[at] > 32) at++;
    const word = String.fromCharCode(...data.subarray(start, Math.min(at, start + 40)));
    if (word === "") throw new FormatError(`its data ends at ${what()}.`);
    const value = Number(word);
    if (Number.isNaN(value)) throw new FormatError(`${what()}: "${word}" is not a number.`);
    return value;
  };
}

function binaryNumbers(data: Uint8Array, little: boolean): Next {
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  let at = 0;
  const read: Readonly<Record<PlyType, () => number>> = {
    char: () => view.getInt8(at),
    uchar: () => view.getUint8(at),
    short: () => view.getInt16(at, little),
    ushort: () => view.getUint16(at, little),
    int: () => view.getInt32(at, little),
    uint: () => view.getUint32(at, little),
    float: () => view.getFloat32(at, little),
    double: () => view.getFloat64(at, little),
  };
  return (type, what) => {
    if (at + bytesOfType(type) > data.length) throw new FormatError(`its data ends at ${what()}.`);
    const value = read[type]();
    at += bytesOfType(type);
    return value;
  };
}

/** Corners of a face, or whatever a list holds, at most. */
const LONGEST_LIST = 100_000;

function list({ countType, type, name }: PlyProperty, next: Next, what: () => string): number[] {
  const count = next(countType as PlyType, what);
  if (!(count >= 0 && count <= LONGEST_LIST) || !Number.isInteger(count))
    throw new FormatError(`${what()}: "${name}" would have ${count} entries.`);
  return Array.from({ length: count }, () => next(type, what));
}

function skip(property: PlyProperty, next: Next, name: string, i: number): void {
  tick();
  const what = () => `${name} ${i + 1}`;
  if (property.countType) list(property, next, what);
  else next(property.type, what);
}

interface Vertices {
  readonly count: number;
  readonly columns: ReadonlyMap<string, { readonly values: Float64Array; readonly type: PlyType }>;
}

function readVertices({ count, properties, name }: PlyElement, next: Next): Vertices {
  const single = properties.filter(({ countType }) => !countType);
  const columns = new Map(single.map(({ name, type }) => [name, { values: new Float64Array(count), type }]));
  for (let i = 0; i < count; i++) {
    tick(properties.length);
    for (const property of properties) {
      const column = property.countType ? undefined : columns.get(property.name);
      if (column) column.values[i] = next(property.type, () => `vertex ${i + 1}`);
      else skip(property, next, name, i);
    }
  }
  return { count, columns };
}

interface Faces {
  /** Face f has the vertices corners[starts[f]] … corners[starts[f + 1] − 1]. */
  readonly starts: readonly number[];
  readonly corners: readonly number[];
  /** Two numbers for each of those corners; empty when the faces have none. */
  readonly uv: readonly number[];
}

function readFaces({ count, properties, name }: PlyElement, next: Next): Faces {
  const starts = [0];
  const corners: number[] = [];
  const uv: number[] = [];
  for (let f = 0; f < count; f++) {
    tick(4);
    const what = () => `face ${f + 1}`;
    for (const property of properties) {
      if (!property.countType) next(property.type, what);
      else if (/^vertex_ind(ex|ices)$/.test(property.name))
        for (const c of list(property, next, what)) corners.push(c);
      else if (property.name === "texcoord") for (const v of list(property, next, what)) uv.push(v);
      else skip(property, next, name, f);
    }
    starts.push(corners.length);
  }
  return { starts, corners, uv: uv.length === corners.length * 2 ? uv : [] };
}

/** Vertices of the triangles' corners, and which corner of its file each is. */
function triangles({ starts, corners }: Faces, lanes: readonly Float64Array[], vertices: number) {
  const found: number[] = [];
  const from: number[] = [];
  for (let f = 0; f + 1 < starts.length; f++) {
    tick(4);
    const points = corners.slice(starts[f], starts[f + 1]);
    const bad = points.find((p) => !(Number.isInteger(p) && p >= 0 && p < vertices));
    if (bad !== undefined)
      throw new FormatError(`face ${f + 1} points at vertex ${bad}, and there are ${vertices}.`);
    if (points.length < 3) continue;
    for (const k of cutPolygon(points, lanes, areaVector(points, 0, points.length, lanes))) {
      found.push(points[k]);
      from.push(starts[f] + k);
    }
  }
  return { corners: found, from };
}

const faceCoordinates = ({ uv }: Faces, from: readonly number[]): Float32Array =>
  Float32Array.from({ length: from.length * 2 }, (_, i) => uv[from[i >> 1] * 2 + (i & 1)]);

/** Greatest value of whole-numbered types; numbers with fractions go from 0 to 1. */
const FULL: Readonly<Partial<Record<PlyType, number>>> = { uchar: 255, ushort: 65535, uint: 2 ** 32 - 1 };

/** Linear RGBA of the vertices, planar. */
function colorsOf({ columns, count }: Vertices): Float32Array[] | undefined {
  const find = (...names: string[]) => names.map((name) => columns.get(name)).find((column) => column);
  const parts = [
    find("red", "diffuse_red", "r"),
    find("green", "diffuse_green", "g"),
    find("blue", "diffuse_blue", "b"),
    find("alpha", "a"),
  ];
  if (parts.slice(0, 3).some((part) => !part)) return undefined;
  return parts.map((part, c) => {
    if (!part) return new Float32Array(count).fill(1);
    const full = FULL[part.type] ?? 1;
    const linear = (v: number) => (c === 3 ? v / full : decodeSrgb(v / full));
    // Bytes have few values: each is worked out once.
    const table = full === 255 ? Float32Array.from({ length: 256 }, (_, v) => linear(v)) : null;
    return Float32Array.from(part.values, (v) => (table ? table[v] : linear(v)));
  });
}

function interleaved(lanes: readonly ArrayLike<number>[], count: number): Float64Array {
  const values = new Float64Array(count * lanes.length);
  lanes.forEach((lane, l) => {
    tick(count / 8);
    for (let i = 0; i < count; i++) values[i * lanes.length + l] = lane[i];
  });
  return values;
}

function picked(lanes: readonly ArrayLike<number>[], corners: ArrayLike<number>): Float64Array {
  const values = new Float64Array(corners.length * lanes.length);
  lanes.forEach((lane, l) => {
    tick(corners.length / 8);
    for (let c = 0; c < corners.length; c++) values[c * lanes.length + l] = lane[corners[c]];
  });
  return values;
}
