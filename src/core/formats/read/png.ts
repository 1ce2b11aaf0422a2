/**
 * PNG (ISO/IEC 15948:2004) of any colour type, depth and interlacing, taken as sRGB. The stream is unpacked by fflate, no further
 * than to what the header promises: a small file cannot ask for more memory than its picture takes.
 */
import { Unzlib } from "fflate";
import { tick } from "../../cancelling";
import type { Picture } from "../../maths/picture";
import { FormatError } from "../format-error";
import { checkPictureSize } from "./picture-size";

const SIGNATURE = [137, 80, 78, 71, 13, 10, 26, 10];

/** Samples a pixel by colour type (§ 11.2.2), and the depths each may have. */
const TYPES: Readonly<Record<number, { readonly samples: number; readonly depths: readonly number[] }>> = {
  0: { samples: 1, depths: [1, 2, 4, 8, 16] },
  2: { samples: 3, depths: [8, 16] },
  3: { samples: 1, depths: [1, 2, 4, 8] },
  4: { samples: 2, depths: [8, 16] },
  6: { samples: 4, depths: [8, 16] },
};
const INDEXED = 3;

interface Header {
  readonly width: number;
  readonly height: number;
  readonly depth: number;
  readonly type: number;
  readonly interlaced: boolean;
}

/** The parts of a picture that are sent one after the other (§ 8.2): first column and row, steps between them. */
const WHOLE = [[0, 0, 1, 1]] as const;
const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;

interface Pass {
  readonly left: number;
  readonly top: number;
  readonly stepX: number;
  readonly stepY: number;
  readonly columns: number;
  readonly rows: number;
  /** Bytes of a row without its filter. */
  readonly bytes: number;
}

/** @throws FormatError */
export function readPng(bytes: Uint8Array): Picture {
  if (SIGNATURE.some((byte, i) => bytes[i] !== byte))
    throw new FormatError("it does not begin as a PNG file does.");
  const { header, palette, clear, data } = chunksOf(bytes);
  const passes = passesOf(header);
  const size = passes.reduce((sum, pass) => sum + (pass.bytes + 1) * pass.rows, 0);
  const lines = unpacked(data, size);
  const { width, height, depth, type } = header;
  const samples = depth === 16 ? new Uint16Array(width * height * 4) : new Uint8Array(width * height * 4);
  const write = writerOf(header, palette, clear, samples);
  let at = 0;
  // Bytes of a whole pixel, at least one: how far back filters look (§ 9.2).
  const back = Math.max(1, (TYPES[type].samples * depth) >> 3);
  for (const pass of passes) {
    for (let row = 0; row < pass.rows; row++) {
      tick(pass.bytes / 16);
      const line = lines.subarray(at + 1, at + 1 + pass.bytes);
      const above = row > 0 ? lines.subarray(at - pass.bytes, at) : null;
      unfilter(lines[at], line, above, back, row);
      for (let column = 0; column < pass.columns; column++)
        write(line, column, (pass.top + row * pass.stepY) * width + pass.left + column * pass.stepX);
      at += pass.bytes + 1;
    }
  }
  return { width, height, samples };
}

function passesOf({ width, height, depth, type, interlaced }: Header): Pass[] {
  return (interlaced ? ADAM7 : WHOLE).flatMap(([left, top, stepX, stepY]) => {
    const columns = Math.ceil((width - left) / stepX);
    const rows = Math.ceil((height - top) / stepY);
    const bytes = Math.ceil((columns * TYPES[type].samples * depth) / 8);
    return columns > 0 && rows > 0 ? [{ left, top, stepX, stepY, columns, rows, bytes }] : [];
  });
}

/** The chunks that matter (§ 11); others may be anything. */
function chunksOf(bytes: Uint8Array) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let header: Header | null = null;
  let palette: Uint8Array | null = null;
  let clear: Uint8Array | null = null;
  const data: Uint8Array[] = [];
  let at = SIGNATURE.length;
  for (;;) {
    if (at + 12 > bytes.length) throw new FormatError("its end is missing.");
    const length = view.getUint32(at);
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (length > bytes.length - at - 12)
      throw new FormatError(
        `its part "${printable(name)}" promises ${length} bytes, and its end is missing.`,
      );
    const content = bytes.subarray(at + 8, at + 8 + length);
    if (!header && name !== "IHDR") throw new FormatError("it does not begin with a header.");
    if (name === "IHDR") header ??= headerOf(content);
    if (crc32(bytes.subarray(at + 4, at + 8 + length)) !== view.getUint32(at + 8 + length))
      throw new FormatError(`its part "${printable(name)}" is damaged: the check sum does not fit.`);
    if (name === "PLTE") palette = content;
    else if (name === "tRNS") clear = content;
    else if (name === "IDAT") data.push(content);
    else if (name === "IEND") break;
    at += length + 12;
  }
  if (!header || data.length === 0) throw new FormatError("it holds no picture.");
  if (header.type === INDEXED && (!palette || palette.length === 0 || palette.length % 3 !== 0))
    throw new FormatError("its colours are numbered, but it has no sound palette.");
  return { header, palette, clear, data };
}

const printable = (name: string): string => name.replace(/[^\x20-\x7e]/g, "?");

