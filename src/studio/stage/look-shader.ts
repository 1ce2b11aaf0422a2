/**
 * What surfaces are made of, read for each copy and each vertex by one material: the physical one of three.js, whose numbers give way to those
 * of the elements. Nothing is compiled anew when a number changes.
 */
import * as THREE from "three";
import {
  LIGHT_ALONE,
  LOOK_NAMES,
  LOOK_WIDTH,
  type LookName,
  SHADINGS,
  UNSAID,
  USUAL_LOOK,
} from "@/core/geometry/surface-look";
import { BUMPS } from "./bumps";
import { replaced } from "./shader-text";

/** Attributes of a vertex and of a copy: four numbers each, in the order of LOOK_NAMES. */
export const VERTEX_LOOKS = ["vertexLookA", "vertexLookB", "vertexLookC"] as const;
export const COPY_LOOKS = ["copyLookA", "copyLookB", "copyLookC"] as const;

/** In place of what a copy lets be seen of itself: only those parts of it are drawn that are nothing but light. */
export const ONLY_LIGHT = 2;

/** Parts that cost something in the shader even where no element has any of them. */
export const COSTLY = [
  "clearcoat",
  "transmission",
  "sheen",
  "iridescence",
  "refraction",
  "anisotropy",
  "bump",
] as const satisfies readonly LookName[];
export type Costly = (typeof COSTLY)[number];

/** Which of the costly parts any element has, LOOK_WIDTH numbers each. */
function costlyIn(looks: Float32Array): Costly[] {
  return COSTLY.filter((name) => {
    const l = LOOK_NAMES.indexOf(name);
    const usual = USUAL_LOOK[name];
    for (let i = l; i < looks.length; i += LOOK_WIDTH) if (looks[i] >= 0 && looks[i] !== usual) return true;
    return false;
  });
}

/** Whether any element is nothing but light. */
export function anyLightAlone(looks: Float32Array): boolean {
  const l = LOOK_NAMES.indexOf("shading");
  for (let i = l; i < looks.length; i += LOOK_WIDTH) if (looks[i] === LIGHT_ALONE) return true;
  return false;
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
  // The simpler material has bumps too.
  if (costly.every((name) => name === "bump")) return new THREE.MeshStandardMaterial(common);
  return new THREE.MeshPhysicalMaterial({
    ...common,
    ior: USUAL_LOOK.refraction,
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
    anisotropy: has("anisotropy") ? 1 : 0,
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
  const read = ["A", "B", "C"].map((part, p) => {
    let value = usual(LOOK_NAMES.slice(p * 4, p * 4 + 4));
    if (vertices) value = said(`vertexLook${part}`, value);
    if (copies) value = said(`copyLook${part}`, value);
    return `look${part} = ${value};`;
  });
  const isBumpy = costlyOf(geometry).includes("bump");
  const varyings = `varying vec4 lookA, lookB, lookC;
    ${isBumpy ? BUMPS.varyings : ""}
    #ifdef USE_ANISOTROPY
      varying vec3 brushed;
    #endif
    void main() {`;
  shader.vertexShader = shader.vertexShader
    .replace(
      "void main() {",
      `${declared.map((name) => `attribute vec4 ${name};`).join("\n")}
      ${varyings}
        ${read.join("\n")}`,
    )
    .replace(
      "#include <project_vertex>",
      `#include <project_vertex>
      mat3 shaped = mat3(modelViewMatrix);
      #ifdef USE_INSTANCING
        shaped = shaped * mat3(instanceMatrix);
      #endif
      ${isBumpy ? BUMPS.vertex : ""}
      #ifdef USE_ANISOTROPY
        // Around the upright axis; on the axis itself any way will do.
        brushed = shaped * (cross(vec3(0.0, 1.0, 0.0), position) + vec3(1e-6, 0.0, 0.0));
      #endif`,
    );
  const { normal_fragment_begin, lights_physical_fragment, transmission_fragment } = THREE.ShaderChunk;
  shader.fragmentShader = shader.fragmentShader
    .replace("void main() {", `${isBumpy ? BUMPS.functions : ""}\n${varyings}`)
    .replace(
      "#include <normal_fragment_begin>",
      // The grooves' own way in place of one that follows from a place on a picture.
      replaced(normal_fragment_begin, [
        /mat3 tbn = getTangentFrame\([\s\S]*?\);/,
        `vec3 across = normalize(cross(normal, brushed));
        mat3 tbn = mat3(across, cross(normal, across), normal);`,
      ]),
    )
    .replace(
      "#include <normal_fragment_maps>",
      `#include <normal_fragment_maps>\n${isBumpy ? BUMPS.fragment : ""}`,
    )
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
      `${replaced(
        lights_physical_fragment,
        ["material.ior = ior;", "material.ior = lookC.x;"],
        ["vec2 anisotropyV = anisotropyVector;", "vec2 anisotropyV = vec2(lookC.y, 0.0);"],
      )}
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
    .replace(
      "#include <transmission_fragment>",
      replaced(transmission_fragment, [
        "material.transmission = transmission;",
        "material.transmission = lookB.x;",
      ]),
    )
    .replace(
      "#include <opaque_fragment>",
      `int shading = int(lookB.w + 0.5);
      #ifdef OPAQUE
        // Light is drawn with what can be seen through.
        if (shading == ${LIGHT_ALONE}) discard;
      #else
        if (diffuseColor.a > ${number((1 + ONLY_LIGHT) / 2)}) {
          if (shading != ${LIGHT_ALONE}) discard;
          diffuseColor.a = 1.0;
        }
      #endif
      if (shading == ${SHADINGS.indexOf("flat")} || shading == ${LIGHT_ALONE}) outgoingLight = diffuseColor.rgb * (1.0 + lookA.z);
      if (shading == ${SHADINGS.indexOf("in steps")}) {
        // Light against the colour itself, in three steps.
        float lit = dot(outgoingLight, vec3(0.2126, 0.7152, 0.0722)) / max(0.001, dot(diffuseColor.rgb, vec3(0.2126, 0.7152, 0.0722)));
        float steps = lit < 0.32 ? 0.25 : lit < 0.85 ? 0.62 : 1.0;
        outgoingLight = diffuseColor.rgb * (steps + lookA.z);
      }
      #include <opaque_fragment>`,
    )
    .replace(
      "#include <premultiplied_alpha_fragment>",
      `#include <premultiplied_alpha_fragment>
      #ifdef PREMULTIPLIED_ALPHA
        // Nothing of what is behind is taken away.
        if (shading == ${LIGHT_ALONE}) gl_FragColor.a = 0.0;
      #endif`,
    );
}
