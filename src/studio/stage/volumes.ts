/**
 * Smoke and other volumes of densities: each line of sight is followed through the box, step by step, up to what stands in it (emission and
 * absorption after N. Max, "Optical models for direct volume rendering", 1995). How much light comes to each cell was worked out before.
 */
import * as THREE from "three";
import type { DrawVolume } from "@/core/draw/volume-drawing";
import { LOOK_COLORS } from "@/core/geometry/volume-look";
import { LAMP_SHADER, type LampUniforms, type LooseLight, lampUniforms, setLamps } from "./loose-lamps";
import { CHANCE } from "./shader-text";

/** The layer of all that stands in the way of what is seen in a volume. */
export const SOLID_LAYER = 1;

const VERTEX = `
  varying vec3 place;
  void main() {
    place = position;
    gl_Position = projectionMatrix * viewMatrix * modelMatrix * vec4(position, 1.0);
  }`;

const FRAGMENT = `
  precision highp sampler3D;
  uniform sampler3D cells;
  uniform sampler2D colors, depths;
  uniform vec3 low, high;
  uniform mat4 toBox, fromClip;
  uniform vec4 viewport;
  uniform vec3 eye, ahead;
  uniform float parallel, ends, thick, glow, most, mostDensity, mostHeat, byHeat, seed;
  uniform vec3 sky, key;
  uniform int steps;
  varying vec3 place;
  ${CHANCE}
  ${LAMP_SHADER}
  float densityAt(vec3 at) {
    vec3 part = (at - low) / (high - low);
    return any(lessThan(part, vec3(0.0))) || any(greaterThan(part, vec3(1.0))) ? 0.0 : texture(cells, part).r * mostDensity;
  }
  // What shines from lamps to a place, through the smoke that is between.
  vec3 lampLight(vec3 at) {
    vec3 sum = vec3(0.0);
    for (int n = 0; n < lamps; n++) {
      vec3 towards;
      float far;
      float falls = lampFalls(n, at, towards, far);
      if (falls <= 0.0) continue;
      vec3 ends = max((low - at) / towards, (high - at) / towards);
      float between = min(min(min(ends.x, ends.y), ends.z), far);
      float piece = between / float(LAMP_STEPS);
      float passed = 0.0;
      for (int k = 0; k < LAMP_STEPS; k++) passed += densityAt(at + towards * piece * (float(k) + 0.5));
      sum += lampColors[n].rgb * falls * exp(-thick * passed * piece);
    }
    return sum;
  }
  void main() {
    // In units of the box: from the eye, or in a parallel projection from far behind along the way that is looked.
    vec3 way = parallel > 0.5 ? normalize(ahead) : normalize(place - eye);
    vec3 from = parallel > 0.5 ? place - way * length(high - low) * 2.0 : eye;
    vec3 a = (low - from) / way, b = (high - from) / way;
    vec3 near3 = min(a, b), far3 = max(a, b);
    float near = max(0.0, max(near3.x, max(near3.y, near3.z)));
    float far = min(far3.x, min(far3.y, far3.z));
    // What stands in it ends the way.
    if (ends > 0.5) {
      vec2 at = (gl_FragCoord.xy - viewport.xy) / viewport.zw;
      vec4 stands = toBox * (fromClip * vec4(vec3(at, texture2D(depths, at).r) * 2.0 - 1.0, 1.0));
      far = min(far, dot(stands.xyz / stands.w - from, way));
    }
    if (far <= near) discard;
    float step = (far - near) / float(steps);
    float t = near + step * (0.5 + chance(vec3(gl_FragCoord.xy, seed)));
    vec3 light = vec3(0.0);
    float through = 1.0;
    for (int i = 0; i < 256; i++) {
      if (i >= steps || through < 0.01) break;
      vec3 cell = texture(cells, ((from + way * min(t, far)) - low) / (high - low)).rgb;
      float density = cell.r * mostDensity;
      if (density > 0.002) {
        float value = byHeat > 0.5 ? cell.g * mostHeat : density;
        vec3 color = texture2D(colors, vec2(clamp(value / most, 0.0, 1.0) * ${((LOOK_COLORS - 1) / LOOK_COLORS).toFixed(6)} + ${(0.5 / LOOK_COLORS).toFixed(6)}, 0.5)).rgb;
        float kept = exp(-thick * density * step);
        light += through * (1.0 - kept) * color * (sky + key * cell.b + glow + lampLight(from + way * min(t, far)));
        through *= kept;
      }
      t += step;
    }
    gl_FragColor = vec4(light, 1.0 - through);
    #include <tonemapping_fragment>
    #include <colorspace_fragment>
  }`;