function headerOf(content: Uint8Array): Header {
  if (content.length !== 13) throw new FormatError("its header is cut short.");
  const view = new DataView(content.buffer, content.byteOffset, content.byteLength);
  const [width, height] = [view.getUint32(0), view.getUint32(4)];
  const [depth, type, packing, filtering, interlacing] = content.subarray(8);
  checkPictureSize(width, height);
  if (!TYPES[type]?.depths.includes(depth))
    throw new FormatError(`its colour type ${type} with ${depth} bits is not one that PNG has.`);
  if (packing !== 0 || filtering !== 0 || interlacing > 1)
    throw new FormatError("it is packed, filtered or interlaced in a way that PNG does not have.");
  return { width, height, depth, type, interlaced: interlacing === 1 };
}

/** The stream of all rows, `size` bytes. */
function unpacked(parts: readonly Uint8Array[], size: number): Uint8Array {
  const out = new Uint8Array(size);
  let have = 0;
  let ended = false;
  const stream = new Unzlib((part) => {
    if (have + part.length > size)
      throw new FormatError(`it unpacks to more than the ${size} bytes that its header promises.`);
    out.set(part, have);
    have += part.length;
  });
  try {
    for (const [i, part] of parts.entries()) {
      const last = i === parts.length - 1;
      // In pieces: of a stream that swells, no more than a piece's worth is unpacked before it is found out.
      for (let from = 0; from < part.length || (last && !ended); from += PIECE) {
        tick(64);
        ended = last && from + PIECE >= part.length;
        stream.push(part.subarray(from, from + PIECE), ended);
      }
    }
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError(`its picture data is damaged after ${have} of ${size} bytes.`);
  }
  if (have < size) throw new FormatError(`its picture data ends after ${have} of ${size} bytes.`);
  return out;
}

const PIECE = 16 * 1024;

/** Undoes the filter of a row in place (§ 9.2). */
function unfilter(
  filter: number,
  line: Uint8Array,
  above: Uint8Array | null,
  back: number,
  row: number,
): void {
  if (filter > 4) throw new FormatError(`row ${row + 1} has a filter that PNG does not have (${filter}).`);
  if (filter === 0) return;
  for (let i = 0; i < line.length; i++) {
    const left = i >= back ? line[i - back] : 0;
    const up = above ? above[i] : 0;
    const corner = above && i >= back ? above[i - back] : 0;
    if (filter === 1) line[i] += left;
    else if (filter === 2) line[i] += up;
    else if (filter === 3) line[i] += (left + up) >> 1;
    else line[i] += paeth(left, up, corner);
  }
}

/** Of the three neighbours the one that is nearest to left + up − corner (§ 9.4). */
function paeth(left: number, up: number, corner: number): number {
  const [a, b, c] = [Math.abs(up - corner), Math.abs(left - corner), Math.abs(left + up - 2 * corner)];
  return a <= b && a <= c ? left : b <= c ? up : corner;
}

/** Writes one pixel of a row as RGBA of 8 or 16 bits. */
function writerOf(
  { depth, type }: Header,
  palette: Uint8Array | null,
  clear: Uint8Array | null,
  samples: Uint8Array | Uint16Array,
): (line: Uint8Array, column: number, pixel: number) => void {
  const full = depth === 16 ? 65535 : 255;
  const read = (line: Uint8Array, i: number): number => {
    if (depth === 8) return line[i];
    if (depth === 16) return line[i * 2] * 256 + line[i * 2 + 1];
    const bit = i * depth;
    return (line[bit >> 3] >> (8 - depth - (bit & 7))) & (2 ** depth - 1);
  };
  if (type === INDEXED && palette)
    return (line, column, pixel) => {
      const entry = read(line, column);
      if (entry * 3 >= palette.length)
        throw new FormatError(`a pixel has colour ${entry}, and the palette has ${palette.length / 3}.`);
      for (let c = 0; c < 3; c++) samples[pixel * 4 + c] = palette[entry * 3 + c];
      samples[pixel * 4 + 3] = clear?.[entry] ?? 255;
    };
  const { samples: count } = TYPES[type];
  const colors = count < 3 ? 1 : 3;
  const stretch = full / (2 ** depth - 1);
  // A key colour is transparent (§ 11.3.2.1).
  const key =
    clear && count === colors && clear.length >= colors * 2
      ? Array.from({ length: colors }, (_, c) => (clear[c * 2] * 256 + clear[c * 2 + 1]) % 2 ** depth)
      : null;
  return (line, column, pixel) => {
    let keyed = key !== null;
    for (let c = 0; c < 3; c++) {
      const sample = read(line, column * count + (colors === 1 ? 0 : c));
      samples[pixel * 4 + c] = sample * stretch;
      if (keyed && key && sample !== key[colors === 1 ? 0 : c]) keyed = false;
    }
    samples[pixel * 4 + 3] = keyed ? 0 : count > colors ? read(line, column * count + colors) : full;
  };
}

/** ISO/IEC 15948, annex D. */
const CRC_TABLE = Int32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c;
});

function crc32(bytes: Uint8Array): number {
  let c = -1;
  for (let i = 0; i < bytes.length; i++) c = CRC_TABLE[(c ^ bytes[i]) & 255] ^ (c >>> 8);
  return (c ^ -1) >>> 0;
}
