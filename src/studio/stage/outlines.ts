/**
 * Lines around clones: each mesh is drawn once more from behind, grown by some pixels along its smoothed normals
 * (common practice, no source). Shares geometry, matrices and count with the mesh it surrounds. Elements may say how wide theirs is, and in which colour.
 */
import * as THREE from "three";
import { COPY_LOOKS, copyLooksOf } from "./copy-looks";
import { outlineLook, VERTEX_LOOKS } from "./look-shader";

/** The attribute that the engine gives meshes that have lines. */
export const OUTWARD = "outward";

export class Outlines {
  private width = 0;
  private readonly uniforms = {
    ink: { value: new THREE.Color() },
    width: { value: 0 },
    size: { value: new THREE.Vector2() },
  };
  /** By who says anything of lines. */
  private readonly materials = new Map<string, THREE.ShaderMaterial>();

  /** Pixels and linear colour. */
  set(width: number, ink: readonly number[]): void {
    this.width = width;
    this.uniforms.width.value = width;
    this.uniforms.ink.value.setRGB(ink[0], ink[1], ink[2]);
  }

  /** Gives a mesh its line, or takes it away. */
  dress(mesh: THREE.InstancedMesh): void {
    let line = mesh.children.find((child) => child instanceof THREE.InstancedMesh) as
      | THREE.InstancedMesh
      | undefined;
    if (this.width <= 0 || !mesh.geometry.hasAttribute(OUTWARD)) {
      if (line) mesh.remove(line);
      return;
    }
    const material = this.materialFor(mesh.geometry);
    if (!line) {
      line = new THREE.InstancedMesh(mesh.geometry, material, 0);
      line.frustumCulled = false;
      mesh.add(line);
    }
    line.onBeforeRender = (renderer) => {
      renderer.getDrawingBufferSize(this.uniforms.size.value);
      const looks = copyLooksOf(mesh.geometry);
      if (!looks) return;
      material.uniforms.copyLooks.value = looks.uniform.value;
      material.uniformsNeedUpdate = true;
    };
    line.material = material;
    line.geometry = mesh.geometry;
    line.instanceMatrix = mesh.instanceMatrix;
    line.count = mesh.count;
  }

  dispose(): void {
    for (const material of this.materials.values()) material.dispose();
  }

  private materialFor(geometry: THREE.BufferGeometry): THREE.ShaderMaterial {
    const said = {
      vertices: geometry.hasAttribute(VERTEX_LOOKS[0]),
      copies: copyLooksOf(geometry) !== null,
    };
    const name = JSON.stringify(said);
    let material = this.materials.get(name);
    if (!material) this.materials.set(name, (material = made(this.uniforms, said)));
    return material;
  }
}

const made = (
  uniforms: Record<string, THREE.IUniform>,
  said: { readonly vertices: boolean; readonly copies: boolean },
): THREE.ShaderMaterial => {
  const { declared, value } = outlineLook(said);
  return new THREE.ShaderMaterial({
    // Only back faces are drawn; which ones those are differs for mirrored clones.
    side: THREE.DoubleSide,
    uniforms: { ...uniforms, ...(said.copies ? { copyLooks: { value: null } } : {}) },
    vertexShader: `
      attribute vec3 ${OUTWARD};
      uniform float width;
      uniform vec3 ink;
      uniform vec2 size;
      varying float mirrored;
      varying vec3 line;
      ${said.copies ? COPY_LOOKS : ""}
      ${declared}
      void main() {
        mirrored = determinant(mat3(instanceMatrix)) < 0.0 ? 1.0 : 0.0;
        vec4 own = ${value};
        line = ink;
        if (own.y >= 0.0) {
          vec3 bytes = mod(floor(own.y / vec3(65536.0, 256.0, 1.0)), 256.0) / 255.0;
          line = mix(pow((bytes + 0.055) / 1.055, vec3(2.4)), bytes / 12.92, vec3(lessThanEqual(bytes, vec3(0.04045))));
        }
        mat4 placed = modelViewMatrix * instanceMatrix;
        vec4 at = projectionMatrix * placed * vec4(position, 1.0);
        vec2 away = (projectionMatrix * placed * vec4(${OUTWARD}, 0.0)).xy * size;
        float reach = length(away);
        float pixels = width * own.x;
        if (reach > 0.0) at.xy += away / reach * pixels * 2.0 * at.w / size;
        // Without a line there is nothing to be drawn.
        gl_Position = pixels > 0.0 ? at : vec4(2.0, 2.0, 2.0, 1.0);
      }`,
    fragmentShader: `
      varying float mirrored;
      varying vec3 line;
      void main() {
        if (gl_FrontFacing != (mirrored > 0.5)) discard;
        gl_FragColor = vec4(line, 1.0);
        #include <colorspace_fragment>
      }`,
  });
};
