/** Pictures on surfaces of glTF files (glTF 2.0 §3.9): of base colour, roughness and metalness, and emission. */
import type { Material, Texture } from "@gltf-transform/core";
import { type TextureSet, textureSet } from "../../geometry/textures";
import type { Picture } from "../../maths/picture";
import { FormatError } from "../format-error";
import { readJpeg } from "./jpeg";
import { readPng } from "./png";

const READERS: Readonly<Record<string, (bytes: Uint8Array) => Picture>> = {
  "image/png": readPng,
  "image/jpeg": readJpeg,
};

/** One channel of a picture as grey. */
function channelOf({ samples, ...picture }: Picture, channel: number): Picture {
  const grey = samples.slice();
  for (let i = 0; i < grey.length; i++) if (i % 4 < 3) grey[i] = samples[i - (i % 4) + channel];
  return { ...picture, samples: grey };
}

export class GlbTextures {
  private readonly pictures = new Map<Texture, Picture | null>();
  private readonly sets = new Map<Material, TextureSet | null>();
  private readonly told = new Set<string>();

  /** Null for a material without pictures that are read. */
  of(material: Material): TextureSet | null {
    const known = this.sets.get(material);
    if (known !== undefined) return known;
    if (material.getNormalTexture()) this.told.add("Normal maps are not read; surfaces are smooth there.");
    const metallic = this.read(material.getMetallicRoughnessTexture());
    const color = this.read(material.getBaseColorTexture());
    const emission = this.read(material.getEmissiveTexture());
    const set = textureSet(
      {
        ...(color ? { color } : {}),
        ...(metallic ? { roughness: channelOf(metallic, 1), metalness: channelOf(metallic, 2) } : {}),
        ...(emission ? { emission } : {}),
      },
      {
        lies: "by UV",
        covers: material.getAlphaMode() === "MASK" ? "cut out" : "times its colour",
        size: 1,
        times: 1,
        height: 0,
      },
    );
    this.sets.set(material, set);
    return set;
  }

  /** Sets that any surface names, and what was not read. */
  get found(): { readonly textures?: readonly TextureSet[]; readonly notes?: readonly string[] } {
    const textures = [...this.sets.values()].filter((set) => set !== null);
    const notes = [...this.told];
    return { ...(textures.length > 0 ? { textures } : {}), ...(notes.length > 0 ? { notes } : {}) };
  }

  private read(texture: Texture | null): Picture | null {
    if (!texture) return null;
    const known = this.pictures.get(texture);
    if (known !== undefined) return known;
    const picture = this.readOf(texture);
    this.pictures.set(texture, picture);
    return picture;
  }

  private readOf(texture: Texture): Picture | null {
    const name = texture.getName() || texture.getURI() || "a picture";
    const bytes = texture.getImage();
    const reader = READERS[texture.getMimeType()];
    if (!bytes || !reader) {
      this.told.add(
        `"${name}" is ${bytes ? `of the kind ${texture.getMimeType()}` : "not in the file"} and is not shown; PNG and JPEG are.`,
      );
      return null;
    }
    try {
      return reader(bytes);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      this.told.add(`"${name}" cannot be read: ${error.message}`);
      return null;
    }
  }
}
