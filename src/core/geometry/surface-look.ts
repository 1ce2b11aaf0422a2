/**
 * What surfaces are made of, as attributes of elements: the metallic-roughness model of glTF 2.0 and of its extensions for stronger emission,
 * clearcoat, transmission, volume, sheen, iridescence, index of refraction, specular and anisotropy, bumps of a noise, and pictures that lie on
 * them. As attributes they take a field, go with what carries them through every node, and meshes of several materials are merged like any
 * others. Their colour is `color`.
 */
import { srgbByte } from "../maths/color";

/**
 * All are from 0 to 1, but `emission`, times the colour; `shading`, one of SHADINGS by its number; `refraction`, the index of refraction; `bump`
 * and `bumpSize`, how high bumps are and how wide, `thickness`, how much of it light goes through, and `attenuation`, the way after which that
 * light has its colour (0 for never), in units of the mesh; `textures`, the number of a set of pictures (geometry/textures.ts), 0 for none;
 * `outline`, times the Stage's width of lines around clones, and `ink`, the colour of such a line (see `packedInk`).
 */
export const LOOK_NAMES = [
  "roughness",
  "metalness",
  "emission",
  "clearcoat",
  "transmission",
  "sheen",
  "iridescence",
  "shading",
  "refraction",
  "anisotropy",
  "bump",
  "bumpSize",
  "specular",
  "thickness",
  "attenuation",
  "textures",
  "outline",
  "ink",
  "clearcoatRoughness",
  "sheenRoughness",
] as const;
export type LookName = (typeof LOOK_NAMES)[number];

/** How light falls on a surface: as it does, not at all, in three steps; or it is nothing but light, added to what is behind. */
export const SHADINGS = ["lit", "flat", "in steps", "light alone"] as const;
export const LIGHT_ALONE = SHADINGS.indexOf("light alone");

/** Numbers of an element, in the order of LOOK_NAMES. */
export const LOOK_WIDTH = LOOK_NAMES.length;

/** For what an element says nothing of: then what it stands on says it, else it is as usual. */
export const UNSAID = -1;

/** What one says counts where it says so, else the other. */
export const saidOr = (own: number, other: number): number => (own < 0 ? other : own);

/** A linear colour as one number that is exact in float32: sRGB, 8 bits each of red, green and blue. */
export const packedInk = (rgb: readonly number[]): number =>
  rgb.slice(0, 3).reduce((packed, light) => packed * 256 + srgbByte(light), 0);

/** Of what nobody says anything of. */
export const USUAL_LOOK: Readonly<Record<LookName, number>> = {
  roughness: 0.62,
  metalness: 0,
  emission: 0,
  clearcoat: 0,
  transmission: 0,
  sheen: 0,
  iridescence: 0,
  shading: 0,
  refraction: 1.5,
  anisotropy: 0,
  bump: 0,
  bumpSize: 0.2,
  specular: 1,
  thickness: 0.4,
  attenuation: 0,
  textures: 0,
  outline: 1,
  ink: UNSAID,
  clearcoatRoughness: 0.08,
  sheenRoughness: 0.55,
};
