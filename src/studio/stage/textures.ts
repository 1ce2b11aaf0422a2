/** Pictures on surfaces, as parts of a shader: layers of one texture, of which each element names a set (core/geometry/textures.ts). Reads lookD. */
import * as THREE from "three";
import { SET_WIDTH, type TextureSheet } from "@/core/draw/texture-sheet";
import { MOST_TEXTURES, TEXTURE_COVERS, TEXTURE_LIES } from "@/core/geometry/textures";
import type { StageSettings } from "@/engine/protocol";
import { ReceivedOnce } from "@/engine/sent-once";

/** What all shaders that show pictures read. */
export class Textures {
  private readonly received = new ReceivedOnce<TextureSheet>();
  readonly uniforms = {
    textureLayers: { value: null as THREE.DataArrayTexture | null },
    textureSets: {
      value: Array.from({ length: (MOST_TEXTURES * SET_WIDTH) / 4 }, () => new THREE.Vector4()),
    },
    textureCount: { value: 0 },
  };

  set({ textures }: StageSettings): void {
    if (!this.received.take(textures)) return;
    const { textureLayers, textureSets, textureCount } = this.uniforms;
    const { value } = this.received;
    textureLayers.value?.dispose();
    textureLayers.value = value && layersOf(value);
    textureCount.value = value ? value.sets.length / SET_WIDTH : 0;
    for (const [i, four] of textureSets.value.entries()) if (value) four.fromArray(value.sets, i * 4);
  }

  dispose(): void {
    this.uniforms.textureLayers.value?.dispose();
  }
}

function layersOf({ layers, across, count }: TextureSheet): THREE.DataArrayTexture {
  const texture = new THREE.DataArrayTexture(layers, across, across, count);
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.magFilter = THREE.LinearFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
}

const FOURS = SET_WIDTH / 4;
const SETS = `uniform vec4 textureSets[${MOST_TEXTURES * FOURS}];`;
const VARYINGS = `
    flat varying int textureSet;
    varying vec2 textureUv;
    varying vec3 meshFacing;`;

