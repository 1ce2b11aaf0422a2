/**
 * NRRD (Teem's "nearly raw raster data", format versions 1 to 5) with its values in the same file: raw, gzip or as text. Three axes of space, or a
 * list of values before them.
 */
import { gunzipSync } from "fflate";
import type { ColumnKind } from "../../geometry/column";
import { lengthOf } from "../../maths/exact";
import type { Vec3 } from "../../maths/vector";
import { FormatError } from "../format-error";
import type { ShapeAsset } from "./asset";
import { areDistances, checkGridSize, finite, MOST_VOXELS, shapeOfGrid, type VoxelGrid } from "./voxel-grid";

interface NumberType {
  readonly bytes: number;
  readonly read: (view: DataView, at: number, little: boolean) => number;
  /** Of whole numbers from 0 on the greatest, which is taken as 1. */
  readonly white?: number;
}

const INT8: NumberType = { bytes: 1, read: (view, at) => view.getInt8(at) };
const UINT8: NumberType = { bytes: 1, read: (view, at) => view.getUint8(at), white: 255 };
const INT16: NumberType = { bytes: 2, read: (view, at, little) => view.getInt16(at, little) };
const UINT16: NumberType = {
  bytes: 2,
  read: (view, at, little) => view.getUint16(at, little),
  white: 65_535,
};
const INT32: NumberType = { bytes: 4, read: (view, at, little) => view.getInt32(at, little) };
const UINT32: NumberType = { bytes: 4, read: (view, at, little) => view.getUint32(at, little) };
const FLOAT: NumberType = { bytes: 4, read: (view, at, little) => view.getFloat32(at, little) };
const DOUBLE: NumberType = { bytes: 8, read: (view, at, little) => view.getFloat64(at, little) };

/** All names that the format gives them. */
const TYPES: Readonly<Record<string, NumberType>> = {
  "signed char": INT8,
  int8: INT8,
  int8_t: INT8,
  uchar: UINT8,
  "unsigned char": UINT8,
  uint8: UINT8,
  uint8_t: UINT8,
  short: INT16,
  "short int": INT16,
  "signed short": INT16,
  "signed short int": INT16,
  int16: INT16,
  int16_t: INT16,
  ushort: UINT16,
  "unsigned short": UINT16,
  "unsigned short int": UINT16,
  uint16: UINT16,
  uint16_t: UINT16,
  int: INT32,
  "signed int": INT32,
  int32: INT32,
  int32_t: INT32,
  uint: UINT32,
  "unsigned int": UINT32,
  uint32: UINT32,
  uint32_t: UINT32,
  float: FLOAT,
  double: DOUBLE,
};

/** Headers are text; one that does not end by here is none. */
const LONGEST_HEADER = 64 * 1024;

/** @throws FormatError */
export function readNrrd(bytes: Uint8Array): ShapeAsset {
  const { fields, named, from } = headerOf(bytes);
  const need = (name: string): string => {
    const value = fields.get(name);
    if (value === undefined) throw new FormatError(`its header has no "${name}".`);
    return value;
  };
  for (const name of ["data file", "datafile"])
    if (fields.has(name))
      throw new FormatError("its values lie in another file. Save it as one file, with its header attached.");
  const sizes = need("sizes").split(/\s+/).map(Number);
  const dimension = Number(need("dimension"));
  if (dimension !== sizes.length || (dimension !== 3 && dimension !== 4))
    throw new FormatError(
      `it has ${dimension} dimensions and ${sizes.length} sizes; a volume has 3, or 4 with a list of values.`,
    );
  const width = dimension === 4 ? sizes[0] : 1;
  const size = sizes.slice(-3) as unknown as Vec3;
  checkGridSize(size);
  if (!(width >= 1 && width * size[0] * size[1] * size[2] <= MOST_VOXELS * 4))
    throw new FormatError(`it has ${width} values for each voxel, more than can be held.`);
  const type = TYPES[need("type").toLowerCase()];
  if (!type) throw new FormatError(`its values are of type "${need("type")}", which is not read.`);
  const count = width * size[0] * size[1] * size[2];
  const isLittle = (fields.get("endian") ?? "little").toLowerCase() !== "big";
  const all = numbersOf(bytes.subarray(from), need("encoding").toLowerCase(), type, count, {
    isLittle,
    skip: Number(fields.get("byte skip") ?? fields.get("byteskip") ?? 0),
  });
  const placed = placedBy(fields, dimension, size);
  const names = namesOf(fields, named, width);
  const { values, odd } = valuesOf(all, names, type, placed.flips, size);
  const notes = odd > 0 ? [`${odd} values that are no numbers were taken as 0.`] : [];
  return {
    kind: "shape",
    shape: shapeOfGrid({ size, spacing: placed.spacing, origin: placed.origin, values }),
    parts: [],
    notes,
  };
}

