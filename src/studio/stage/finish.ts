/** What is done to pictures after they are drawn, by passes of three.js, each only where it is asked for. */
import * as THREE from "three";
import { EffectComposer } from "three/examples/jsm/postprocessing/EffectComposer.js";
import { GTAOPass } from "three/examples/jsm/postprocessing/GTAOPass.js";
import { OutputPass } from "three/examples/jsm/postprocessing/OutputPass.js";
import type { Pass } from "three/examples/jsm/postprocessing/Pass.js";
import { RenderPass } from "three/examples/jsm/postprocessing/RenderPass.js";
import { ShaderPass } from "three/examples/jsm/postprocessing/ShaderPass.js";
import type { LookUp } from "@/core/maths/look-up";
import { type Tone, USUAL_SAMPLES } from "@/core/nodes/dress/finish";
import type { StageSettings } from "@/engine/protocol";
import { GatherPass, WHOLE_PICTURE } from "./gather-pass";
import { GlowPass } from "./glow-pass";
import { inWhole, type PicturePart, WHOLE } from "./picture-part";
import { CHANCE } from "./shader-text";

type Settings = Omit<NonNullable<StageSettings["finish"]>, "lookUp">;

/** Of pictures that are only gathered. */
export const PLAIN: Settings = {
  occlusion: 0,
  reach: 1,
  glow: 0,
  glowFrom: 1,
  glowSize: 0,
  fog: 0,
  fogTop: 0,
  fogColor: [0, 0, 0],
  exposure: 0,
  tone: "neutral",
  contrast: 0,
  saturation: 0,
  warmth: 0,
  curve: null,
  lookUpShare: 0,
  vignette: 0,
  grain: 0,
  samples: USUAL_SAMPLES,
  frame: 0,
};

const MAPPINGS: Readonly<Record<Tone, THREE.ToneMapping>> = {
  neutral: THREE.NeutralToneMapping,
  film: THREE.ACESFilmicToneMapping,
  "soft film": THREE.AgXToneMapping,
  plain: THREE.LinearToneMapping,
};

/** Of the five widths of glow that are added up. */
const SPREAD = 0.45;

/** Numbers of the grade that stand in settings by the same names. */
const GRADED = ["contrast", "saturation", "warmth", "vignette", "grain"] as const;

/** Edges of pictures that go through passes are drawn so many times as fine. */
const SAMPLES = 4;

