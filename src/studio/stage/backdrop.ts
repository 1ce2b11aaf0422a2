/** What is behind everything: the background's colour, calm, with a soft horizon where there is a floor. */
import * as THREE from "three";
import { FOG_LOST } from "./fog";
import { inWhole, type PicturePart, WHOLE } from "./picture-part";

// The way that is seen at each place of the picture; in a parallel projection, as if from a little behind it.
const VERTEX = `
uniform vec4 part;
varying vec3 seen;
void main() {
  vec2 inWhole = (position.xy + 1.0) * part.zw + part.xy * 2.0 - 1.0;
  float aspect = projectionMatrix[1][1] * part.w / (projectionMatrix[0][0] * part.z);
  vec3 way = isOrthographic
    ? vec3(inWhole * vec2(aspect, 1.0) * 0.36, -1.0)
    : vec3((position.xy + projectionMatrix[2].xy) / vec2(projectionMatrix[0][0], projectionMatrix[1][1]), -1.0);
  seen = transpose(mat3(viewMatrix)) * way;
  gl_Position = vec4(position.xy, 1.0, 1.0);
}`;

// The sky is lightest at the horizon and darkens upwards; the floor darkens towards the viewer. Noise of less than one step of
// 8 bits keeps the slow passages from showing bands.
const FRAGMENT = `
uniform vec3 base, top, fogColor;
uniform bool hasTop, horizon;
uniform float fogDensity, fogTop, floorHeight;
varying vec3 seen;
${FOG_LOST}
void main() {
  float up = normalize(seen).y;
  vec3 sky = mix(base * 1.55 + 0.006, base * 0.78, smoothstep(0.0, 0.75, up));
  vec3 ground = mix(base * 1.12, base * 0.82, smoothstep(0.0, 0.8, -up));
  if (hasTop) sky = mix(horizon ? sky : base, top, smoothstep(horizon ? 0.0 : -0.4, horizon ? 0.7 : 0.5, up));
  vec3 color = horizon ? mix(ground, sky, smoothstep(-0.03, 0.05, up)) : sky;
  float grain = fract(sin(dot(gl_FragCoord.xy, vec2(12.9898, 78.233))) * 43758.5453) - 0.5;
  if (fogDensity > 0.0) {
    // As far as the floor, or as good as endlessly.
    vec3 way = normalize(seen);
    float down = cameraPosition.y - floorHeight;
    float far = way.y < 0.0 && down > 0.0 ? min(1e4, down / -way.y) : 1e4;
    color = mix(color, fogColor, fogLost(fogDensity, fogTop, cameraPosition.y, far, way.y * far));
  }
  gl_FragColor = vec4(color, 1.0);
  #include <colorspace_fragment>
  gl_FragColor.rgb += grain / 255.0;
}`;

export class Backdrop {
  private readonly material = new THREE.ShaderMaterial({
    uniforms: {
      base: { value: new THREE.Color() },
      top: { value: new THREE.Color() },
      hasTop: { value: false },
      horizon: { value: true },
      fogColor: { value: new THREE.Color() },
      fogDensity: { value: 0 },
      fogTop: { value: 0 },
      floorHeight: { value: 0 },
      part: { value: new THREE.Vector4(...WHOLE) },
    },
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
    this.mesh.onBeforeRender = () => {
      const { uniforms } = this.material;
      const fog = scene.fog as THREE.Fog | null;
      uniforms.fogDensity.value = fog?.near ?? 0;
      uniforms.fogTop.value = fog?.far ?? 0;
      if (fog) uniforms.fogColor.value.copy(fog.color);
    };
    scene.add(this.mesh);
  }

  /**
   * @param color linear; null for none, as in pictures without background
   * @param horizon whether there is a floor @param above the colour high up, where there are two
   */
  set(color: THREE.Color | null, horizon: boolean, above: THREE.Color | null = null): void {
    const { uniforms } = this.material;
    this.mesh.visible = color !== null && (horizon || above !== null);
    this.scene.background = color;
    uniforms.horizon.value = horizon;
    uniforms.hasTop.value = above !== null;
    if (color) uniforms.base.value.copy(color);
    if (above) uniforms.top.value.copy(above);
  }

  /** What is all around is seen in place of colours. */
  surround(texture: THREE.Texture): void {
    this.mesh.visible = false;
    this.scene.background = texture;
  }

  /** Where fog ends below. */
  setFloor(height: number): void {
    this.material.uniforms.floorHeight.value = height;
  }

  setPart(part: PicturePart | null): void {
    this.material.uniforms.part.value.fromArray(part ? inWhole(part) : WHOLE);
  }

  dispose(): void {
    this.mesh.geometry.dispose();
    this.material.dispose();
  }
}