function headerOf(bytes: Uint8Array) {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, LONGEST_HEADER));
  if (!/^NRRD000[1-5]\r?\n/.test(head)) throw new FormatError("it does not begin as an NRRD file does.");
  const blank = /\r?\n\r?\n/.exec(head);
  if (!blank) throw new FormatError("its header does not end: there is no empty line.");
  const fields = new Map<string, string>();
  const named = new Map<string, string>();
  for (const line of head.slice(0, blank.index).split(/\r?\n/).slice(1)) {
    if (line.startsWith("#")) continue;
    const pair = /^([^:]+):=(.*)$/.exec(line);
    const field = /^([^:]+): *(.*)$/.exec(line);
    if (pair) named.set(pair[1].trim(), pair[2].trim());
    else if (field) fields.set(field[1].trim().toLowerCase(), field[2].trim());
  }
  return { fields, named, from: blank.index + blank[0].length };
}

function numbersOf(
  bytes: Uint8Array,
  encoding: string,
  type: NumberType,
  count: number,
  { isLittle, skip }: { isLittle: boolean; skip: number },
): Float64Array {
  const made = new Float64Array(count);
  const cut = (there: number) =>
    new FormatError(`it holds ${there} values where its sizes ask for ${count}. It may be cut short.`);
  if (["text", "txt", "ascii"].includes(encoding)) {
    const words = new TextDecoder()
      .decode(bytes)
      .trim()
      .split(/[\s,]+/);
    if (words.length < count) throw cut(words.length);
    for (let i = 0; i < count; i++) made[i] = Number(words[i]);
    return made;
  }
  let raw = bytes;
  if (encoding === "gz" || encoding === "gzip") raw = unpacked(bytes, count * type.bytes + Math.max(0, skip));
  else if (encoding !== "raw")
    throw new FormatError(`its values are packed as "${encoding}"; raw, gzip and text are read.`);
  // −1 says that the values are what stands last.
  const begin = skip === -1 ? raw.length - count * type.bytes : Math.max(0, skip);
  if (begin < 0 || raw.length - begin < count * type.bytes)
    throw cut(Math.floor(Math.max(0, raw.length - Math.max(0, begin)) / type.bytes));
  const view = new DataView(raw.buffer, raw.byteOffset + begin);
  for (let i = 0; i < count; i++) made[i] = type.read(view, i * type.bytes, isLittle);
  return made;
}

/** The file's own length field is not believed: room is made for what the header promises, and no more is unpacked. */
function unpacked(bytes: Uint8Array, length: number): Uint8Array {
  try {
    return gunzipSync(bytes, { out: new Uint8Array(length) });
  } catch {
    throw new FormatError("its values cannot be unpacked. It may be damaged or cut short.");
  }
}

interface Grids {
  readonly spacing: Vec3;
  readonly origin: Vec3;
  /** Axes that run from their far end. */
  readonly flips: readonly boolean[];
}

const vectorsIn = (text: string): (number[] | null)[] =>
  (text.match(/none|\([^)]*\)/gi) ?? []).map((part) =>
    part.startsWith("(") ? part.slice(1, -1).split(",").map(Number) : null,
  );