/** Places on the way to a lamp where it is asked how thick the smoke is. */
const LAMP_STEPS = 4;

interface Shown {
  readonly meshes: THREE.Mesh[];
  readonly material: THREE.ShaderMaterial;
  readonly textures: THREE.Texture[];
}

export class Volumes {
  private shown: Shown[] = [];
  private depths: THREE.WebGLRenderTarget | null = null;
  private readonly box = new THREE.BoxGeometry(1, 1, 1);
  private readonly solid = new THREE.MeshBasicMaterial({ colorWrite: false, side: THREE.DoubleSide });

  constructor(private readonly scene: THREE.Scene) {}

  show(volumes: readonly DrawVolume[]): void {
    this.clear();
    this.shown = volumes.map((volume) => this.made(volume));
    for (const { meshes } of this.shown) for (const mesh of meshes) this.scene.add(mesh);
  }

  /**
   * Before every picture: what stands in the way is looked for.
   * @param light what shines into it
   * @param look which of several looks it is: each looks at other places along the way
   */
  prepare(renderer: THREE.WebGLRenderer, camera: THREE.Camera, light: LooseLight, look: number): void {
    if (this.shown.length === 0) return;
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    if (this.depths?.width !== size.x || this.depths.height !== size.y) {
      this.depths?.dispose();
      this.depths = new THREE.WebGLRenderTarget(size.x, size.y, {
        depthTexture: new THREE.DepthTexture(size.x, size.y),
      });
    }
    const before = {
      mask: camera.layers.mask,
      target: renderer.getRenderTarget(),
      background: this.scene.background,
    };
    const { autoUpdate, needsUpdate } = renderer.shadowMap;
    renderer.shadowMap.autoUpdate = false;
    renderer.shadowMap.needsUpdate = false;
    camera.layers.set(SOLID_LAYER);
    this.scene.overrideMaterial = this.solid;
    this.scene.background = null;
    renderer.setRenderTarget(this.depths);
    renderer.clear();
    renderer.render(this.scene, camera);
    renderer.setRenderTarget(before.target);
    this.scene.overrideMaterial = null;
    this.scene.background = before.background;
    camera.layers.mask = before.mask;
    renderer.shadowMap.autoUpdate = autoUpdate;
    renderer.shadowMap.needsUpdate = needsUpdate;
    for (const { meshes, material } of this.shown)
      for (const mesh of meshes)
        mesh.onBeforeRender = (_, _scene, seenBy) => {
          const { uniforms } = material;
          const toBox = mesh.matrixWorld.clone().invert();
          uniforms.toBox.value.copy(toBox);
          uniforms.fromClip.value.copy(seenBy.matrixWorld).multiply(seenBy.projectionMatrixInverse);
          uniforms.eye.value.setFromMatrixPosition(seenBy.matrixWorld).applyMatrix4(toBox);
          uniforms.ahead.value.set(0, 0, -1).transformDirection(seenBy.matrixWorld).transformDirection(toBox);
          uniforms.parallel.value = seenBy instanceof THREE.OrthographicCamera ? 1 : 0;
          uniforms.depths.value = this.depths?.depthTexture ?? null;
          // A mirror sees from elsewhere: what stands in its way is not known, and nothing is taken to.
          uniforms.ends.value = seenBy === camera ? 1 : 0;
          renderer.getCurrentViewport(uniforms.viewport.value);
          uniforms.seed.value = look;
          uniforms.sky.value.copy(light.sky);
          uniforms.key.value.copy(light.key);
          setLamps(uniforms as unknown as LampUniforms, light.lamps, toBox);
          // Copies share the material, and each is seen from elsewhere.
          material.uniformsNeedUpdate = true;
        };
  }

