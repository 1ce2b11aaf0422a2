/** JPEG (ITU-T T.81) through jpeg-js, taken as sRGB. */
import jpeg from "jpeg-js";
import type { Picture } from "../../maths/picture";
import { FormatError } from "../format-error";
import { checkPictureSize } from "./picture-size";

/** Megabytes that decoding may take; the library refuses what would take more. */
const MOST_MEGABYTES = 2048;

/**
 * Pixels that a byte can hold at most: of every 8 × 8 block even the barest scan has one bit of its mean (T.81 § F.1.2.1), so
 * 64 pixels a bit.
 */
const PIXELS_A_BYTE = 8 * 64;

/** @throws FormatError */
export function readJpeg(bytes: Uint8Array): Picture {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) throw new FormatError("it does not begin as a JPEG file does.");
  const size = sizeOf(bytes);
  if (!size) throw new FormatError("it names no size.");
  checkPictureSize(size.width, size.height);
  if (size.width * size.height > bytes.length * PIXELS_A_BYTE)
    throw new FormatError(
      `it promises ${size.width} × ${size.height} pixels, more than its ${bytes.length} bytes can hold.`,
    );
  try {
    const { width, height, data } = jpeg.decode(bytes, {
      useTArray: true,
      formatAsRGBA: true,
      tolerantDecoding: false,
      maxMemoryUsageInMB: MOST_MEGABYTES,
      maxResolutionInMP: (size.width * size.height) / 1e6 + 1,
    });
    return { width, height, samples: data };
  } catch {
    // The library tells faults by the names of its own parts.
    throw new FormatError(
      "its picture data is damaged, or of a kind that is not read (arithmetic coding, 12 bits).",
    );
  }
}

/** Width and height from the frame header (T.81 § B.2.2), found by walking the segments. */
function sizeOf(bytes: Uint8Array): { width: number; height: number } | null {
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
