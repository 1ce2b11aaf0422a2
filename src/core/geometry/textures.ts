/**
 * Sets of pictures that lie on surfaces. Elements name the one that lies on them by a number (`textures` of surface-look.ts), which follows from
 * what is in the set: so it means the same after any node, on any thread, and in states that come back from disk.
 */
import type { Picture } from "../maths/picture";
import { hash3 } from "../maths/random";

/** What pictures may say of a surface: each is times what its material says, but `bump`, which is how high it is. */
export const TEXTURE_USES = ["color", "roughness", "metalness", "emission", "bump"] as const;
export type TextureUse = (typeof TEXTURE_USES)[number];

/** By places on pictures (UV), or by planes that stand on the axes of the mesh, as if it were wrapped from six sides. */
export const TEXTURE_LIES = ["by UV", "from six sides"] as const;

/** What becomes of the colour below: covered where the picture is not clear, multiplied, or nothing is there at all where the picture is clear. */
export const TEXTURE_COVERS = ["over its colour", "times its colour", "cut out"] as const;

export interface TextureSettings {
  readonly lies: (typeof TEXTURE_LIES)[number];
  readonly covers: (typeof TEXTURE_COVERS)[number];
  /** Units of the mesh that a picture is wide from six sides. */
  readonly size: number;
  /** How often it lies there by UV, along both. */
  readonly times: number;
  /** How high white is, units of the mesh; black is 0. */
  readonly height: number;
}

export interface TextureSet extends TextureSettings {
  readonly number: number;
  readonly pictures: Readonly<Partial<Record<TextureUse, Picture>>>;
}

/** Sets of a piece that are shown at most. */
export const MOST_TEXTURES = 12;

/** Samples of a picture that count for its number at most. */
const SAMPLED = 4096;

function markOf({ samples, width, height, light }: Picture): number {
  const step = Math.max(1, Math.floor(samples.length / SAMPLED)) | 1;
  let mark = hash3(width, height, light === undefined ? 0 : 1);
  for (let i = 0; i < samples.length; i += step) mark = hash3(mark, samples[i], i);
  return mark;
}

const marks = new WeakMap<Picture, number>();

function knownMark(picture: Picture): number {
  let mark = marks.get(picture);
  if (mark === undefined) marks.set(picture, (mark = markOf(picture)));
  return mark;
}

/** Null without any picture. Its number is whole, from 1 to 2²⁴, exact in float32. */
export function textureSet(pictures: TextureSet["pictures"], settings: TextureSettings): TextureSet | null {
  const uses = TEXTURE_USES.filter((use) => pictures[use]);
  if (uses.length === 0) return null;
  const { lies, covers, size, times, height } = settings;
  const said = [lies, covers, size, times, height, ...uses].join("|");
  let number = 0;
  for (let i = 0; i < said.length; i++) number = hash3(number, said.charCodeAt(i), i);
  for (const use of uses) number = hash3(number, knownMark(pictures[use] as Picture), 0);
  return { lies, covers, size, times, height, pictures, number: (number >>> 8) + 1 };
}
