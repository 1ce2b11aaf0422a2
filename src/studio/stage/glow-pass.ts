/**
 * What is bright spreads, as wide on pictures of every size: the bloom of three.js spreads by pixels, so it works on a picture of one size, made
 * smaller by halves so that nothing that is bright falls between its pixels.
 */
import * as THREE from "three";
import { FullScreenQuad, Pass } from "three/examples/jsm/postprocessing/Pass.js";
import { UnrealBloomPass } from "three/examples/jsm/postprocessing/UnrealBloomPass.js";
import { WHOLE_PICTURE } from "./gather-pass";
import { WHOLE } from "./picture-part";

/** Pixels along the shorter side of what it works on. */
const SIDE = 720;

const picture = (width: number, height: number): THREE.WebGLRenderTarget =>
  new THREE.WebGLRenderTarget(width, height, { type: THREE.HalfFloatType, depthBuffer: false });

const copying = (more: THREE.ShaderMaterialParameters): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    uniforms: { from: { value: null }, part: { value: new THREE.Vector4(...WHOLE) } },
    vertexShader: WHOLE_PICTURE,
    fragmentShader:
      "uniform sampler2D from; varying vec2 at; void main() { gl_FragColor = texture2D(from, at); }",
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    ...more,
  });

export class GlowPass extends Pass {
  private readonly bloom = new UnrealBloomPass(new THREE.Vector2(SIDE, SIDE), 0, 0, 1);
  /** Each half as large as the one before, down to what the bloom works on. */
  private smaller: THREE.WebGLRenderTarget[] = [];
  private readonly copy = copying({ blending: THREE.NoBlending });
  private readonly add = copying({
    blending: THREE.CustomBlending,
    blendSrc: THREE.OneFactor,
    blendDst: THREE.OneFactor,
  });
  private readonly quad = new FullScreenQuad(this.copy);

  /** A part of a picture is drawn, whose glow is that of the last whole one. */
  private isPart = false;

  constructor() {
    super();
    this.needsSwap = false;
  }

  /** @param part where it begins and how large it is, in parts of the whole; null for the whole */
  setPart(part: readonly [number, number, number, number] | null): void {
    this.isPart = part !== null;
    this.add.uniforms.part.value.fromArray(part ?? WHOLE);
  }

  /** @param strength how much is added @param from from which brightness on @param size how wide, from 0 to 1 */
  set(strength: number, from: number, size: number): void {
    this.bloom.strength = strength;
    this.bloom.threshold = from;
    this.bloom.radius = size;
  }

  override setSize(width: number, height: number): void {
    if (this.isPart) return;
    for (const target of this.smaller) target.dispose();
    const scale = SIDE / Math.min(width, height);
    const [wide, high] = [Math.round(width * scale), Math.round(height * scale)];
    this.smaller = [];
    for (let [w, h] = [width / 2, height / 2]; w > wide; [w, h] = [w / 2, h / 2])
      this.smaller.push(picture(Math.round(w), Math.round(h)));
    this.smaller.push(picture(wide, high));
    this.bloom.setSize(wide, high);
  }

  override render(
    renderer: THREE.WebGLRenderer,
    _: THREE.WebGLRenderTarget,
    seen: THREE.WebGLRenderTarget,
  ): void {
    if (!this.isPart) this.spread(renderer, seen);
    const { autoClear } = renderer;
    renderer.autoClear = false;
    this.lay(renderer, this.add, this.bloom.renderTargetsHorizontal[0], seen);
    renderer.autoClear = autoClear;
  }

  private spread(renderer: THREE.WebGLRenderer, seen: THREE.WebGLRenderTarget): void {
    let from = seen;
    for (const target of this.smaller) {
      this.lay(renderer, this.copy, from, target);
      from = target;
    }
    this.bloom.renderToScreen = false;
    this.bloom.render(renderer, from, from, 0, false);
  }

  private lay(
    renderer: THREE.WebGLRenderer,
    material: THREE.ShaderMaterial,
    from: THREE.WebGLRenderTarget,
    onto: THREE.WebGLRenderTarget,
  ): void {
    material.uniforms.from.value = from.texture;
    this.quad.material = material;
    renderer.setRenderTarget(onto);
    this.quad.render(renderer);
  }

  override dispose(): void {
    for (const target of this.smaller) target.dispose();
    for (const part of [this.bloom, this.copy, this.add, this.quad]) part.dispose();
  }
}
