/**
 * Develops a picture of linear light, in one pass: what glows is added, the tone curve, encoded for the screen; then colour, corners and grain of what
 * a screen shows.
 */
import * as THREE from "three";
import { FullScreenQuad, Pass } from "three/examples/jsm/postprocessing/Pass.js";
import type { LookUp } from "@/core/maths/look-up";
import type { Tone } from "@/core/nodes/dress/finish";
import { WHOLE_PICTURE } from "./gather-pass";
import type { GlowPass } from "./glow-pass";
import { inWhole, type PicturePart, WHOLE } from "./picture-part";
import { CHANCE } from "./shader-text";

/** The functions of three's shaders. */
const TONES: Readonly<Record<Tone, string>> = {
  neutral: "NeutralToneMapping",
  film: "ACESFilmicToneMapping",
  "soft film": "AgXToneMapping",
  plain: "LinearToneMapping",
};

/** Numbers of the grade that stand in settings by the same names. */
const GRADED = ["contrast", "saturation", "warmth", "vignette", "grain"] as const;

export interface Grade extends Readonly<Record<(typeof GRADED)[number], number>> {
  readonly curve: Float32Array | null;
  readonly lookUpShare: number;
  readonly frame: number;
}

const FRAGMENT = `
    uniform sampler2D seen, glow, curve;
    uniform bool hasGlow, isGraded, hasCurve;
    uniform highp sampler3D lookUp;
    uniform float lookUpShare;
    uniform vec3 least, most;
    uniform float contrast, saturation, warmth, vignette, grain, frame, aspect;
    uniform vec4 part;
    uniform vec2 firstPixel;
    varying vec2 at;
    #include <tonemapping_pars_fragment>
    ${CHANCE}
    vec3 graded(vec3 c) {
      c *= vec3(1.0 + 0.22 * warmth, 1.0 + 0.04 * warmth, 1.0 - 0.22 * warmth);
      float grey = dot(c, vec3(0.2126, 0.7152, 0.0722));
      c = mix(vec3(grey), c, 1.0 + saturation);
      c = (c - 0.5) * (1.0 + contrast) + 0.5;
      if (hasCurve) {
        vec3 along = clamp(c, 0.0, 1.0) * 255.0 / 256.0 + 0.5 / 256.0;
        c = vec3(texture2D(curve, vec2(along.r, 0.5)).r, texture2D(curve, vec2(along.g, 0.5)).r, texture2D(curve, vec2(along.b, 0.5)).r);
      }
      if (lookUpShare > 0.0) {
        // From the middle of the first entry to that of the last one.
        float size = float(textureSize(lookUp, 0).x);
        vec3 along = clamp((c - least) / (most - least), 0.0, 1.0) * (size - 1.0) / size + 0.5 / size;
        c = mix(c, texture(lookUp, along).rgb, lookUpShare);
      }
      vec2 off = (part.xy + at * part.zw - 0.5) * vec2(max(1.0, aspect), max(1.0, 1.0 / aspect)) * 1.2;
      c *= 1.0 - vignette * smoothstep(0.25, 1.1, dot(off, off) * 2.0);
      c += grain * 0.25 * (chance(vec3(gl_FragCoord.xy + firstPixel, frame)) - 0.5);
      return clamp(c, 0.0, 1.0);
    }
    void main() {
      vec4 light = texture2D(seen, at);
      // What is drawn of a part of a picture glows as the whole does.
      if (hasGlow) light += texture2D(glow, part.xy + at * part.zw);
      light.rgb = TONE(light.rgb);
      gl_FragColor = sRGBTransferOETF(light);
      if (isGraded) gl_FragColor.rgb = graded(gl_FragColor.rgb);
    }`;

export class DevelopPass extends Pass {
  private readonly material = new THREE.ShaderMaterial({
    uniforms: {
      seen: { value: null },
      glow: { value: null },
      hasGlow: { value: false },
      isGraded: { value: false },
      contrast: { value: 0 },
      saturation: { value: 0 },
      warmth: { value: 0 },
      vignette: { value: 0 },
      grain: { value: 0 },
      curve: { value: null },
      hasCurve: { value: false },
      lookUp: { value: null },
      lookUpShare: { value: 0 },
      least: { value: new THREE.Vector3() },
      most: { value: new THREE.Vector3(1, 1, 1) },
      frame: { value: 0 },
      aspect: { value: 1 },
      part: { value: new THREE.Vector4(...WHOLE) },
      firstPixel: { value: new THREE.Vector2() },
    },
    vertexShader: WHOLE_PICTURE,
    fragmentShader: FRAGMENT,
    depthTest: false,
    depthWrite: false,
    blending: THREE.NoBlending,
    toneMapped: false,
  });
  private readonly quad = new FullScreenQuad(this.material);
  /** Those that are on the card. */
  private lookUp: LookUp | null = null;
  private curve: Float32Array | null = null;
  /** What light is times before the tone curve. */
  private exposure = 1;

