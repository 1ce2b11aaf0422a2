/** A picture as stored: rows from the top, 4 samples a pixel (sRGB red, green, blue and straight alpha). */
import { decodeSrgb } from "./color";

export interface Picture {
  readonly width: number;
  readonly height: number;
  /** 8 or 16 bits a sample. */
  readonly samples: Uint8Array | Uint16Array;
}

/**
 * What is read beyond the picture's edges: its border, itself again, itself mirrored, or transparent black; and the kernels that
 * read so.
 */
export const PICTURE_KERNELS = {
  hold: "pictureHeld",
  repeat: "pictureRepeated",
  mirrored: "pictureMirrored",
  nothing: "pictureAlone",
} as const;

export type Outside = keyof typeof PICTURE_KERNELS;

/** In the order in which they are offered. */
export const OUTSIDE = Object.keys(PICTURE_KERNELS) as Outside[];

const tables = new Map<number, Float32Array>();

/** Linear light of every sample value. */
export function linearTable({ samples }: Picture): Float32Array {
  const size = samples instanceof Uint16Array ? 65536 : 256;
  let table = tables.get(size);
  if (!table) {
    table = Float32Array.from({ length: size }, (_, i) => decodeSrgb(i / (size - 1)));
    tables.set(size, table);
  }
  return table;
}
