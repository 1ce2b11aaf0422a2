/**
 * Clones that are only a few pixels large are drawn as discs: four vertices each in place of a whole mesh. Both read the
 * same matrices and colours, and each vertex shader sends away what the other one draws, so that turning the camera
 * costs the page nothing a clone.
 */
import * as THREE from "three";
import type { WireBatch } from "@/engine/protocol";
import type { Lens } from "./stage-camera";

/** Pixels across of a clone from its matrix: the greatest of its axes counts. Needs `farRadius` and its kin. */
const PIXELS = `
  uniform float farLimit;
  uniform float farHeight;
  uniform float farRadius;
  uniform vec3 farMiddle;
  float pixelsAcross(mat4 placed, vec4 projected) {
    float size = max(length(placed[0].xyz), max(length(placed[1].xyz), length(placed[2].xyz)));
    return farRadius * size * projectionMatrix[1][1] * farHeight / max(1e-6, abs(projected.w));
  }
`;
/** Outside of what is seen. */
const AWAY = "gl_Position = vec4(2.0, 2.0, 2.0, 1.0)";

/** Light that a disc takes, and its part of the ball around the clone: about as bright and as large as the mesh looks. */
const BRIGHTNESS = 0.62;
const PART = 0.75;

interface Far {
  readonly disc: THREE.InstancedMesh;
  readonly box: THREE.Box3;
  /** Radius of the largest clone, units; infinite when it is not known. */
  reach: number;
}

export class FarClones {
  private readonly limit = { value: 0 };
  private readonly height = { value: 1 };
  private readonly quad = new THREE.PlaneGeometry(2, 2);
  private readonly discs = new Map<THREE.InstancedMesh, Far>();

  constructor(private readonly scene: THREE.Scene) {}

  get active(): boolean {
    return this.limit.value > 0;
  }

  /** Pixels across below which clones are discs; 0 draws all of them whole. */
  setLimit(pixels: number): void {
    this.limit.value = pixels;
  }

  /** Makes a material leave small clones of one geometry away. */
  adapt<T extends THREE.Material>(material: T, geometry: THREE.BufferGeometry): T {
    const uniforms = this.uniformsOf(geometry);
    const before = material.onBeforeCompile;
    material.onBeforeCompile = (shader, renderer) => {
      before(shader, renderer);
      Object.assign(shader.uniforms, uniforms);
      shader.vertexShader = shader.vertexShader.replace("void main() {", `${PIXELS}\nvoid main() {`).replace(
        "#include <project_vertex>",
        `#include <project_vertex>
          #ifdef USE_INSTANCING
            mat4 farPlaced = modelViewMatrix * instanceMatrix;
            vec4 farProjected = projectionMatrix * farPlaced * vec4(farMiddle, 1.0);
            if (pixelsAcross(farPlaced, farProjected) < farLimit) ${AWAY};
          #endif`,
      );
    };
    const key = material.customProgramCacheKey;
    material.customProgramCacheKey = () => `far clones ${key.call(material)}`;
    return material;
  }

  /** Gives a mesh its discs, or takes them away. */
  dress(mesh: THREE.InstancedMesh, batch?: WireBatch): void {
    let far = this.discs.get(mesh);
    if (!this.active) {
      if (far) this.undress(mesh);
      mesh.visible = true;
      return;
    }
    if (!far) {
      const disc = new THREE.InstancedMesh(this.quad, this.discMaterial(mesh.geometry), 0);
      disc.frustumCulled = false;
      this.scene.add(disc);
      far = { disc, box: new THREE.Box3(), reach: Number.POSITIVE_INFINITY };
      this.discs.set(mesh, far);
    }
    far.disc.instanceMatrix = mesh.instanceMatrix;
    far.disc.instanceColor = mesh.instanceColor;
    far.disc.count = mesh.count;
    if (!batch) return;
    far.reach = batch.bounds ? batch.reach : Number.POSITIVE_INFINITY;
    if (batch.bounds)
      far.box.set(new THREE.Vector3(...batch.bounds.min), new THREE.Vector3(...batch.bounds.max));
  }

  undress(mesh: THREE.InstancedMesh): void {
    const far = this.discs.get(mesh);
    if (!far) return;
    this.discs.delete(mesh);
    this.scene.remove(far.disc);
    (far.disc.material as THREE.Material).dispose();
  }

  /** Before drawing: leaves out whole meshes of which every clone is small. */
  prepare(camera: Lens, renderer: THREE.WebGLRenderer): void {
    this.height.value = renderer.getDrawingBufferSize(new THREE.Vector2()).y;
    const slant = camera instanceof THREE.PerspectiveCamera ? Math.cos(halfDiagonal(camera)) : 0;
    for (const [mesh, { box, reach }] of this.discs) {
      // In a parallel projection everything is as large as one unit away in a matrix of the other.
      const nearest = slant > 0 ? Math.max(camera.near, box.distanceToPoint(camera.position) * slant) : 1;
      const most = (reach * camera.projectionMatrix.elements[5] * this.height.value) / nearest;
      mesh.visible = !(most < this.limit.value);
    }
  }

  dispose(): void {
    for (const mesh of [...this.discs.keys()]) this.undress(mesh);
    this.quad.dispose();
  }

  private uniformsOf(geometry: THREE.BufferGeometry) {
    if (!geometry.boundingSphere) geometry.computeBoundingSphere();
    const { center, radius } = geometry.boundingSphere as THREE.Sphere;
    return {
      farLimit: this.limit,
      farHeight: this.height,
      farRadius: { value: radius },
      farMiddle: { value: center },
    };
  }

  private discMaterial(geometry: THREE.BufferGeometry): THREE.ShaderMaterial {
    return new THREE.ShaderMaterial({
      uniforms: { ...this.uniformsOf(geometry), brightness: { value: BRIGHTNESS }, part: { value: PART } },
      vertexShader: `
        ${PIXELS}
        uniform float part;
        varying vec3 tint;
        varying vec2 at;
        void main() {
          mat4 placed = modelViewMatrix * instanceMatrix;
          vec4 projected = projectionMatrix * placed * vec4(farMiddle, 1.0);
          float across = pixelsAcross(placed, projected);
          at = position.xy;
          tint = instanceColor.rgb;
          float aspect = projectionMatrix[1][1] / projectionMatrix[0][0];
          // Never less than a pixel, or it would come and go.
          vec2 offset = position.xy * max(across * part, 1.0) / farHeight * projected.w;
          gl_Position = projected + vec4(offset.x / aspect, offset.y, 0.0, 0.0);
          if (across >= farLimit) ${AWAY};
        }`,
      fragmentShader: `
        uniform float brightness;
        varying vec3 tint;
        varying vec2 at;
        void main() {
          if (dot(at, at) > 1.0) discard;
          gl_FragColor = vec4(tint * brightness, 1.0);
          #include <tonemapping_fragment>
          #include <colorspace_fragment>
        }`,
    });
  }
}

/** From the middle of the picture to its corner, radians: what is seen is at least as deep as its distance times this. */
function halfDiagonal(camera: THREE.PerspectiveCamera): number {
  const high = Math.tan((camera.fov * Math.PI) / 360);
  return Math.atan(high * Math.hypot(1, camera.aspect));
}