/** Colour, corners and grain, of what a screen shows. */
const GRADE = {
  uniforms: {
    tDiffuse: { value: null },
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
  fragmentShader: `
    uniform sampler2D tDiffuse;
    uniform sampler2D curve;
    uniform bool hasCurve;
    uniform highp sampler3D lookUp;
    uniform float lookUpShare;
    uniform vec3 least, most;
    uniform float contrast, saturation, warmth, vignette, grain, frame, aspect;
    uniform vec4 part;
    uniform vec2 firstPixel;
    varying vec2 at;
    ${CHANCE}
    void main() {
      vec4 seen = texture2D(tDiffuse, at);
      vec3 c = seen.rgb;
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
      gl_FragColor = vec4(clamp(c, 0.0, 1.0), seen.a);
    }`,
};

export class Finish {
  /** Where each picture is one look, its edges are drawn finer; where looks are gathered, those are what makes them fine. */
  private readonly once: EffectComposer;
  private readonly gathering: EffectComposer;
  private readonly occlusion: GTAOPass;
  private readonly gather = new GatherPass();
  private readonly glow = new GlowPass();
  private readonly grade = new ShaderPass(GRADE);
  /** Those that are on the card. */
  private lookUp: LookUp | null = null;
  private curve: Float32Array | null = null;

  /** @param deep with all bits of what is gathered, for files */
  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    scene: THREE.Scene,
    readonly camera: THREE.Camera,
    deep: boolean,
  ) {
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    this.occlusion = new GTAOPass(scene, camera, size.x, size.y);
    const [seen, shown] = [new RenderPass(scene, camera), new OutputPass()];
    const composer = (type: THREE.TextureDataType, samples: number, passes: readonly Pass[]) => {
      const target = new THREE.WebGLRenderTarget(size.x, size.y, { type, samples });
      const made = new EffectComposer(renderer, target);
      for (const pass of passes) made.addPass(pass);
      return made;
    };
    this.once = composer(THREE.HalfFloatType, SAMPLES, [seen, this.occlusion, this.glow, shown, this.grade]);
    this.gathering = composer(deep ? THREE.FloatType : THREE.HalfFloatType, 0, [
      seen,
      this.occlusion,
      this.gather,
      this.glow,
      shown,
      this.grade,
    ]);
  }

  set(settings: Settings, lookUp: LookUp | null): void {
    const { tone, exposure, glow, glowFrom, glowSize, reach, occlusion, frame } = settings;
    this.renderer.toneMapping = MAPPINGS[tone];
    this.renderer.toneMappingExposure = 2 ** exposure;
    this.glow.enabled = glow > 0;
    this.glow.set(glow * SPREAD, glowFrom, glowSize);
    this.occlusion.blendIntensity = Math.min(1, occlusion);
    this.occlusion.updateGtaoMaterial({ radius: reach, scale: Math.max(1, occlusion), samples: 12 });
    const { uniforms } = this.grade;
    for (const name of GRADED) uniforms[name].value = settings[name];
    this.setCurve(settings.curve);
    this.setLookUp(lookUp, settings.lookUpShare);
    this.grade.enabled =
      GRADED.some((name) => settings[name] !== 0) ||
      settings.curve !== null ||
      uniforms.lookUpShare.value > 0;
    uniforms.frame.value = frame;
  }

  private setCurve(curve: Float32Array | null): void {
    const { uniforms } = this.grade;
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
    const { uniforms } = this.grade;
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

  resize(width: number, height: number, pixelRatio: number): void {
    for (const composer of [this.once, this.gathering]) {
      composer.setPixelRatio(pixelRatio);
      composer.setSize(width, height);
    }
    const { value: part } = this.grade.uniforms.part;
    this.grade.uniforms.aspect.value = (width * part.w) / (height * part.z);
  }

  /** Before the size of the part is set. */
  setPart(part: PicturePart | null): void {
    const { uniforms } = this.grade;
    const place = part ? inWhole(part) : WHOLE;
    uniforms.part.value.fromArray(place);
    uniforms.firstPixel.value.set(part?.x ?? 0, part ? part.whole[1] - part.y - part.height : 0);
    this.glow.setPart(part ? place : null);
  }

  /** Whether what is bright spreads. */
  get hasGlow(): boolean {
    return this.glow.enabled;
  }

  /**
   * @param whole with what costs much
   * @param number how many looks are gathered with this one; 0 shows it alone
   */
  render(whole: boolean, number = 0): void {
    this.occlusion.enabled = whole && this.occlusion.blendIntensity > 0;
    this.gather.number = number;
    (number > 0 ? this.gathering : this.once).render();
  }

  /** Red, green, blue and alpha of each pixel as they were gathered, linear, before glow and tone; rows from the bottom. */
  gathered(): Float32Array {
    return this.read(this.gather.gathered);
  }

  /** The same as they are shown, from 0 to 1. */
  developed(): Float32Array {
    this.gathering.renderToScreen = false;
    // What was gathered is not gathered again: the mean of itself and nothing more.
    const [scene] = this.gathering.passes;
    scene.enabled = this.occlusion.enabled = false;
    this.gather.number = 0;
    this.gathering.render();
    scene.enabled = true;
    this.gathering.renderToScreen = true;
    return this.read(this.gathering.readBuffer);
  }

  private read(target: THREE.WebGLRenderTarget): Float32Array {
    const { width, height } = target;
    const pixels = new Float32Array(width * height * 4);
    this.renderer.readRenderTargetPixels(target, 0, 0, width, height, pixels);
    return pixels;
  }

  dispose(): void {
    this.once.dispose();
    this.gathering.dispose();
    this.grade.uniforms.curve.value?.dispose();
    this.grade.uniforms.lookUp.value?.dispose();
    for (const pass of [this.occlusion, this.gather, this.glow, this.grade]) pass.dispose();
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.toneMappingExposure = 1;
  }
}
