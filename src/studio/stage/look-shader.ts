/**
 * What surfaces are made of, read for each copy and each vertex by one material: the physical one of three.js, whose numbers give way to those
 * of the elements. Nothing is compiled anew when a number changes.
 */
import * as THREE from "three";
import { LOOK_NAMES, LOOK_WIDTH, type LookName, UNSAID, USUAL_LOOK } from "@/core/geometry/surface-look";

/** Attributes of a vertex and of a copy: the first four of LOOK_NAMES, and the other four. */
export const VERTEX_LOOKS = ["vertexLookA", "vertexLookB"] as const;
export const COPY_LOOKS = ["copyLookA", "copyLookB"] as const;

/** Index of refraction of what light goes through: that of glass (common practice, no source). */
const GLASS = 1.5;

/** Parts that cost something in the shader even where no element has any of them. */
export const COSTLY = [
  "clearcoat",
  "transmission",
  "sheen",
  "iridescence",
] as const satisfies readonly LookName[];
export type Costly = (typeof COSTLY)[number];

/** Which of the costly parts any element has, eight numbers each. */
function costlyIn(looks: Float32Array): Costly[] {
  return COSTLY.filter((name) => {
    const l = LOOK_NAMES.indexOf(name);
    for (let i = l; i < looks.length; i += LOOK_WIDTH) if (looks[i] > 0) return true;
    return false;
  });
}

/** The costly parts that elements of a geometry have, copies and vertices: set whenever looks of any are. */
export const costlyOf = ({ userData }: THREE.BufferGeometry): readonly Costly[] =>
  COSTLY.filter((name) => userData[name]);

/** Takes note of the costly parts of new looks. Once a part was there it stays on, so that nothing is compiled to and fro. */
export function noteCostly({ userData }: THREE.BufferGeometry, looks: Float32Array): void {
  for (const name of costlyIn(looks)) userData[name] = true;
}

/** A material that reads looks. @param costly the costly parts that it knows */
export function lookMaterial(
  costly: readonly Costly[],
  common: THREE.MeshStandardMaterialParameters,
): THREE.MeshStandardMaterial {
  const has = (name: Costly) => costly.includes(name);
  if (costly.length === 0) return new THREE.MeshStandardMaterial(common);
  return new THREE.MeshPhysicalMaterial({
    ...common,
    ior: GLASS,
    // 1 switches a part on; how much of it there is comes with the element.
    clearcoat: has("clearcoat") ? 1 : 0,
    clearcoatRoughness: 0.08,
    transmission: has("transmission") ? 1 : 0,
    // Its insides are drawn into what is seen through it already.
    forceSinglePass: true,
    thickness: has("transmission") ? 0.4 : 0,
    sheen: has("sheen") ? 1 : 0,
    sheenRoughness: 0.55,
    sheenColor: new THREE.Color(1, 1, 1),
    iridescence: has("iridescence") ? 1 : 0,
    iridescenceIOR: 1.7,
    iridescenceThicknessMinimum: 180,
    iridescenceThicknessMaximum: 520,
  });
}

const number = (value: number): string => value.toFixed(4);
const usual = (names: readonly LookName[]): string =>
  `vec4(${names.map((name) => number(USUAL_LOOK[name])).join(", ")})`;

/** Adds to a shader what reads looks. @param geometry whose attributes are known */
export function readLooks(
  shader: THREE.WebGLProgramParametersWithUniforms,
  geometry: THREE.BufferGeometry,
): void {
  const [vertices, copies] = [VERTEX_LOOKS, COPY_LOOKS].map((names) => geometry.hasAttribute(names[0]));
  const declared = [...(vertices ? VERTEX_LOOKS : []), ...(copies ? COPY_LOOKS : [])];
  const said = (from: string, other: string) =>
    `mix(${from}, ${other}, vec4(lessThan(${from}, vec4(${number(UNSAID / 2)}))))`;
  const read = ["A", "B"].map((half, h) => {
    let value = usual(LOOK_NAMES.slice(h * 4, h * 4 + 4));
    if (vertices) value = said(`vertexLook${half}`, value);
    if (copies) value = said(`copyLook${half}`, value);
    return `look${half} = ${value};`;
  });
  shader.vertexShader = shader.vertexShader.replace(
    "void main() {",
    `${declared.map((name) => `attribute vec4 ${name};`).join("\n")}
      varying vec4 lookA;
      varying vec4 lookB;
      void main() {
        ${read.join("\n")}`,
  );
  const transmission = THREE.ShaderChunk.transmission_fragment.replace(
    "material.transmission = transmission;",
    "material.transmission = lookB.x;",
  );
  shader.fragmentShader = shader.fragmentShader
    .replace("void main() {", "varying vec4 lookA;\nvarying vec4 lookB;\nvoid main() {")
    .replace(
      "#include <roughnessmap_fragment>",
      "#include <roughnessmap_fragment>\nroughnessFactor = lookA.x;",
    )
    .replace(
      "#include <metalnessmap_fragment>",
      "#include <metalnessmap_fragment>\nmetalnessFactor = lookA.y;",
    )
    .replace(
      "#include <emissivemap_fragment>",
      "#include <emissivemap_fragment>\ntotalEmissiveRadiance += diffuseColor.rgb * lookA.z;",
    )
    .replace(
      "#include <lights_physical_fragment>",
      `#include <lights_physical_fragment>
      #ifdef USE_CLEARCOAT
        material.clearcoat = lookA.w;
      #endif
      #ifdef USE_SHEEN
        material.sheenColor *= diffuseColor.rgb * lookB.y;
      #endif
      #ifdef USE_IRIDESCENCE
        material.iridescence = lookB.z;
      #endif`,
    )
    .replace("#include <transmission_fragment>", transmission)
    .replace(
      "#include <opaque_fragment>",
      `if (lookB.w > 0.5 && lookB.w < 1.5) outgoingLight = diffuseColor.rgb * (1.0 + lookA.z);
      if (lookB.w >= 1.5) {
        // Light against the colour itself, in three steps.
        float lit = dot(outgoingLight, vec3(0.2126, 0.7152, 0.0722)) / max(0.001, dot(diffuseColor.rgb, vec3(0.2126, 0.7152, 0.0722)));
        float steps = lit < 0.32 ? 0.25 : lit < 0.85 ? 0.62 : 1.0;
        outgoingLight = diffuseColor.rgb * (steps + lookA.z);
      }
      #include <opaque_fragment>`,
    );
}