/** @throws FormatError where axes are turned */
function placedBy(fields: ReadonlyMap<string, string>, dimension: number, size: Vec3): Grids {
  const directions = vectorsIn(fields.get("space directions") ?? "").slice(dimension - 3);
  const origin = vectorsIn(fields.get("space origin") ?? "")[0] ?? [0, 0, 0];
  let along = (fields.get("spacings") ?? "").split(/\s+/).slice(-3).map(Number);
  if (directions.length === 3) {
    along = directions.map((direction, a) => {
      const [x = 0, y = 0, z = 0] = direction ?? [1];
      const length = lengthOf(x, y, z);
      const own = direction?.[a] ?? 1;
      if (Math.abs(Math.abs(own) - length) > length * 1e-4)
        throw new FormatError("its axes are turned. Save it with axes along x, y and z.");
      return own;
    });
  }
  const steps = [0, 1, 2].map((a) => (Number.isFinite(along[a]) && along[a] !== 0 ? along[a] : 1));
  return {
    spacing: steps.map(Math.abs) as unknown as Vec3,
    origin: steps.map(
      (step, a) => (Number.isFinite(origin[a]) ? origin[a] : 0) + (step < 0 ? step * (size[a] - 1) : 0),
    ) as unknown as Vec3,
    flips: steps.map((step) => step < 0),
  };
}

/** What each value of a voxel is called: by labels as we write them, or what a list of so many usually is. */
function namesOf(
  fields: ReadonlyMap<string, string>,
  named: ReadonlyMap<string, string>,
  width: number,
): string[] {
  const said = named.get("values") ?? /"([^"]*)"/.exec(fields.get("labels") ?? "")?.[1] ?? "";
  const words = said.split(/\s+/).filter(Boolean);
  if (words.length === width && words.every((word) => /^[a-z][\w-]*(\.[xyzw])?$/i.test(word))) return words;
  if (width === 1) return [""];
  const all = ["x", "y", "z", "w"];
  if (width === 3 || width === 4)
    return all
      .slice(0, width)
      .map((axis) => `${/vector/i.test(fields.get("kinds") ?? "") ? "velocity" : "color"}.${axis}`);
  return ["", ...Array.from({ length: width - 1 }, (_, i) => `value${i + 2}`)];
}

const KINDS: Readonly<Record<number, ColumnKind>> = { 1: "number", 3: "vector", 4: "color" };

/** Values by their names, each from 0 to 1 where the file has whole numbers; and the one that says where a surface is. */
function valuesOf(
  all: Float64Array,
  names: readonly string[],
  { white, read }: NumberType,
  flips: readonly boolean[],
  size: Vec3,
): { values: VoxelGrid["values"]; odd: number } {
  const width = names.length;
  const count = all.length / width;
  const isWhole = read !== FLOAT.read && read !== DOUBLE.read;
  let odd = 0;
  const laneOf = (c: number): Float32Array => {
    const lane = new Float64Array(count);
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = 0; i < count; i++) {
      const v = all[flipped(i, flips, size) * width + c];
      lane[i] = v;
      low = Math.min(low, v);
      high = Math.max(high, v);
    }
    if (isWhole) {
      const from = white ? 0 : low;
      const span = white ?? Math.max(1, high - low);
      for (let i = 0; i < count; i++) lane[i] = (lane[i] - from) / span;
    }
    const { values, odd: more } = finite(lane);
    odd += more;
    return values;
  };
  const groups = new Map<string, Float32Array[]>();
  for (const [c, name] of names.entries()) {
    const [own] = name.split(".");
    groups.set(own, [...(groups.get(own) ?? []), laneOf(c)]);
  }
  const values: Record<string, VoxelGrid["values"][string]> = {};
  for (const [name, lanes] of groups) {
    const kind = KINDS[lanes.length];
    if (name && kind) values[name] = { kind: name === "color" ? "color" : kind, lanes };
  }
  if (values.color?.lanes.length === 3)
    values.color = { kind: "color", lanes: [...values.color.lanes, new Float32Array(count).fill(1)] };
  if (!values.distance && !values.density) {
    const level = groups.get("")?.[0] ?? meanOf([...groups.values()].flat(), count);
    values[areDistances(level) && !isWhole ? "distance" : "density"] = { kind: "number", lanes: [level] };
  }
  return { values, odd };
}

function flipped(i: number, flips: readonly boolean[], [nx, ny, nz]: Vec3): number {
  if (!flips.includes(true)) return i;
  const at = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
  const [x, y, z] = at.map((v, a) => (flips[a] ? [nx, ny, nz][a] - 1 - v : v));
  return (z * ny + y) * nx + x;
}

/** How much there is of all values together, by the mean of their sizes. */
function meanOf(lanes: readonly Float32Array[], count: number): Float32Array {
  const mean = new Float32Array(count);
  for (const lane of lanes) for (let i = 0; i < count; i++) mean[i] += Math.abs(lane[i]) / lanes.length;
  return mean;
}
