/**
 * What surfaces are made of, as materials of glTF 2.0 and its ratified extensions. A material of glTF is the same for a whole primitive, so what
 * has many is written as many: triangles by what their first vertex is made of, copies by what they are.
 */
import type { Document, Mesh as GlbMesh, Material, Primitive } from "@gltf-transform/core";
import {
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsIridescence,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRTextureTransform,
} from "@gltf-transform/extensions";
import type { DrawGeometry } from "../../draw/triangulate";
import { gatherRows } from "../../geometry/subset";
import {
  LOOK_NAMES,
  LOOK_WIDTH,
  type LookName,
  saidOr,
  UNSAID,
  USUAL_LOOK,
} from "../../geometry/surface-look";
import { FormatError } from "../format-error";
import { clip, material, primitiveOf, vectors } from "./glb-parts";
import type { WrittenTextures } from "./glb-textures";

export const LOOK_EXTENSIONS = [
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsIridescence,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRTextureTransform,
];

/** LOOK_WIDTH numbers; UNSAID for what is not said. */
export type Look = readonly number[];

export const NO_LOOK: Look = new Array<number>(LOOK_WIDTH).fill(UNSAID);

/** Steps into which a part is cut, so that what looks the same is one material. */
const STEPS = 64;
/** Materials of one shape at most. */
const MOST = 1024;

/** Lines around things do not go with them. */
const UNWRITTEN: ReadonlySet<LookName> = new Set(["outline", "ink"]);

const rounded = (value: number): number => (value < 0 ? UNSAID : Math.round(value * STEPS) / STEPS);

/** Elements by what they are made of. @param looks LOOK_WIDTH numbers each; null for nothing said */
export function byLook(
  looks: Float32Array | null | undefined,
  count: number,
): { look: Look; elements: number[] }[] {
  if (!looks) return [{ look: NO_LOOK, elements: Array.from({ length: count }, (_, i) => i) }];
  const groups = new Map<string, { look: Look; elements: number[] }>();
  for (let i = 0; i < count; i++) {
    const look = Array.from(looks.subarray(i * LOOK_WIDTH, (i + 1) * LOOK_WIDTH), (value, k) =>
      UNWRITTEN.has(LOOK_NAMES[k]) ? UNSAID : rounded(value),
    );
    const key = look.join(" ");
    const group = groups.get(key) ?? { look, elements: [] };
    group.elements.push(i);
    groups.set(key, group);
    if (groups.size > MOST)
      throw new FormatError(
        `What it is made of comes in more than ${MOST} kinds, and each is a material of its own. Give "Material" fewer different numbers.`,
      );
  }
  return [...groups.values()];
}

const over = (one: Look, other: Look): Look => one.map((value, k) => saidOr(value, other[k]));

/** A primitive without a material, and what its mesh says that it is made of. */
export interface LookPart {
  readonly primitive: Primitive;
  readonly look: Look;
}

/** A primitive for each thing that triangles are made of; they share their vertices. */
export function partsByLook(document: Document, geometry: DrawGeometry): LookPart[] {
  const { indices, looks } = geometry;
  if (!looks) return [{ primitive: primitiveOf(document, geometry), look: NO_LOOK }];
  const triangles = indices.length / 3;
  const firsts = Uint32Array.from({ length: triangles }, (_, t) => indices[t * 3]);
  const ofTriangles = gatherRows(looks, firsts, LOOK_WIDTH, new Float32Array(triangles * LOOK_WIDTH));
  let first: Primitive | null = null;
  return byLook(ofTriangles, triangles).map(({ look, elements }) => {
    const corners = gatherRows(indices, elements, 3, new Uint32Array(elements.length * 3));
    const primitive: Primitive = first
      ? first.clone().setIndices(vectors(document, "SCALAR", corners))
      : primitiveOf(document, { ...geometry, indices: corners });
    first ??= primitive;
    return { primitive, look };
  });
}

