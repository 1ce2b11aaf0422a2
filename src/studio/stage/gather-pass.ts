/** The mean of all looks at a scene so far, in linear light and before any tone curve. */
import * as THREE from "three";
import { FullScreenQuad, Pass } from "three/examples/jsm/postprocessing/Pass.js";

/** For passes over all of a picture. */
export const WHOLE_PICTURE = `
varying vec2 at;
void main() {
  at = uv;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;

/** The mean with one more: before + (look − before) ÷ number. */
const FRAGMENT = `
uniform sampler2D before;
uniform sampler2D look;
uniform float share;
varying vec2 at;
void main() {
  gl_FragColor = mix(texture2D(before, at), texture2D(look, at), share);
}`;

const floats = (): THREE.WebGLRenderTarget =>
  new THREE.WebGLRenderTarget(1, 1, {
    type: THREE.FloatType,
    minFilter: THREE.NearestFilter,
    magFilter: THREE.NearestFilter,
    depthBuffer: false,
  });

export class GatherPass extends Pass {
  /** How many looks there are with the one that comes; 0 for none that comes. */
  number = 1;
  private before = floats();
  private mean = floats();
  private readonly mixing = new THREE.ShaderMaterial({
    uniforms: { before: { value: null }, look: { value: null }, share: { value: 1 } },
    vertexShader: WHOLE_PICTURE,
    fragmentShader: FRAGMENT,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  });
  private readonly quad = new FullScreenQuad(this.mixing);

  /** What has been gathered: floats, linear, as they come from the scene. */
  get gathered(): THREE.WebGLRenderTarget {
    return this.mean;
  }

  override setSize(width: number, height: number): void {
    this.before.setSize(width, height);
    this.mean.setSize(width, height);
  }

  override render(
    renderer: THREE.WebGLRenderer,
    writeBuffer: THREE.WebGLRenderTarget,
    readBuffer: THREE.WebGLRenderTarget,
  ): void {
    if (this.number > 0) {
      [this.before, this.mean] = [this.mean, this.before];
      this.lay(renderer, readBuffer, 1 / this.number, this.mean);
    }
    this.lay(renderer, this.mean, 1, writeBuffer);
  }

  override dispose(): void {
    this.before.dispose();
    this.mean.dispose();
    this.mixing.dispose();
    this.quad.dispose();
  }

  private lay(
    renderer: THREE.WebGLRenderer,
    look: THREE.WebGLRenderTarget,
    share: number,
    onto: THREE.WebGLRenderTarget,
  ): void {
    const { uniforms } = this.mixing;
    // Nothing counts of what was there before the first look, whatever it is.
    uniforms.before.value = share === 1 ? look.texture : this.before.texture;
    uniforms.look.value = look.texture;
    uniforms.share.value = share;
    renderer.setRenderTarget(onto);
    this.quad.render(renderer);
  }
}