export const TEXTURES = {
  vertexHead: `
    ${SETS}
    uniform int textureCount;
    ${VARYINGS}`,

  /** @param isLaid whether the mesh says where it lies on pictures */
  vertex: (isLaid: boolean) => `
    textureSet = -1;
    for (int s = 0; s < textureCount; s++) if (textureSets[s * ${FOURS}].x == lookD.w) textureSet = s * ${FOURS};
    textureUv = ${isLaid ? "uv" : "vec2(0.0)"};
    meshFacing = normal;
    ${isLaid ? "" : `if (textureSet >= 0 && int(textureSets[textureSet + 1].z) == ${TEXTURE_LIES.indexOf("by UV")}) textureSet = -1;`}`,

  functions: `
    ${SETS}
    uniform highp sampler2DArray textureLayers;
    ${VARYINGS}
    // Places on the picture with their changes to the next pixels, on up to three planes, and how much each of those counts.
    vec2 laidAt[3], laidX[3], laidY[3];
    vec3 laidShare = vec3(1.0, 0.0, 0.0);
    void layOn(int plane, vec2 at, vec2 x, vec2 y) {
      laidAt[plane] = at;
      laidX[plane] = x;
      laidY[plane] = y;
    }
    vec2 onPlane(vec3 p, int axis, float side) {
      return axis == 0 ? vec2(-p.z * side, -p.y) : axis == 1 ? vec2(p.x, p.z * side) : vec2(p.x * side, -p.y);
    }
    // @param beside 0 here, 1 at the next pixel across, 2 at the next one up
    vec4 textured(float layer, int beside) {
      vec4 sum = vec4(0.0);
      for (int k = 0; k < 3; k++)
        if (laidShare[k] > 0.0) {
          vec2 at = laidAt[k] + (beside == 1 ? laidX[k] : beside == 2 ? laidY[k] : vec2(0.0));
          sum += laidShare[k] * textureGrad(textureLayers, vec3(at, layer), laidX[k], laidY[k]);
        }
      return sum;
    }
    vec4 textured(float layer) { return textured(layer, 0); }`,

  /** In place of what comes with the colour: everything else reads what it finds out. */
  color: `
    vec4 layersA = vec4(-1.0), layersB = vec4(-1.0), layersC = vec4(-1.0);
    {
      vec3 placeX = dFdx(meshAt.xyz), placeY = dFdy(meshAt.xyz);
      vec2 uvX = dFdx(textureUv), uvY = dFdy(textureUv);
      if (textureSet >= 0) {
        layersA = textureSets[textureSet];
        layersB = textureSets[textureSet + 1];
        layersC = textureSets[textureSet + 2];
        float per = layersC.x;
        if (int(layersB.z) == ${TEXTURE_LIES.indexOf("by UV")}) layOn(0, textureUv * per, uvX * per, uvY * per);
        else {
          vec3 strong = pow(abs(normalize(meshFacing)), vec3(6.0));
          laidShare = strong / (strong.x + strong.y + strong.z);
          for (int k = 0; k < 3; k++) {
            float side = meshFacing[k] < 0.0 ? -1.0 : 1.0;
            vec2 scale = per * vec2(1.0, layersC.y);
            layOn(k, onPlane(meshAt.xyz, k, side) * scale + 0.5, onPlane(placeX, k, side) * scale, onPlane(placeY, k, side) * scale);
          }
        }
        if (layersA.y >= 0.0) {
          vec4 shown = textured(layersA.y);
          int covers = int(layersB.w);
          if (covers == ${TEXTURE_COVERS.indexOf("cut out")}) {
            if (shown.a < 0.5) discard;
            shown.a = 1.0;
          }
          if (covers == ${TEXTURE_COVERS.indexOf("times its colour")}) diffuseColor.rgb *= mix(vec3(1.0), shown.rgb, shown.a);
          else diffuseColor.rgb = mix(diffuseColor.rgb, shown.rgb, shown.a);
        }
      }
    }`,

  roughness: "if (layersA.z >= 0.0) roughnessFactor *= textured(layersA.z).g;",
  metalness: "if (layersA.w >= 0.0) metalnessFactor *= textured(layersA.w).g;",
  emission: "if (layersB.x >= 0.0) given *= textured(layersB.x).rgb;",
  /** Adds to \`rise\`, how much higher the next pixels are. */
  bump: `
    if (layersB.y >= 0.0)
      rise += layersC.z * (vec2(textured(layersB.y, 1).g, textured(layersB.y, 2).g) - textured(layersB.y).g);`,
};

/** The same on dots, which face whoever looks: a picture is as wide or as high as the dot is across, and there is nothing where it is clear. */
export const DOT_TEXTURES = {
  vertexHead: `
    ${SETS}
    uniform int textureCount;
    flat varying int dotTextureSet;`,

  /** @param number the attribute that names the set */
  vertex: (number: string) => `
    dotTextureSet = -1;
    for (int s = 0; s < textureCount; s++)
      if (textureSets[s * ${FOURS}].x == ${number} && textureSets[s * ${FOURS}].y >= 0.0) dotTextureSet = s * ${FOURS};`,

  functions: `
    ${SETS}
    uniform highp sampler2DArray textureLayers;
    flat varying int dotTextureSet;`,

  color: `
    vec2 dotX = dFdx(gl_PointCoord), dotY = dFdy(gl_PointCoord);
    if (isPictured) {
      float wide = textureSets[dotTextureSet + 2].w;
      vec2 scale = vec2(max(1.0, 1.0 / wide), max(1.0, wide));
      vec2 onPicture = (gl_PointCoord - 0.5) * scale + 0.5;
      if (any(greaterThan(abs(onPicture - 0.5), vec2(0.5)))) discard;
      vec4 shown = textureGrad(textureLayers, vec3(onPicture, textureSets[dotTextureSet].y), dotX * scale, dotY * scale);
      int covers = int(textureSets[dotTextureSet + 1].w);
      if (shown.a < (covers == ${TEXTURE_COVERS.indexOf("cut out")} ? 0.5 : 0.02)) discard;
      diffuseColor.a *= covers == ${TEXTURE_COVERS.indexOf("cut out")} ? 1.0 : shown.a;
      diffuseColor.rgb = covers == ${TEXTURE_COVERS.indexOf("times its colour")} ? diffuseColor.rgb * shown.rgb : shown.rgb;
    }`,
};
