/** What surfaces of glTF files are made of: factors of their materials (glTF 2.0 §3.9 and its ratified extensions), and the pictures on them. */
import type { Material } from "@gltf-transform/core";
import type {
  Anisotropy,
  Clearcoat,
  EmissiveStrength,
  IOR,
  Iridescence,
  Sheen,
  Specular,
  Transmission,
  Volume,
} from "@gltf-transform/extensions";
import { makeColumn, withColumns } from "../../geometry/column";
import type { Mesh } from "../../geometry/mesh";
import { LOOK_NAMES, type LookName, SHADINGS, USUAL_LOOK } from "../../geometry/surface-look";
import type { TextureSet } from "../../geometry/textures";
import type { GlbTextures } from "./glb-textures";

const greatest = (color: readonly number[]): number => Math.max(...color.slice(0, 3));

/** Emission is times the colour here, and a colour of its own there: as bright as its brightest part. */
function emissionOf(material: Material): number {
  const given = greatest(material.getEmissiveFactor());
  if (given === 0) return 0;
  const strength =
    material.getExtension<EmissiveStrength>("KHR_materials_emissive_strength")?.getEmissiveStrength() ?? 1;
  const own = greatest(material.getBaseColorFactor());
  return (given * strength) / (own > 0 ? own : 1);
}

function lookOf(material: Material, set: TextureSet | null): Readonly<Record<LookName, number>> {
  // A factor is times its texture: where that is not read it would say nothing alone.
  const isMissing = material.getMetallicRoughnessTexture() !== null && !set?.pictures.roughness;
  const isDark = material.getEmissiveTexture() !== null && !set?.pictures.emission;
  return {
    ...USUAL_LOOK,
    roughness: isMissing ? USUAL_LOOK.roughness : material.getRoughnessFactor(),
    metalness: isMissing ? USUAL_LOOK.metalness : material.getMetallicFactor(),
    emission: isDark ? 0 : emissionOf(material),
    textures: set?.number ?? 0,
    clearcoat: material.getExtension<Clearcoat>("KHR_materials_clearcoat")?.getClearcoatFactor() ?? 0,
    clearcoatRoughness:
      material.getExtension<Clearcoat>("KHR_materials_clearcoat")?.getClearcoatRoughnessFactor() ??
      USUAL_LOOK.clearcoatRoughness,
    sheenRoughness:
      material.getExtension<Sheen>("KHR_materials_sheen")?.getSheenRoughnessFactor() ??
      USUAL_LOOK.sheenRoughness,
    transmission:
      material.getExtension<Transmission>("KHR_materials_transmission")?.getTransmissionFactor() ?? 0,
    sheen: greatest(material.getExtension<Sheen>("KHR_materials_sheen")?.getSheenColorFactor() ?? [0]),
    iridescence: material.getExtension<Iridescence>("KHR_materials_iridescence")?.getIridescenceFactor() ?? 0,
    refraction: material.getExtension<IOR>("KHR_materials_ior")?.getIOR() ?? USUAL_LOOK.refraction,
    anisotropy: material.getExtension<Anisotropy>("KHR_materials_anisotropy")?.getAnisotropyStrength() ?? 0,
    specular:
      material.getExtension<Specular>("KHR_materials_specular")?.getSpecularFactor() ?? USUAL_LOOK.specular,
    ...volumeOf(material.getExtension<Volume>("KHR_materials_volume")),
    shading: SHADINGS.indexOf(material.getExtension("KHR_materials_unlit") ? "flat" : "lit"),
  };
}

const volumeOf = (volume: Volume | null): Partial<Record<LookName, number>> =>
  volume
    ? {
        thickness: volume.getThicknessFactor(),
        attenuation: Number.isFinite(volume.getAttenuationDistance()) ? volume.getAttenuationDistance() : 0,
      }
    : {};

/** A mesh with what its material says; without a material as it is. */
export function withMaterial(mesh: Mesh, material: Material | null, textures: GlbTextures): Mesh {
  if (!material) return mesh;
  const look = lookOf(material, textures.of(material));
  const columns = Object.fromEntries(
    LOOK_NAMES.map((name) => [
      name,
      makeColumn("number", [new Float32Array(mesh.points.count).fill(look[name])]),
    ]),
  );
  return { ...mesh, points: withColumns(mesh.points, columns) };
}
