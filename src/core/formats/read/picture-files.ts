/** PNG (ISO/IEC 15948) through fast-png and JPEG (ITU-T T.81) through jpeg-js. Both are taken as sRGB. */
import { convertIndexedToRgb, decode } from "fast-png";
import jpeg from "jpeg-js";
import type { Picture } from "../../maths/picture";
import { FormatError } from "../format-error";

/** Pixels read at most; a small file can promise far more than memory holds. */
const MAX_PIXELS = 50_000_000;
const PNG_SIGNATURE = [137, 80, 78, 71, 13, 10, 26, 10];

/** @throws FormatError, or the library's error for a damaged file */
export function readPng(bytes: Uint8Array): Picture {
  if (PNG_SIGNATURE.some((byte, i) => bytes[i] !== byte))
    throw new FormatError("it does not begin as a PNG file does.");
  if (bytes.length < 33) throw new FormatError("its header is cut short.");
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  checkSize(view.getUint32(16), view.getUint32(20));
  const png = decode(bytes, { checkCrc: true });
  const { width, height } = png;
  const palette = png.palette !== undefined;
  const data = palette ? convertIndexedToRgb(png) : png.data;
  const channels = data.length / (width * height);
  const depth = palette ? 8 : png.depth;
  return { width, height, samples: toRgba(data, width * height, channels, depth, png.transparency) };
}

/** Any of grey, grey and alpha, RGB and RGBA of any depth to RGBA of 8 or 16 bits. */
function toRgba(
  data: ArrayLike<number>,
  pixels: number,
  channels: number,
  depth: number,
  clear: ArrayLike<number> | undefined,
): Uint8Array | Uint16Array {
  if (![1, 2, 3, 4].includes(channels)) throw new FormatError(`it has ${channels} samples a pixel.`);
  const samples = depth === 16 ? new Uint16Array(pixels * 4) : new Uint8Array(pixels * 4);
  const full = depth === 16 ? 65535 : 255;
  const stretch = full / (2 ** depth - 1);
  const colors = channels < 3 ? 1 : 3;
  for (let i = 0; i < pixels; i++) {
    const from = i * channels;
    // A key colour is transparent (ISO/IEC 15948 §11.3.2.1).
    let keyed = clear !== undefined && channels === colors;
    for (let c = 0; c < 3; c++) {
      const sample = data[from + (colors === 1 ? 0 : c)];
      samples[i * 4 + c] = sample * stretch;
      if (keyed && clear && sample !== clear[colors === 1 ? 0 : c]) keyed = false;
    }
    samples[i * 4 + 3] = keyed ? 0 : channels > colors ? data[from + colors] * stretch : full;
  }
  return samples;
}

/** @throws FormatError, or the library's error for a damaged file */
export function readJpeg(bytes: Uint8Array): Picture {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) throw new FormatError("it does not begin as a JPEG file does.");
  const size = jpegSize(bytes);
  if (!size) throw new FormatError("it names no size.");
  checkSize(size.width, size.height);
  const { width, height, data } = jpeg.decode(bytes, {
    useTArray: true,
    formatAsRGBA: true,
    tolerantDecoding: false,
    maxMemoryUsageInMB: 2048,
    maxResolutionInMP: MAX_PIXELS / 1e6,
  });
  return { width, height, samples: data };
}

/** Width and height from the frame header (T.81 §B.2.2), found by walking the segments. */
function jpegSize(bytes: Uint8Array): { width: number; height: number } | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 2;
  while (at + 9 < bytes.length) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1];
    const frame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (frame) return { height: view.getUint16(at + 5), width: view.getUint16(at + 7) };
    at += marker === 0xff ? 1 : 2 + view.getUint16(at + 2);
  }
  return null;
}

function checkSize(width: number, height: number): void {
  if (width === 0 || height === 0) throw new FormatError("it has no pixels.");
  if (width * height > MAX_PIXELS) {
    throw new FormatError(
      `it has ${width} × ${height} pixels; the limit is ${MAX_PIXELS / 1e6} million. Make it smaller first.`,
    );
  }
}
