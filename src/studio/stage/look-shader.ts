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
import { COPY_LOOKS, copyLooksOf } from "./copy-looks";
import { replaced } from "./shader-text";
import { TEXTURES, type Textures } from "./textures";

/** Attributes of a vertex: four numbers each, in the order of LOOK_NAMES. */
export const VERTEX_LOOKS = [
  "vertexLookA",
  "vertexLookB",
  "vertexLookC",
  "vertexLookD",
  "vertexLookE",
] as const;

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
  "specular",
  "thickness",
  "attenuation",
  "textures",
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
  COSTLY.filter((name) => userData.costly?.[name]);

/** Takes note of the costly parts of new looks. Once a part was there it stays on, so that nothing is compiled to and fro. */
export function noteCostly({ userData }: THREE.BufferGeometry, looks: Float32Array): void {
  userData.costly ??= {};
  for (const name of costlyIn(looks)) userData.costly[name] = true;
}

/** A material that reads looks. @param costly the costly parts that it knows */
export function lookMaterial(
  costly: readonly Costly[],
  common: THREE.MeshStandardMaterialParameters,
): THREE.MeshStandardMaterial {
  const has = (name: Costly) => costly.includes(name);
  // The simpler material has bumps and pictures too.
  if (costly.every((name) => name === "bump" || name === "textures"))
    return new THREE.MeshStandardMaterial(common);
  return new THREE.MeshPhysicalMaterial({
    ...common,
    ior: USUAL_LOOK.refraction,
    // 1 switches a part on; how much of it there is comes with the element.
    clearcoat: has("clearcoat") ? 1 : 0,
    transmission: has("transmission") ? 1 : 0,
    // Its insides are drawn into what is seen through it already.
    forceSinglePass: true,
    thickness: has("transmission") ? 0.4 : 0,
    sheen: has("sheen") ? 1 : 0,
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

const said = (from: string, other: string): string =>
  `mix(${from}, ${other}, vec4(lessThan(${from}, vec4(${number(UNSAID / 2)}))))`;

/** Four numbers of an element as vertex shaders read them: what a copy says counts before what its vertices say. @param part of LOOK_NAMES */
function lookOf(part: number, { vertices, copies }: { vertices: boolean; copies: boolean }): string {
  let value = usual(LOOK_NAMES.slice(part * 4, part * 4 + 4));
  if (vertices) value = said(VERTEX_LOOKS[part], value);
  return copies ? said(`copyLook(${part})`, value) : value;
}

/** For lines around meshes: what is to be declared, and the four numbers that begin with how wide and in which colour they are. */
export function outlineLook(by: { vertices: boolean; copies: boolean }) {
  const part = LOOK_NAMES.indexOf("outline") / 4;
  return { declared: by.vertices ? `attribute vec4 ${VERTEX_LOOKS[part]};` : "", value: lookOf(part, by) };
}

/** The place on the mesh, and how long a unit of it is; read by what follows the mesh. */
const MESH_AT = "varying vec4 meshAt;";

/** Adds to a shader what reads looks. @param geometry whose attributes are known @param pictures those that lie on surfaces */
export function readLooks(
  shader: THREE.WebGLProgramParametersWithUniforms,
  geometry: THREE.BufferGeometry,
  pictures: Textures,
): void {
  const vertices = geometry.hasAttribute(VERTEX_LOOKS[0]);
  const copies = copyLooksOf(geometry);
  const declared = vertices ? VERTEX_LOOKS.map((name) => `attribute vec4 ${name};`) : [];
  if (copies) {
    shader.uniforms.copyLooks = copies.uniform;
    declared.push(COPY_LOOKS);
  }
  const read = ["A", "B", "C", "D", "E"].map(
    (part, p) => `look${part} = ${lookOf(p, { vertices, copies: copies !== null })};`,
  );
  const [isBumpy, isTextured] = (["bump", "textures"] as const).map((name) =>
    costlyOf(geometry).includes(name),
  );
  if (isTextured) Object.assign(shader.uniforms, pictures.uniforms);
  const followsMesh = isBumpy || isTextured;
  const texture = (part: Exclude<keyof typeof TEXTURES, "vertex">): string =>
    isTextured ? TEXTURES[part] : "";
  const varyings = `varying vec4 lookA, lookB, lookC, lookD, lookE;
    ${followsMesh ? MESH_AT : ""}
    #ifdef USE_ANISOTROPY
      varying vec3 brushed;
    #endif
    void main() {`;
  shader.vertexShader = shader.vertexShader
    .replace(
      "void main() {",
      `${declared.join("\n")}
      ${texture("vertexHead")}
      ${varyings}
        ${read.join("\n")}
        ${isTextured ? TEXTURES.vertex(geometry.hasAttribute("uv")) : ""}`,
    )
    .replace(
      "#include <project_vertex>",
      `#include <project_vertex>
      mat3 shaped = mat3(modelViewMatrix);
      #ifdef USE_INSTANCING
        shaped = shaped * mat3(instanceMatrix);
      #endif
      ${followsMesh ? "meshAt = vec4(position, pow(max(1e-12, abs(determinant(shaped))), 1.0 / 3.0));" : ""}
      #ifdef USE_ANISOTROPY
        // Around the upright axis; on the axis itself any way will do.
        brushed = shaped * (cross(vec3(0.0, 1.0, 0.0), position) + vec3(1e-6, 0.0, 0.0));
      #endif`,
    );
  const { normal_fragment_begin, lights_physical_fragment, transmission_fragment } = THREE.ShaderChunk;
  shader.fragmentShader = shader.fragmentShader
    .replace("void main() {", `${isBumpy ? BUMPS.functions : ""}\n${texture("functions")}\n${varyings}`)
    .replace("#include <color_fragment>", `#include <color_fragment>\n${texture("color")}`)
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
      `#include <normal_fragment_maps>
      ${followsMesh ? BUMPS.fragment(`${isBumpy ? BUMPS.noise : ""}\n${texture("bump")}`) : ""}`,
    )
    .replace(
      "#include <roughnessmap_fragment>",
      `#include <roughnessmap_fragment>\nroughnessFactor = lookA.x;\n${texture("roughness")}`,
    )
    .replace(
      "#include <metalnessmap_fragment>",
      `#include <metalnessmap_fragment>\nmetalnessFactor = lookA.y;\n${texture("metalness")}`,
    )
    .replace(
      "#include <emissivemap_fragment>",
      `#include <emissivemap_fragment>
      vec3 given = diffuseColor.rgb * lookA.z;
      ${texture("emission")}
      totalEmissiveRadiance += given;`,
    )
    .replace(
      "#include <lights_physical_fragment>",
      `${replaced(
        lights_physical_fragment,
        ["material.ior = ior;", "material.ior = lookC.x;"],
        ["float specularIntensityFactor = specularIntensity;", "float specularIntensityFactor = lookD.x;"],
        ["vec2 anisotropyV = anisotropyVector;", "vec2 anisotropyV = vec2(lookC.y, 0.0);"],
      )}
      #ifdef USE_CLEARCOAT
        material.clearcoat = lookA.w;
        material.clearcoatRoughness = max(lookE.z, 0.0525);
      #endif
      #ifdef USE_SHEEN
        material.sheenColor *= diffuseColor.rgb * lookB.y;
        material.sheenRoughness = clamp(lookE.w, 0.07, 1.0);
      #endif
      #ifdef USE_IRIDESCENCE
        material.iridescence = lookB.z;
      #endif`,
    )
    .replace(
      "#include <transmission_fragment>",
      replaced(
        transmission_fragment,
        ["material.transmission = transmission;", "material.transmission = lookB.x;"],
        ["material.thickness = thickness;", "material.thickness = lookD.y;"],
        [
          "material.attenuationDistance = attenuationDistance;",
          // Without one, light loses nothing however far it goes.
          "material.attenuationDistance = lookD.z > 0.0 ? lookD.z : 1e9;",
        ],
        ["material.attenuationColor = attenuationColor;", "material.attenuationColor = diffuseColor.rgb;"],
      ),
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
      if (shading == ${SHADINGS.indexOf("flat")} || shading == ${LIGHT_ALONE}) outgoingLight = diffuseColor.rgb + given;
      if (shading == ${SHADINGS.indexOf("in steps")}) {
        // Light against the colour itself, in three steps.
        float lit = dot(outgoingLight, vec3(0.2126, 0.7152, 0.0722)) / max(0.001, dot(diffuseColor.rgb, vec3(0.2126, 0.7152, 0.0722)));
        float steps = lit < 0.32 ? 0.25 : lit < 0.85 ? 0.62 : 1.0;
        outgoingLight = diffuseColor.rgb * steps + given;
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
