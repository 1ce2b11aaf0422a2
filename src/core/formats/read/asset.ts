/** What a file that was brought in holds. */
import type { Shape } from "../../geometry/shape";
import type { TextureSet } from "../../geometry/textures";
import type { LookUp } from "../../maths/look-up";
import type { Picture } from "../../maths/picture";

/** One of several things in a file, in the file's own coordinates. */
export interface ShapePart {
  readonly name: string;
  readonly shape: Shape;
}

export interface ShapeAsset {
  readonly kind: "shape";
  /** Everything joined. */
  readonly shape: Shape;
  /** The file's meshes or groups apart; empty when there is only one. */
  readonly parts: readonly ShapePart[];
  /** Pictures that lie on its surfaces. */
  readonly textures?: readonly TextureSet[];
  /** What of the file was not read, in words. */
  readonly notes?: readonly string[];
}

export interface PictureAsset {
  readonly kind: "picture";
  readonly picture: Picture;
  /** What is odd about it, in words. */
  readonly notes?: readonly string[];
}

export interface LookUpAsset {
  readonly kind: "look-up";
  readonly lookUp: LookUp;
}

export interface FontAsset {
  readonly kind: "font";
  /** A TrueType or OpenType file. */
  readonly bytes: Uint8Array;
}

export type AssetContent = ShapeAsset | PictureAsset | FontAsset | LookUpAsset;