/** A mesh of parts. @param copy what its copies are made of, which counts before what the mesh says */
export function meshOf(
  document: Document,
  parts: readonly LookPart[],
  name: string,
  rgba: readonly number[],
  textures: WrittenTextures,
  copy: Look = NO_LOOK,
): GlbMesh {
  const mesh = document.createMesh(name);
  for (const { primitive, look } of parts)
    mesh.addPrimitive(
      primitive.clone().setMaterial(lookMaterial(document, name, rgba, textures, over(copy, look))),
    );
  return mesh;
}

/** A material of the metallic-roughness model with the extensions that it takes. */
function lookMaterial(
  document: Document,
  name: string,
  rgba: readonly number[],
  textures: WrittenTextures,
  look: Look,
): Material {
  const made = material(document, name, rgba);
  if (look.every((value) => value < 0)) return made;
  const of = (part: LookName): number => saidOr(look[LOOK_NAMES.indexOf(part)], USUAL_LOOK[part]);
  made.setRoughnessFactor(of("roughness")).setMetallicFactor(of("metalness"));
  if (of("emission") > 0) {
    made.setEmissiveFactor([clip(rgba[0]), clip(rgba[1]), clip(rgba[2])]);
    const strength = document.createExtension(KHRMaterialsEmissiveStrength).createEmissiveStrength();
    made.setExtension("KHR_materials_emissive_strength", strength.setEmissiveStrength(of("emission")));
  }
  if (of("clearcoat") > 0)
    made.setExtension(
      "KHR_materials_clearcoat",
      document
        .createExtension(KHRMaterialsClearcoat)
        .createClearcoat()
        .setClearcoatFactor(of("clearcoat"))
        .setClearcoatRoughnessFactor(of("clearcoatRoughness")),
    );
  if (of("transmission") > 0)
    made.setExtension(
      "KHR_materials_transmission",
      document
        .createExtension(KHRMaterialsTransmission)
        .createTransmission()
        .setTransmissionFactor(of("transmission")),
    );
  if (of("transmission") > 0 && of("attenuation") > 0)
    made.setExtension(
      "KHR_materials_volume",
      document
        .createExtension(KHRMaterialsVolume)
        .createVolume()
        .setThicknessFactor(of("thickness"))
        .setAttenuationDistance(of("attenuation"))
        .setAttenuationColor([clip(rgba[0]), clip(rgba[1]), clip(rgba[2])]),
    );
  if (of("specular") < 1)
    made.setExtension(
      "KHR_materials_specular",
      document.createExtension(KHRMaterialsSpecular).createSpecular().setSpecularFactor(of("specular")),
    );
  if (of("sheen") > 0) {
    const [r, g, b] = rgba.map((v) => clip(v) * of("sheen"));
    const sheen = document.createExtension(KHRMaterialsSheen).createSheen();
    made.setExtension(
      "KHR_materials_sheen",
      sheen.setSheenColorFactor([r, g, b]).setSheenRoughnessFactor(of("sheenRoughness")),
    );
  }
  if (of("iridescence") > 0)
    made.setExtension(
      "KHR_materials_iridescence",
      document
        .createExtension(KHRMaterialsIridescence)
        .createIridescence()
        .setIridescenceFactor(of("iridescence")),
    );
  if (of("refraction") !== USUAL_LOOK.refraction)
    made.setExtension(
      "KHR_materials_ior",
      document.createExtension(KHRMaterialsIOR).createIOR().setIOR(of("refraction")),
    );
  if (of("anisotropy") > 0)
    made.setExtension(
      "KHR_materials_anisotropy",
      document
        .createExtension(KHRMaterialsAnisotropy)
        .createAnisotropy()
        .setAnisotropyStrength(of("anisotropy")),
    );
  if (of("shading") > 0)
    made.setExtension("KHR_materials_unlit", document.createExtension(KHRMaterialsUnlit).createUnlit());
  if (of("textures") > 0) textures.dress(made, of("textures"));
  return made;
}
