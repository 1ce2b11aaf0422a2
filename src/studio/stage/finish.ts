/** What is done to pictures after they are drawn, by passes of three.js, each only where it is asked for. */
import * as THREE from "three";
import { EffectComposer } from "three/examples/jsm/postprocessing/EffectComposer.js";
import { GTAOPass } from "three/examples/jsm/postprocessing/GTAOPass.js";
import type { Pass } from "three/examples/jsm/postprocessing/Pass.js";
import { RenderPass } from "three/examples/jsm/postprocessing/RenderPass.js";
import type { LookUp } from "@/core/maths/look-up";
import { USUAL_SAMPLES } from "@/core/nodes/dress/finish";
import type { StageSettings } from "@/engine/protocol";
import { DevelopPass } from "./develop-pass";
import { GatherPass } from "./gather-pass";
import { GlowPass } from "./glow-pass";
import type { PicturePart } from "./picture-part";

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

/** Of the five widths of glow that are added up. */
const SPREAD = 0.45;

/** Edges of pictures that go through passes are drawn so many times as fine. */
const SAMPLES = 4;

export class Finish {
  /** Where each picture is one look, its edges are drawn finer; where looks are gathered, those are what makes them fine. */
  private readonly once: EffectComposer;
  private readonly gathering: EffectComposer;
  private readonly occlusion: GTAOPass;
  private readonly gather = new GatherPass();
  private readonly glow = new GlowPass();
  private readonly develop = new DevelopPass(this.glow);

  /** @param deep with all bits of what is gathered, for files */
  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    scene: THREE.Scene,
    readonly camera: THREE.Camera,
    deep: boolean,
  ) {
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    this.occlusion = new GTAOPass(scene, camera, size.x, size.y);
    const seen = new RenderPass(scene, camera);
    const composer = (type: THREE.TextureDataType, samples: number, passes: readonly Pass[]) => {
      const made = new EffectComposer(renderer, new THREE.WebGLRenderTarget(size.x, size.y, { type }));
      // The scene is drawn into the second; edges are of no use to what is made of it.
      made.renderTarget2.samples = samples;
      for (const pass of passes) made.addPass(pass);
      return made;
    };
    this.once = composer(THREE.HalfFloatType, SAMPLES, [seen, this.occlusion, this.glow, this.develop]);
    this.gathering = composer(deep ? THREE.FloatType : THREE.HalfFloatType, 0, [
      seen,
      this.occlusion,
      this.gather,
      this.glow,
      this.develop,
    ]);
  }

  set(settings: Settings, lookUp: LookUp | null): void {
    const { tone, exposure, glow, glowFrom, glowSize, reach, occlusion } = settings;
    this.glow.enabled = glow > 0;
    this.glow.set(glow * SPREAD, glowFrom, glowSize);
    this.occlusion.blendIntensity = Math.min(1, occlusion);
    this.occlusion.updateGtaoMaterial({ radius: reach, scale: Math.max(1, occlusion), samples: 12 });
    this.develop.set(tone, exposure, settings, lookUp);
  }

  resize(width: number, height: number, pixelRatio: number): void {
    for (const composer of [this.once, this.gathering]) {
      composer.setPixelRatio(pixelRatio);
      composer.setSize(width, height);
    }
  }

  /** Before the size of the part is set. */
  setPart(part: PicturePart | null): void {
    this.develop.setPart(part);
    this.glow.isPart = part !== null;
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
    const composer = number > 0 ? this.gathering : this.once;
    // Passes swap both, as many as there are just now.
    composer.readBuffer = composer.renderTarget2;
    composer.writeBuffer = composer.renderTarget1;
    composer.render();
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
    for (const pass of [this.occlusion, this.gather, this.glow, this.develop]) pass.dispose();
  }
}