  dispose(): void {
    this.clear();
    this.depths?.dispose();
    this.box.dispose();
    this.solid.dispose();
  }

  private clear(): void {
    for (const { meshes, material, textures } of this.shown) {
      for (const mesh of meshes) this.scene.remove(mesh);
      meshes[0]?.geometry.dispose();
      material.dispose();
      for (const texture of textures) texture.dispose();
    }
    this.shown = [];
  }

  private made({ size, min, max, cells, mostDensity, mostHeat, look, matrices }: DrawVolume): Shown {
    const grid = new THREE.Data3DTexture(cells, size[0], size[1], size[2]);
    grid.format = THREE.RGBAFormat;
    grid.minFilter = grid.magFilter = THREE.LinearFilter;
    grid.needsUpdate = true;
    const rgba = new Float32Array(LOOK_COLORS * 4).fill(1);
    for (let i = 0; i < LOOK_COLORS; i++) rgba.set(look.colors.subarray(i * 3, i * 3 + 3), i * 4);
    const half = Uint16Array.from(rgba, THREE.DataUtils.toHalfFloat);
    const colors = new THREE.DataTexture(half, LOOK_COLORS, 1, THREE.RGBAFormat, THREE.HalfFloatType);
    colors.minFilter = colors.magFilter = THREE.LinearFilter;
    colors.needsUpdate = true;
    const [low, high] = [new THREE.Vector3(...min), new THREE.Vector3(...max)];
    const material = new THREE.ShaderMaterial({
      uniforms: {
        cells: { value: grid },
        colors: { value: colors },
        depths: { value: null },
        low: { value: low },
        high: { value: high },
        toBox: { value: new THREE.Matrix4() },
        fromClip: { value: new THREE.Matrix4() },
        viewport: { value: new THREE.Vector4(0, 0, 1, 1) },
        ends: { value: 0 },
        eye: { value: new THREE.Vector3() },
        ahead: { value: new THREE.Vector3() },
        parallel: { value: 0 },
        thick: { value: look.thick },
        glow: { value: look.glow },
        most: { value: look.most },
        mostDensity: { value: mostDensity },
        mostHeat: { value: mostHeat },
        byHeat: { value: look.by === "heat" ? 1 : 0 },
        seed: { value: 0 },
        sky: { value: new THREE.Color() },
        key: { value: new THREE.Color() },
        ...lampUniforms(),
        steps: { value: look.steps },
      },
      defines: { LAMP_STEPS },
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      side: THREE.BackSide,
      transparent: true,
      premultipliedAlpha: true,
      depthTest: false,
      depthWrite: false,
    });
    const geometry = this.box.clone().scale(high.x - low.x, high.y - low.y, high.z - low.z);
    geometry.translate((low.x + high.x) / 2, (low.y + high.y) / 2, (low.z + high.z) / 2);
    const meshes = Array.from({ length: matrices.length / 16 }, (_, i) => {
      const mesh = new THREE.Mesh(geometry, material);
      mesh.matrixAutoUpdate = false;
      mesh.matrix.fromArray(matrices, i * 16);
      mesh.frustumCulled = false;
      // After all other clear things.
      mesh.renderOrder = 900;
      return mesh;
    });
    return { meshes, material, textures: [grid, colors] };
  }
}
