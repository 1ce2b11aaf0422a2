/** What is done to pictures after they are drawn, by passes of three.js, each only where it is asked for. */
import * as THREE from "three";
import { EffectComposer } from "three/examples/jsm/postprocessing/EffectComposer.js";
import { GTAOPass } from "three/examples/jsm/postprocessing/GTAOPass.js";
import { OutputPass } from "three/examples/jsm/postprocessing/OutputPass.js";
import { RenderPass } from "three/examples/jsm/postprocessing/RenderPass.js";
import { ShaderPass } from "three/examples/jsm/postprocessing/ShaderPass.js";
import { UnrealBloomPass } from "three/examples/jsm/postprocessing/UnrealBloomPass.js";
import type { Tone } from "@/core/nodes/dress/finish";
import type { StageSettings } from "@/engine/protocol";

type Settings = NonNullable<StageSettings["finish"]>;

const MAPPINGS: Readonly<Record<Tone, THREE.ToneMapping>> = {
  neutral: THREE.NeutralToneMapping,
  film: THREE.ACESFilmicToneMapping,
  "soft film": THREE.AgXToneMapping,
  plain: THREE.LinearToneMapping,
};

/** Of the five widths of glow that are added up. */
const SPREAD = 0.45;

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
    frame: { value: 0 },
    aspect: { value: 1 },
  },
  vertexShader: `
    varying vec2 at;
    void main() {
      at = uv;
      gl_Position = vec4(position.xy, 0.0, 1.0);
    }`,
  fragmentShader: `
    uniform sampler2D tDiffuse;
    uniform float contrast, saturation, warmth, vignette, grain, frame, aspect;
    varying vec2 at;
    // A hash of the pixel and the frame (D. Hoskins, "Hash without Sine", 2014).
    float chance(vec3 p) {
      p = fract(p * 0.1031);
      p += dot(p, p.zyx + 31.32);
      return fract((p.x + p.y) * p.z);
    }
    void main() {
      vec4 seen = texture2D(tDiffuse, at);
      vec3 c = seen.rgb;
      c *= vec3(1.0 + 0.22 * warmth, 1.0 + 0.04 * warmth, 1.0 - 0.22 * warmth);
      float grey = dot(c, vec3(0.2126, 0.7152, 0.0722));
      c = mix(vec3(grey), c, 1.0 + saturation);
      c = (c - 0.5) * (1.0 + contrast) + 0.5;
      vec2 off = (at - 0.5) * vec2(max(1.0, aspect), max(1.0, 1.0 / aspect)) * 1.2;
      c *= 1.0 - vignette * smoothstep(0.25, 1.1, dot(off, off) * 2.0);
      c += grain * 0.25 * (chance(vec3(gl_FragCoord.xy, frame)) - 0.5);
      gl_FragColor = vec4(clamp(c, 0.0, 1.0), seen.a);
    }`,
};

export class Finish {
  private readonly composer: EffectComposer;
  private readonly occlusion: GTAOPass;
  private readonly glow: UnrealBloomPass;
  private readonly grade = new ShaderPass(GRADE);

  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: THREE.Camera,
  ) {
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    const target = new THREE.WebGLRenderTarget(size.x, size.y, {
      type: THREE.HalfFloatType,
      samples: SAMPLES,
    });
    this.composer = new EffectComposer(renderer, target);
    this.occlusion = new GTAOPass(scene, camera, size.x, size.y);
    this.glow = new UnrealBloomPass(size, 0, 0, 1);
    for (const pass of [
      new RenderPass(scene, camera),
      this.occlusion,
      this.glow,
      new OutputPass(),
      this.grade,
    ])
      this.composer.addPass(pass);
  }

  set(settings: Settings): void {
    const { tone, exposure, glow, glowFrom, glowSize, reach, occlusion, frame, ...graded } = settings;
    this.renderer.toneMapping = MAPPINGS[tone];
    this.renderer.toneMappingExposure = 2 ** exposure;
    this.glow.enabled = glow > 0;
    this.glow.strength = glow * SPREAD;
    this.glow.threshold = glowFrom;
    this.glow.radius = glowSize;
    this.occlusion.blendIntensity = Math.min(1, occlusion);
    this.occlusion.updateGtaoMaterial({ radius: reach, scale: Math.max(1, occlusion), samples: 12 });
    this.grade.enabled = Object.values(graded).some((value) => value !== 0);
    const { uniforms } = this.grade;
    for (const [name, value] of Object.entries(graded)) uniforms[name].value = value;
    uniforms.frame.value = frame;
  }

  resize(width: number, height: number, pixelRatio: number): void {
    this.composer.setPixelRatio(pixelRatio);
    this.composer.setSize(width, height);
    this.grade.uniforms.aspect.value = width / height;
  }

  /** @param whole with what costs much */
  render(whole: boolean): void {
    this.occlusion.enabled = whole && this.occlusion.blendIntensity > 0;
    this.composer.render();
  }

  dispose(): void {
    this.composer.dispose();
    for (const pass of [this.occlusion, this.glow, this.grade]) pass.dispose();
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.toneMappingExposure = 1;
  }
}
