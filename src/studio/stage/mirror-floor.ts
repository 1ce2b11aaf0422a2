/** A floor that mirrors what is above it: as glass does, or as a wet one that is rough and has puddles. */
import * as THREE from "three";
import { Reflector } from "three/examples/jsm/objects/Reflector.js";

/** How much of the light it gives back seen from straight above; along the floor it is all of it (Schlick, 1994). */
const STRAIGHT = { mirror: 0.6, wet: 0.2 } as const;
/** Parts of a unit of the picture's height by which a rough floor spreads what is as high above it as it is wide. */
const ROUGH = 0.03;

const SHADER = {
  name: "mirror floor",
  uniforms: {
    color: { value: null },
    tDiffuse: { value: null },
    textureMatrix: { value: null },
    middle: { value: new THREE.Vector3() },
    reach: { value: 1 },
    straight: { value: STRAIGHT.mirror },
    rough: { value: 0 },
    puddles: { value: 0 },
    lean: { value: new THREE.Vector2() },
    spread: { value: 1 },
  },
  vertexShader: `
    uniform mat4 textureMatrix;
    varying vec4 mirrored;
    varying vec3 place;
    #include <common>
    void main() {
      mirrored = textureMatrix * vec4(position, 1.0);
      place = (modelMatrix * vec4(position, 1.0)).xyz;
      gl_Position = projectionMatrix * viewMatrix * vec4(place, 1.0);
    }`,
  fragmentShader: `
    uniform sampler2D tDiffuse;
    uniform vec3 middle;
    uniform float reach, straight, rough, puddles, spread;
    uniform vec2 lean;
    varying vec4 mirrored;
    varying vec3 place;
    float chance(vec2 p) {
      vec3 q = fract(vec3(p.xyx) * 0.1031);
      q += dot(q, q.yzx + 33.33);
      return fract((q.x + q.y) * q.z);
    }
    float noise(vec2 p) {
      vec2 i = floor(p), f = fract(p);
      f = f * f * (3.0 - 2.0 * f);
      return mix(mix(chance(i), chance(i + vec2(1, 0)), f.x), mix(chance(i + vec2(0, 1)), chance(i + vec2(1, 1)), f.x), f.y);
    }
    void main() {
      vec2 at = mirrored.xy / mirrored.w;
      vec2 floorAt = (place.xz - middle.xz) / reach;
      float wet = 1.0;
      if (puddles > 0.0) {
        float low = noise(floorAt * 14.0) * 0.6 + noise(floorAt * 34.0) * 0.3 + noise(floorAt * 90.0) * 0.1;
        wet = mix(0.42, 1.0, smoothstep(0.34, 0.62, low));
      }
      float blur = rough * (1.6 - wet);
      vec3 seen;
      if (spread <= 0.0) seen = texture2D(tDiffuse, at + lean * vec2(0.45, 1.0) * blur).rgb;
      else {
        // All ways at once, along a spiral.
        seen = vec3(0.0);
        for (int i = 0; i < 12; i++) {
          float turn = float(i) * 2.399963;
          vec2 off = sqrt((float(i) + 0.5) / 12.0) * vec2(cos(turn), sin(turn));
          seen += texture2D(tDiffuse, at + off * vec2(0.45, 1.0) * blur).rgb / 12.0;
        }
      }
      float facing = clamp(normalize(cameraPosition - place).y, 0.0, 1.0);
      float given = straight + (1.0 - straight) * pow(1.0 - facing, 5.0);
      float far = 1.0 - smoothstep(0.35, 1.0, length(floorAt));
      gl_FragColor = vec4(seen, given * far * mix(0.7, 1.0, wet));
      #include <tonemapping_fragment>
      #include <colorspace_fragment>
    }`,
};

export class MirrorFloor {
  private readonly mesh = new Reflector(new THREE.CircleGeometry(1, 64), { shader: SHADER, multisample: 0 });

  constructor(private readonly scene: THREE.Scene) {
    const { material } = this;
    material.transparent = true;
    material.depthWrite = false;
    // Over the shadows that lie just as deep.
    material.polygonOffset = true;
    material.polygonOffsetFactor = material.polygonOffsetUnits = -4;
    const draw = this.mesh.onBeforeRender;
    this.mesh.onBeforeRender = (renderer, from, ...rest) => {
      // The mirrored eye is under the floor, where fog that lies low would be endlessly thick.
      const fog = from.fog as THREE.Fog | null;
      const density = fog?.near ?? 0;
      if (fog) fog.near = 0;
      draw.call(this.mesh, renderer, from, ...rest);
      if (fog) fog.near = density;
    };
    this.mesh.rotation.x = -Math.PI / 2;
    this.mesh.renderOrder = 1;
    scene.add(this.mesh);
  }

  set(wet: boolean): void {
    const { uniforms } = this.material;
    uniforms.straight.value = wet ? STRAIGHT.wet : STRAIGHT.mirror;
    uniforms.rough.value = wet ? ROUGH : 0;
    uniforms.puddles.value = wet ? 1 : 0;
  }

  /** @param reach in radii */
  place(at: THREE.Vector3, radius: number, reach: number): void {
    this.mesh.position.copy(at);
    this.mesh.scale.setScalar(radius * reach);
    this.material.uniforms.middle.value.copy(at);
    this.material.uniforms.reach.value = radius * reach;
  }

  /** @param on see Ground.look */
  look(pixels: THREE.Vector2, on: readonly [number, number] | null): void {
    const target = this.mesh.getRenderTarget();
    if (target.width !== pixels.x || target.height !== pixels.y) target.setSize(pixels.x, pixels.y);
    const { uniforms } = this.material;
    uniforms.spread.value = on ? 0 : 1;
    if (on) uniforms.lean.value.fromArray(on);
  }

  dispose(): void {
    this.scene.remove(this.mesh);
    this.mesh.geometry.dispose();
    this.mesh.dispose();
  }

  private get material(): THREE.ShaderMaterial {
    return this.mesh.material as THREE.ShaderMaterial;
  }
}
