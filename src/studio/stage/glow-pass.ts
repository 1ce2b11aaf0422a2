/**
 * What is bright spreads; what develops the picture adds it (develop-pass.ts). It is as wide on pictures of every size: the bloom of three.js spreads by pixels, so it works on a picture of one size, made
 * smaller by halves so that nothing that is bright falls between its pixels.
 */
import * as THREE from "three";
import { FullScreenQuad, Pass } from "three/examples/jsm/postprocessing/Pass.js";
import { UnrealBloomPass } from "three/examples/jsm/postprocessing/UnrealBloomPass.js";
import { WHOLE_PICTURE } from "./gather-pass";

/** Pixels along the shorter side of what it works on. */
const SIDE = 720;
/** Along the longer one at most: of a long narrow picture it is less fine. */
const MOST_ALONG = 4 * SIDE;

const picture = (width: number, height: number): THREE.WebGLRenderTarget =>
  new THREE.WebGLRenderTarget(width, height, { type: THREE.HalfFloatType, depthBuffer: false });

export class GlowPass extends Pass {
  private readonly bloom = new UnrealBloomPass(new THREE.Vector2(SIDE, SIDE), 0, 0, 1);
  /** Each half as large as the one before, down to less than twice what the bloom works on; none where the picture is small. */
  private smaller: THREE.WebGLRenderTarget[] = [];
  private readonly copy = new THREE.ShaderMaterial({
    uniforms: { from: { value: null } },
    vertexShader: WHOLE_PICTURE,
    fragmentShader:
      "uniform sampler2D from; varying vec2 at; void main() { gl_FragColor = texture2D(from, at); }",
    depthTest: false,
    depthWrite: false,
    blending: THREE.NoBlending,
    toneMapped: false,
  });
  private readonly quad = new FullScreenQuad(this.copy);

  /** A part of a picture is drawn, whose glow is that of the last whole one. */
  isPart = false;

  constructor() {
    super();
    this.needsSwap = false;
    this.bloom.renderToScreen = false;
    // It would add what it spreads to what it read.
    this.bloom.blendMaterial.visible = false;
  }

  /** What is to be added to the whole picture. */
  get spread(): THREE.WebGLRenderTarget {
    return this.bloom.renderTargetsHorizontal[0];
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
    const scale = Math.min(SIDE / Math.min(width, height), MOST_ALONG / Math.max(width, height));
    const [wide, high] = [width, height].map((pixels) => Math.max(1, Math.round(pixels * scale)));
    this.smaller = [];
    for (let [w, h] = [width / 2, height / 2]; w > wide; [w, h] = [w / 2, h / 2])
      this.smaller.push(picture(Math.round(w), Math.round(h)));
    this.bloom.setSize(wide, high);
  }

  override render(
    renderer: THREE.WebGLRenderer,
    _: THREE.WebGLRenderTarget,
    seen: THREE.WebGLRenderTarget,
  ): void {
    if (this.isPart) return;
    let from = seen;
    for (const target of this.smaller) {
      this.copy.uniforms.from.value = from.texture;
      renderer.setRenderTarget(target);
      this.quad.render(renderer);
      from = target;
    }
    this.bloom.render(renderer, from, from, 0, false);
  }

  override dispose(): void {
    for (const target of this.smaller) target.dispose();
    for (const part of [this.bloom, this.copy, this.quad]) part.dispose();
  }
}
