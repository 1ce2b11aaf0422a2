/** What is behind everything: the background's colour, calm, with a soft horizon where there is a floor. */
import * as THREE from "three";

const VERTEX = `
uniform mat4 back;
varying vec3 seen;
void main() {
  vec4 far = back * vec4(position.xy, 1.0, 1.0);
  seen = far.xyz / far.w - cameraPosition;
  gl_Position = vec4(position.xy, 1.0, 1.0);
}`;

// The sky is lightest at the horizon and darkens upwards; the floor darkens towards the viewer. Noise of less than one step of
// 8 bits keeps the slow passages from showing bands.
const FRAGMENT = `
uniform vec3 base;
varying vec3 seen;
void main() {
  float up = normalize(seen).y;
  vec3 sky = mix(base * 1.55 + 0.006, base * 0.78, smoothstep(0.0, 0.75, up));
  vec3 ground = mix(base * 1.12, base * 0.82, smoothstep(0.0, 0.8, -up));
  vec3 color = mix(ground, sky, smoothstep(-0.03, 0.05, up));
  float grain = fract(sin(dot(gl_FragCoord.xy, vec2(12.9898, 78.233))) * 43758.5453) - 0.5;
  gl_FragColor = vec4(color, 1.0);
  #include <colorspace_fragment>
  gl_FragColor.rgb += grain / 255.0;
}`;

export class Backdrop {
  private readonly material = new THREE.ShaderMaterial({
    uniforms: { base: { value: new THREE.Color() }, back: { value: new THREE.Matrix4() } },
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  });
  private readonly mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.material);

  constructor(private readonly scene: THREE.Scene) {
    this.mesh.frustumCulled = false;
    this.mesh.renderOrder = -1000;
    this.mesh.onBeforeRender = (_renderer, _scene, camera) => {
      const { back } = this.material.uniforms;
      back.value.multiplyMatrices(camera.matrixWorld, camera.projectionMatrixInverse);
    };
    scene.add(this.mesh);
  }

  /** @param color linear; null for none, as in pictures without background @param horizon whether there is a floor */
  set(color: THREE.Color | null, horizon: boolean): void {
    this.mesh.visible = color !== null && horizon;
    this.scene.background = color;
    if (color) this.material.uniforms.base.value.copy(color);
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.material.dispose();
  }
}
