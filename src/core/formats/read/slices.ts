/**
 * A stack of pictures as a volume, from one ZIP (PKWARE APPNOTE 6.3.3): pictures in the order of their names, the first one lowest on z, rows from the
 * greatest y on. A `slices.txt` as it leaves here says how large voxels are and what black and white stand for; without one the stack's longest
 * side is two units, and brightness from 0 to 1 is density.
 */
import { unzipSync } from "fflate";
import { greatestSample, type Picture } from "../../maths/picture";
import type { Vec3 } from "../../maths/vector";
import { FormatError } from "../format-error";
import type { ShapeAsset } from "./asset";
import { readExrNumbers } from "./bright-picture";
import { readJpeg } from "./jpeg";
import { readPng } from "./png";
import { checkGridSize, finite, MOST_VOXELS, shapeOfGrid } from "./voxel-grid";

/** Units that the longest side is where nothing is said. */
const USUAL_SIDE = 2;
/** Bytes unpacked at most: of pictures that are hardly packed any further. */
const MOST_UNPACKED = 1024 ** 3;

interface Slice {
  readonly width: number;
  readonly height: number;
  /** Rows from the bottom: brightness from 0 to 1, or the values themselves. */
  readonly values: Float32Array;
  readonly areThemselves?: boolean;
}

const READERS: Readonly<Record<string, (bytes: Uint8Array) => Slice>> = {
  png: (bytes) => brightnessOf(readPng(bytes)),
  jpg: (bytes) => brightnessOf(readJpeg(bytes)),
  jpeg: (bytes) => brightnessOf(readJpeg(bytes)),
  exr: (bytes) => ({ ...readExrNumbers(bytes), areThemselves: true }),
};

const endingOf = (name: string) => name.slice(name.lastIndexOf(".") + 1).toLowerCase();

/** @throws FormatError */
export function readSlices(bytes: Uint8Array): ShapeAsset {
  const files = unzipped(bytes);
  const names = Object.keys(files)
    .filter((name) => endingOf(name) in READERS)
    .sort((a, b) => a.localeCompare(b, "en", { numeric: true }));
  if (names.length === 0)
    throw new FormatError("it holds no pictures: a stack is PNG, JPEG or OpenEXR files, one for each slice.");
  const said = saidOf(files["slices.txt"]);
  let size: Vec3 | null = null;
  let values = new Float32Array(0);
  for (const [k, name] of names.entries()) {
    const slice = sliceOf(name, files[name]);
    if (!size) {
      size = [slice.width, slice.height, names.length];
      checkGridSize(size);
      values = new Float32Array(size[0] * size[1] * size[2]);
    }
    if (slice.width !== size[0] || slice.height !== size[1])
      throw new FormatError(
        `"${name}" is ${slice.width} × ${slice.height} pixels, and the first slice ${size[0]} × ${size[1]}. All have to be of one size.`,
      );
    layIn(values, slice, k, said);
  }
  const [nx, ny, nz] = size as Vec3;
  const voxel = said.voxel ?? USUAL_SIDE / Math.max(nx, ny, nz);
  const { values: good, odd } = finite(values);
  return {
    kind: "shape",
    shape: shapeOfGrid({
      size: [nx, ny, nz],
      spacing: [voxel, voxel, voxel],
      origin: said.first ?? ([nx, ny, nz].map((n) => -((n - 1) / 2) * voxel) as unknown as Vec3),
      values: { [said.value ?? "density"]: { kind: "number", lanes: [good] } },
    }),
    parts: [],
    notes: odd > 0 ? [`${odd} values that are no numbers were taken as 0.`] : [],
  };
}

/** @throws FormatError before more is unpacked than can be held */
function unzipped(bytes: Uint8Array): Record<string, Uint8Array> {
  let all = 0;
  try {
    return unzipSync(bytes, {
      filter({ name, originalSize }) {
        if (!(endingOf(name) in READERS) && name !== "slices.txt") return false;
        all += originalSize;
        if (all > MOST_UNPACKED)
          throw new FormatError(
            `it would unpack to more than ${Math.round(MOST_UNPACKED / 1024 ** 2)} MB; at most ${Math.floor(MOST_VOXELS / 1e6)} million voxels are read. Make it coarser first.`,
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError("it cannot be unpacked: its parts do not fit together. It may be cut short.");
  }
}

function sliceOf(name: string, bytes: Uint8Array): Slice {
  try {
    return READERS[endingOf(name)](bytes);
  } catch (error) {
    throw new FormatError(`"${name}": ${(error as Error).message}`);
  }
}

interface Said {
  readonly value?: "distance" | "density";
  readonly black: number;
  readonly white: number;
  readonly voxel?: number;
  readonly first?: Vec3;
}

function saidOf(bytes: Uint8Array | undefined): Said {
  const lines = new Map(
    (bytes ? new TextDecoder().decode(bytes) : "").split("\n").flatMap((line): [string, string][] => {
      const colon = line.indexOf(":");
      return colon > 0 ? [[line.slice(0, colon).trim(), line.slice(colon + 1).trim()]] : [];
    }),
  );
  const number = (name: string): number | undefined => {
    const value = Number.parseFloat(lines.get(name) ?? "");
    return Number.isFinite(value) ? value : undefined;
  };
  const first = lines.get("first voxel at")?.split(/\s+/).map(Number);
  const voxel = number("voxel");
  const value = lines.get("value");
  return {
    value: value === "distance" || value === "density" ? value : undefined,
    black: number("black") ?? 0,
    white: number("white") ?? 1,
    voxel: voxel !== undefined && voxel > 0 ? voxel : undefined,
    first: first?.length === 3 && first.every(Number.isFinite) ? (first as unknown as Vec3) : undefined,
  };
}

/** As it is stored, of which as much counts as is not clear. */
function brightnessOf(picture: Picture): Slice {
  const { width, height, samples } = picture;
  const most = greatestSample(picture);
  const values = new Float32Array(width * height);
  for (let row = 0; row < height; row++)
    for (let i = 0; i < width; i++) {
      const from = (row * width + i) * 4;
      const bright = (samples[from] + samples[from + 1] + samples[from + 2]) / 3 / most;
      values[(height - 1 - row) * width + i] = bright * (samples[from + 3] / most);
    }
  return { width, height, values };
}

function layIn(values: Float32Array, slice: Slice, k: number, { black, white }: Said): void {
  const from = k * slice.width * slice.height;
  for (let i = 0; i < slice.values.length; i++)
    values[from + i] = slice.areThemselves ? slice.values[i] : black + (white - black) * slice.values[i];
}
