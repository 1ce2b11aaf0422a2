/**
 * OpenEXR ("OpenEXR File Layout", Academy Software Foundation): rows of pixels with any number of named channels of 32-bit floats, packed by
 * zlib in blocks of 16 rows. Layers are channels whose names begin alike: `normal.X`.
 */
import { zlibSync } from "fflate";

export interface ExrChannel {
  /** R, G, B, A and Z are what everybody knows. */
  readonly name: string;
  /** A number a pixel, rows from the top. */
  readonly values: Float32Array;
}

const MAGIC = 20_000_630;
const VERSION = 2;
/** The kind of the numbers (§ Predefined attribute types). */
const FLOAT = 2;
/** Packed by zlib, so many rows together. */
const ZIP = 3;
const BLOCK_ROWS = 16;
const BYTES = 4;

class Writer {
  private readonly parts: number[] = [];

  bytes(...values: readonly number[]): this {
    this.parts.push(...values);
    return this;
  }
  text(words: string): this {
    return this.bytes(...new TextEncoder().encode(words), 0);
  }
  int(...values: readonly number[]): this {
    return this.bytes(...new Uint8Array(Int32Array.from(values).buffer));
  }
  float(...values: readonly number[]): this {
    return this.bytes(...new Uint8Array(Float32Array.from(values).buffer));
  }
  attribute(name: string, kind: string, value: Writer): this {
    return this.text(name)
      .text(kind)
      .int(value.parts.length)
      .bytes(...value.parts);
  }
  get done(): Uint8Array {
    return Uint8Array.from(this.parts);
  }
}

function headerOf(width: number, height: number, channels: readonly ExrChannel[]): Uint8Array {
  const list = new Writer();
  for (const { name } of channels) list.text(name).int(FLOAT, 0, 1, 1);
  const window = () => new Writer().int(0, 0, width - 1, height - 1);
  return new Writer()
    .int(MAGIC, VERSION)
    .attribute("channels", "chlist", list.bytes(0))
    .attribute("compression", "compression", new Writer().bytes(ZIP))
    .attribute("dataWindow", "box2i", window())
    .attribute("displayWindow", "box2i", window())
    .attribute("lineOrder", "lineOrder", new Writer().bytes(0))
    .attribute("pixelAspectRatio", "float", new Writer().float(1))
    .attribute("screenWindowCenter", "v2f", new Writer().float(0, 0))
    .attribute("screenWindowWidth", "float", new Writer().float(1))
    .bytes(0).done;
}

/** Halves apart, and each byte as its step from the one before: what zlib packs well (ImfZip). */
function prepared(bytes: Uint8Array): Uint8Array {
  const apart = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0; i < bytes.length; i++) apart[(i >> 1) + (i & 1 ? half : 0)] = bytes[i];
  for (let i = apart.length - 1; i > 0; i--) apart[i] = apart[i] - apart[i - 1] + 128;
  return apart;
}

/** Rows of a block: each channel's numbers of a row, then the next row. */
function blockOf(width: number, top: number, rows: number, channels: readonly ExrChannel[]): Uint8Array {
  const plain = new Uint8Array(width * rows * channels.length * BYTES);
  for (let row = 0; row < rows; row++)
    for (const [c, { values }] of channels.entries()) {
      const from = (top + row) * width;
      const line = values.slice(from, from + width);
      plain.set(new Uint8Array(line.buffer), (row * channels.length + c) * width * BYTES);
    }
  const packed = zlibSync(prepared(plain));
  // What would grow is left as it is.
  const data = packed.length < plain.length ? packed : plain;
  const block = new Uint8Array(8 + data.length);
  new DataView(block.buffer).setInt32(0, top, true);
  new DataView(block.buffer).setInt32(4, data.length, true);
  block.set(data, 8);
  return block;
}

/** @param channels in any order; each of width × height numbers */
export function writeExr(
  width: number,
  height: number,
  channels: readonly ExrChannel[],
): Uint8Array<ArrayBuffer> {
  // The format wants them by the alphabet.
  const sorted = [...channels].sort((a, b) => (a.name < b.name ? -1 : 1));
  const header = headerOf(width, height, sorted);
  const blocks: Uint8Array[] = [];
  for (let top = 0; top < height; top += BLOCK_ROWS)
    blocks.push(blockOf(width, top, Math.min(BLOCK_ROWS, height - top), sorted));
  const table = header.length + blocks.length * 8;
  const file = new Uint8Array(table + blocks.reduce((sum, { length }) => sum + length, 0));
  const view = new DataView(file.buffer);
  file.set(header);
  let at = table;
  for (const [b, block] of blocks.entries()) {
    view.setBigUint64(header.length + b * 8, BigInt(at), true);
    file.set(block, at);
    at += block.length;
  }
  return file;
}
