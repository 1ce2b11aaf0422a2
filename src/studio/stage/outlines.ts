/**
 * Lines around clones: each mesh is drawn once more from behind, grown by some pixels along its smoothed normals
 * (common practice, no source). Shares geometry, matrices and count with the mesh it surrounds.
 */
import * as THREE from "three";

/** The attribute that the engine gives meshes that have lines. */
export const OUTWARD = "outward";

export class Outlines {
  private width = 0;
  private readonly material = new THREE.ShaderMaterial({
    // Only back faces are drawn; which ones those are differs for mirrored clones.
    side: THREE.DoubleSide,
    uniforms: {
      ink: { value: new THREE.Color() },
      width: { value: 0 },
      size: { value: new THREE.Vector2() },
    },
    vertexShader: `
      attribute vec3 ${OUTWARD};
      uniform float width;
      uniform vec2 size;
      varying float mirrored;
      void main() {
        mirrored = determinant(mat3(instanceMatrix)) < 0.0 ? 1.0 : 0.0;
        mat4 placed = modelViewMatrix * instanceMatrix;
        vec4 at = projectionMatrix * placed * vec4(position, 1.0);
        vec2 away = (projectionMatrix * placed * vec4(${OUTWARD}, 0.0)).xy * size;
        float reach = length(away);
        if (reach > 0.0) at.xy += away / reach * width * 2.0 * at.w / size;
        gl_Position = at;
      }`,
    fragmentShader: `
      uniform vec3 ink;
      varying float mirrored;
      void main() {
        if (gl_FrontFacing != (mirrored > 0.5)) discard;
        gl_FragColor = vec4(ink, 1.0);
        #include <colorspace_fragment>
      }`,
  });

  /** Pixels and linear colour. */
  set(width: number, ink: readonly number[]): void {
    this.width = width;
    this.material.uniforms.width.value = width;
    this.material.uniforms.ink.value.setRGB(ink[0], ink[1], ink[2]);
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
    if (!line) {
      line = new THREE.InstancedMesh(mesh.geometry, this.material, 0);
      line.frustumCulled = false;
      line.onBeforeRender = (renderer) => renderer.getDrawingBufferSize(this.material.uniforms.size.value);
      mesh.add(line);
    }
    line.geometry = mesh.geometry;
    line.instanceMatrix = mesh.instanceMatrix;
    line.count = mesh.count;
  }

  dispose(): void {
    this.material.dispose();
  }
}
