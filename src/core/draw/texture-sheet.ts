/** Pictures that lie on surfaces, as a graphics card takes them: square layers of one size, and numbers for each set of them. */
import {
  MOST_TEXTURES,
  TEXTURE_COVERS,
  TEXTURE_LIES,
  TEXTURE_USES,
  type TextureSet,
  type TextureUse,
} from "../geometry/textures";
import { srgbByte } from "../maths/color";
import { linearTable, type Picture, plainTable } from "../maths/picture";
import { resampled } from "../maths/picture-resampled";

/** Pixels across a layer at most: half of that where there are more than `FEW` layers, so that they stay under 64 MB. */
export const MOST_ACROSS = 2048;
const FEW = 4;
/** Layers at most. */
const MOST_LAYERS = 16;

/** Numbers of a set: its number, its layer for each use (−1 for none), then how it lies, covers, repeats a unit, width to height from six sides, height, width to height on dots. */
export const SET_WIDTH = 12;

export interface TextureSheet {
  /** Pixels across each layer, and down. */
  readonly across: number;
  /** sRGB and straight alpha, 8 bits; what is not a colour is encoded as if it were one. */
  readonly layers: Uint8Array;
  readonly count: number;
  readonly sets: Float32Array;
}

const isColor = (use: TextureUse): boolean => use === "color" || use === "emission";

/** Of sets beyond the most that are taken, nothing is shown. */
export function textureSheet(sets: readonly TextureSet[]): TextureSheet | null {
  const wanted: { readonly picture: Picture; readonly use: TextureUse }[] = [];
  const layerOf = (use: TextureUse, picture: Picture | undefined): number => {
    if (!picture) return -1;
    const known = wanted.findIndex((one) => one.picture === picture && isColor(one.use) === isColor(use));
    if (known >= 0) return known;
    return wanted.length < MOST_LAYERS ? wanted.push({ picture, use }) - 1 : -1;
  };
  const shown = sets.slice(0, MOST_TEXTURES);
  if (shown.length === 0) return null;
  const numbers = shown.flatMap(({ number, pictures, lies, covers, size, times, height }) => {
    const first = Object.values(pictures)[0] as Picture;
    const isWrapped = lies === "from six sides";
    return [
      number,
      ...TEXTURE_USES.map((use) => layerOf(use, pictures[use])),
      TEXTURE_LIES.indexOf(lies),
      TEXTURE_COVERS.indexOf(covers),
      isWrapped ? 1 / size : times,
      isWrapped ? first.width / first.height : 1,
      height,
      first.width / first.height,
    ];
  });
  const limit = wanted.length > FEW ? MOST_ACROSS / 2 : MOST_ACROSS;
  const largest = Math.max(...wanted.flatMap(({ picture: { width, height } }) => [width, height]));
  let across = 1;
  while (across < largest && across < limit) across *= 2;
  const layers = new Uint8Array(across * across * 4 * wanted.length);
  for (const [l, { picture, use }] of wanted.entries())
    writeLayer(picture, use, across, layers.subarray(l * across * across * 4));
  return { across, layers, count: wanted.length, sets: Float32Array.from(numbers) };
}

function writeLayer(picture: Picture, use: TextureUse, across: number, into: Uint8Array): void {
  const pixels = resampled(
    picture,
    across,
    across,
    isColor(use) ? linearTable(picture) : plainTable(picture),
  );
  for (let at = 0; at < across * across * 4; at += 4) {
    const alpha = pixels[at + 3];
    for (let c = 0; c < 3; c++) {
      into[at + c] = alpha > 0 ? srgbByte(pixels[at + c] / alpha) : 0;
    }
    into[at + 3] = Math.round(Math.min(1, alpha) * 255);
  }
}
