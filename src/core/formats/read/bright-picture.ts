/**
 * Pictures whose values may be above 1, as of light: Radiance (.hdr, G. Ward, "Real pixels", 1991) and OpenEXR. Both are read by three.js; what
 * is not a number is taken as black and counted.
 */
import { DataUtils, FloatType } from "three";
import { EXRLoader } from "three/examples/jsm/loaders/EXRLoader.js";
import { HDRLoader } from "three/examples/jsm/loaders/HDRLoader.js";
import { tick } from "../../cancelling";
import { fromHalf } from "../../maths/half";
import type { Picture } from "../../maths/picture";
import { FormatError } from "../format-error";
import type { PictureAsset } from "./asset";
import { checkPictureSize } from "./picture-size";

/** Halves: those with all bits of the exponent are no numbers, or endless. */
const EXPONENT = 0x7c00;
const MANTISSA = 0x03ff;
const SIGN = 0x8000;
const GREATEST = 0x7bff;
const OPAQUE = 0xffff;

interface Read {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array | Float32Array;
}

/** What the library says, without its own names. */
function readBy(read: () => unknown): Read {
  try {
    return read() as Read;
  } catch (error) {
    const said = (error as Error).message.replace(/^THREE\.\w+: */, "").replace(/^[A-Z][\w ]*: */, "");
    throw new FormatError(`it could not be read: ${said || "its parts do not fit together"}.`);
  }
}

const bufferOf = (bytes: Uint8Array): ArrayBuffer =>
  bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;

/** The size stands in words before the pixels: it is looked at before anything is made of it. */
function checkRadianceSize(bytes: Uint8Array): void {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 4096));
  if (!head.startsWith("#?")) throw new FormatError("it does not begin as a Radiance picture does.");
  const size = /^[-+]Y (\d+) [-+]X (\d+)$/m.exec(head);
  if (!size) throw new FormatError("it does not say how many pixels it has (a line as -Y 512 +X 1024).");
  checkPictureSize(Number(size[2]), Number(size[1]));
}

/** @throws FormatError */
export function readRadiance(bytes: Uint8Array): PictureAsset {
  checkRadianceSize(bytes);
  const loader = new HDRLoader().setDataType(FloatType);
  const { width, height, data } = readBy(() => loader.parse(bufferOf(bytes)));
  // Ward's mantissas are parts of 256; the library takes them as parts of 255.
  const halves = Uint16Array.from(data, (v) => DataUtils.toHalfFloat(Math.min((v * 255) / 256, MOST)));
  for (let i = 3; i < halves.length; i += 4) halves[i] = ONE;
  return taken({ width, height, data: halves });
}

const MOST = fromHalf(GREATEST);

const EXR_MARK = [0x76, 0x2f, 0x31, 0x01];

/** The window of the pixels, as four whole numbers behind its name and kind. */
function checkExrSize(bytes: Uint8Array): void {
  if (EXR_MARK.some((byte, i) => bytes[i] !== byte))
    throw new FormatError("it does not begin as an OpenEXR picture does.");
  const name = "dataWindow\0box2i\0";
  const at = new TextDecoder("latin1").decode(bytes.subarray(0, 65_536)).indexOf(name);
  if (at < 0 || at + name.length + 20 > bytes.length) throw new FormatError("its header is cut short.");
  const view = new DataView(bytes.buffer, bytes.byteOffset + at + name.length + 4);
  const [left, top, right, bottom] = [0, 4, 8, 12].map((b) => view.getInt32(b, true));
  checkPictureSize(Math.max(0, right - left + 1), Math.max(0, bottom - top + 1));
}

/** @throws FormatError */
export function readExr(bytes: Uint8Array): PictureAsset {
  checkExrSize(bytes);
  const { width, height, data } = readBy(() => new EXRLoader().parse(bufferOf(bytes)));
  const channels = data.length / (width * height);
  // Rows come from the bottom, and grey pictures have one number a pixel.
  const upright = new Uint16Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const from = ((height - 1 - y) * width + x) * channels;
      const to = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) upright[to + c] = data[from + (channels < 3 ? 0 : c)];
      upright[to + 3] = channels === 4 ? data[from + 3] : ONE;
    }
  return taken({ width, height, data: upright });
}

/** The first value of each pixel as it stands in the file, rows from the bottom. @throws FormatError */
export function readExrNumbers(bytes: Uint8Array): {
  readonly width: number;
  readonly height: number;
  readonly values: Float32Array;
} {
  checkExrSize(bytes);
  const loader = new EXRLoader().setDataType(FloatType);
  const { width, height, data } = readBy(() => loader.parse(bufferOf(bytes)));
  const channels = data.length / (width * height);
  return {
    width,
    height,
    values: Float32Array.from({ length: width * height }, (_, i) => data[i * channels]),
  };
}

const ONE = 0x3c00;

/** @param data halves, red, green, blue and alpha, rows from the top; written to */
function taken({ width, height, data }: Read & { readonly data: Uint16Array }): PictureAsset {
  let bad = 0;
  for (let i = 0; i < data.length; i += 4) {
    if (i % 65_536 === 0) tick(16_384);
    let isBad = false;
    for (let c = 0; c < 3; c++) {
      const bits = data[i + c];
      if ((bits & EXPONENT) === EXPONENT) {
        isBad ||= (bits & MANTISSA) !== 0;
        data[i + c] = (bits & MANTISSA) !== 0 || bits & SIGN ? 0 : GREATEST;
      } else if (bits & SIGN) data[i + c] = 0;
    }
    if (isBad) bad++;
    const alpha = fromHalf(data[i + 3]);
    data[i + 3] = alpha >= 0 ? Math.round(Math.min(1, alpha) * OPAQUE) : 0;
  }
  const picture: Picture = { width, height, samples: data, light: "halves" };
  const notes =
    bad > 0
      ? [`${bad} of its ${width * height} pixels are not numbers; they are taken as black.`]
      : undefined;
  return { kind: "picture", picture, notes };
}
