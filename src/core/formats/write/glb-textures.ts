/** Pictures on surfaces, as textures of glTF 2.0 (§3.9): base colour, roughness with metalness, and emission. */
import type { Document, Material, Texture } from "@gltf-transform/core";
import { KHRTextureTransform } from "@gltf-transform/extensions";
import { encode } from "fast-png";
import type { TextureSet } from "../../geometry/textures";
import { srgbByte } from "../../maths/color";
import { type Picture, plainTable } from "../../maths/picture";
import { resampled } from "../../maths/picture-resampled";

/** Roughness in the green channel, metalness in the blue one, each as the stage reads it; one that is missing is white, which changes nothing. */
function roughAndMetallic({ roughness, metalness }: TextureSet["pictures"]): Picture | null {
  const first = roughness ?? metalness;
  if (!first) return null;
  const { width, height } = first;
  const samples = new Uint8Array(width * height * 4).fill(255);
  for (const [picture, channel] of [[roughness, 1] as const, [metalness, 2] as const]) {
    if (!picture) continue;
    const pixels = resampled(picture, width, height, plainTable(picture));
    for (let i = 0; i < width * height; i++)
      samples[i * 4 + channel] = Math.round(Math.min(1, pixels[i * 4 + 1]) * 255);
  }
  return { width, height, samples };
}

/** Light above what a PNG holds is cut off. */
function asPng(picture: Picture): Uint8Array {
  const { width, height, samples, light } = picture;
  if (!light)
    return encode({
      width,
      height,
      data: samples,
      channels: 4,
      depth: samples instanceof Uint16Array ? 16 : 8,
    });
  const pixels = resampled(picture, width, height);
  const bytes = Uint8Array.from(pixels, (v, i) => (i % 4 === 3 ? Math.round(v * 255) : srgbByte(v)));
  return encode({ width, height, data: bytes, channels: 4, depth: 8 });
}

export class WrittenTextures {
  private readonly written = new Map<Picture, Texture>();
  private readonly combined = new Map<TextureSet, Picture | null>();

  constructor(
    private readonly document: Document,
    private readonly sets: readonly TextureSet[],
  ) {}

  /** Gives a material the pictures of a set, as far as glTF has them: those by UV, without bumps. */
  dress(material: Material, number: number): void {
    const set = this.sets.find((one) => one.number === number);
    if (set?.lies !== "by UV") return;
    const { color, emission } = set.pictures;
    let metallic = this.combined.get(set);
    if (metallic === undefined) this.combined.set(set, (metallic = roughAndMetallic(set.pictures)));
    if (color) material.setBaseColorTexture(this.textureOf(color));
    if (color && set.covers === "cut out") material.setAlphaMode("MASK");
    if (metallic) material.setMetallicRoughnessTexture(this.textureOf(metallic));
    if (emission) material.setEmissiveTexture(this.textureOf(emission));
    if (set.times === 1) return;
    const extension = this.document.createExtension(KHRTextureTransform);
    for (const info of [
      material.getBaseColorTextureInfo(),
      material.getMetallicRoughnessTextureInfo(),
      material.getEmissiveTextureInfo(),
    ])
      info?.setExtension(
        "KHR_texture_transform",
        extension.createTransform().setScale([set.times, set.times]),
      );
  }

  private textureOf(picture: Picture): Texture {
    let texture = this.written.get(picture);
    if (!texture) {
      texture = this.document
        .createTexture(`picture-${this.written.size + 1}`)
        .setMimeType("image/png")
        .setImage(asPng(picture));
      this.written.set(picture, texture);
    }
    return texture;
  }
}