  /** @param glow what it spreads is added, where it is enabled */
  constructor(private readonly glow: GlowPass) {
    super();
  }

  /** @param exposure in stops */
  set(tone: Tone, exposure: number, grade: Grade, lookUp: LookUp | null): void {
    const { uniforms, defines } = this.material;
    if (defines?.TONE !== TONES[tone]) {
      this.material.defines = { TONE: TONES[tone] };
      this.material.needsUpdate = true;
    }
    this.exposure = 2 ** exposure;
    for (const name of GRADED) uniforms[name].value = grade[name];
    this.setCurve(grade.curve);
    this.setLookUp(lookUp, grade.lookUpShare);
    uniforms.isGraded.value =
      GRADED.some((name) => grade[name] !== 0) || grade.curve !== null || uniforms.lookUpShare.value > 0;
    uniforms.frame.value = grade.frame;
  }

  private setCurve(curve: Float32Array | null): void {
    const { uniforms } = this.material;
    uniforms.hasCurve.value = curve !== null;
    if (!curve || this.curve?.every((v, i) => v === curve[i])) return;
    this.curve = curve;
    uniforms.curve.value?.dispose();
    const values = Uint16Array.from(curve, THREE.DataUtils.toHalfFloat);
    const texture = new THREE.DataTexture(values, curve.length, 1, THREE.RedFormat, THREE.HalfFloatType);
    texture.minFilter = texture.magFilter = THREE.LinearFilter;
    texture.needsUpdate = true;
    uniforms.curve.value = texture;
  }

  private setLookUp(lookUp: LookUp | null, share: number): void {
    const { uniforms } = this.material;
    if (lookUp && lookUp !== this.lookUp) {
      this.lookUp = lookUp;
      const { size, colors, least, most } = lookUp;
      uniforms.lookUp.value?.dispose();
      const values = Uint16Array.from(colors, THREE.DataUtils.toHalfFloat);
      const texture = new THREE.Data3DTexture(values, size, size, size);
      texture.format = THREE.RGBAFormat;
      texture.type = THREE.HalfFloatType;
      texture.minFilter = texture.magFilter = THREE.LinearFilter;
      texture.needsUpdate = true;
      uniforms.lookUp.value = texture;
      uniforms.least.value.fromArray(least);
      uniforms.most.value.fromArray(most);
    }
    uniforms.lookUpShare.value = lookUp ? share : 0;
  }

  override setSize(width: number, height: number): void {
    const { aspect, part } = this.material.uniforms;
    aspect.value = (width * part.value.w) / (height * part.value.z);
  }

  /** Before the size of the part is set; null for the whole. */
  setPart(part: PicturePart | null): void {
    const { uniforms } = this.material;
    uniforms.part.value.fromArray(part ? inWhole(part) : WHOLE);
    uniforms.firstPixel.value.set(part?.x ?? 0, part ? part.whole[1] - part.y - part.height : 0);
  }

  override render(
    renderer: THREE.WebGLRenderer,
    writeBuffer: THREE.WebGLRenderTarget,
    readBuffer: THREE.WebGLRenderTarget,
  ): void {
    const { uniforms } = this.material;
    uniforms.seen.value = readBuffer.texture;
    uniforms.hasGlow.value = this.glow.enabled;
    uniforms.glow.value = this.glow.enabled ? this.glow.spread.texture : null;
    renderer.setRenderTarget(this.renderToScreen ? null : writeBuffer);
    // Three's tone curves read that of the renderer.
    renderer.toneMappingExposure = this.exposure;
    this.quad.render(renderer);
    renderer.toneMappingExposure = 1;
  }

  override dispose(): void {
    const { curve, lookUp } = this.material.uniforms;
    for (const part of [curve.value, lookUp.value, this.material, this.quad]) part?.dispose();
  }
}
