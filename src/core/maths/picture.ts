/** A picture as stored: rows from the top, 4 samples a pixel (red, green, blue and straight alpha). */
import { decodeSrgb } from "./color";
import { fromHalf } from "./half";

export interface Picture {
  readonly width: number;
  readonly height: number;
  /** 8 or 16 bits a sample. */
  readonly samples: Uint8Array | Uint16Array;
  /** What samples of colours are: sRGB unless they are halves (IEEE 754 binary16) of linear light, which may be above 1. Alpha is a share of all bits. */
  readonly light?: "halves";
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

/** What a sample of all there is is written as. */
export const greatestSample = ({ samples }: Pick<Picture, "samples">): number =>
  samples instanceof Uint16Array ? 65535 : 255;

const tables = new Map<string, Float32Array>();

/** Linear light of every sample value. */
export function linearTable({ samples, light }: Picture): Float32Array {
  const most = greatestSample({ samples });
  return knownTable(`${most} ${light ?? "sRGB"}`, most, (i) =>
    light === "halves" ? fromHalf(i) : decodeSrgb(i / most),
  );
}

/** Of pictures that are no colours: every sample value as the number that it stands for. */
export function plainTable(picture: Picture): Float32Array {
  if (picture.light) return linearTable(picture);
  const most = greatestSample(picture);
  return knownTable(`${most} plain`, most, (i) => i / most);
}

function knownTable(name: string, most: number, value: (sample: number) => number): Float32Array {
  let table = tables.get(name);
  if (!table) tables.set(name, (table = Float32Array.from({ length: most + 1 }, (_, i) => value(i))));
  return table;
}
