/** How far what is seen goes on the picture until another moment: for motion blur in compositing. */
import * as THREE from "three";
import { gatherRows } from "@/core/geometry/subset";
import { drawnFloats } from "./drawn-floats";

/** A mesh as it is drawn. */
export interface DrawnMesh {
  readonly mesh: THREE.InstancedMesh;
  /** Of its geometry. */
  readonly key: number;
  /** The number of the copy that an instance is. */
  readonly copyOf: (instance: number) => number;
}

/** Where everything stands at a moment. */
export interface Standing {
  /** From places to the picture. */
  readonly camera: THREE.Matrix4;
  /** By keys of geometries: 16 numbers a copy, 3 a vertex. */
  readonly meshes: ReadonlyMap<number, { readonly matrices: Float32Array; readonly positions: Float32Array }>;
}

const THEN = ["thenA", "thenB", "thenC", "thenD"] as const;
const THEN_POSITION = "thenPosition";

const material = (): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    uniforms: { camera: { value: new THREE.Matrix4() }, size: { value: new THREE.Vector2() } },
    side: THREE.DoubleSide,
    vertexShader: `
      ${THEN.map((name) => `attribute vec4 ${name};`).join("\n")}
      attribute vec3 ${THEN_POSITION};
      uniform mat4 camera;
      varying vec4 now, then;
      void main() {
        now = projectionMatrix * viewMatrix * modelMatrix * instanceMatrix * vec4(position, 1.0);
        then = camera * mat4(${THEN.join(", ")}) * vec4(${THEN_POSITION}, 1.0);
        gl_Position = now;
      }`,
    fragmentShader: `
      uniform vec2 size;
      varying vec4 now, then;
      void main() {
        gl_FragColor = vec4((then.xy / then.w - now.xy / now.w) * 0.5 * size, 0.0, 1.0);
      }`,
  });

/**
 * Pixels to the right and upwards by which each pixel goes on, in the first two of four numbers, rows from the bottom. Copies are the same ones
 * by their number in the drawing: of a mesh that has more or fewer of them then, only the camera moves.
 */
export function drawMotion(
  renderer: THREE.WebGLRenderer,
  scene: THREE.Scene,
  camera: THREE.Camera,
  drawn: readonly DrawnMesh[],
  then: Standing,
  width: number,
  height: number,
): Float32Array {
  const override = material();
  override.uniforms.camera.value.copy(then.camera);
  override.uniforms.size.value.set(width, height);
  for (const one of drawn) place(one, then);
  scene.overrideMaterial = override;
  const pixels = drawnFloats(renderer, scene, camera, width, height);
  scene.overrideMaterial = null;
  for (const { mesh } of drawn)
    for (const name of [...THEN, THEN_POSITION]) mesh.geometry.deleteAttribute(name);
  override.dispose();
  return pixels;
}

function place({ mesh, key, copyOf }: DrawnMesh, then: Standing): void {
  const { geometry, instanceMatrix, count } = mesh;
  const position = geometry.getAttribute("position");
  const known = then.meshes.get(key);
  const copies = Int32Array.from({ length: count }, (_, i) => copyOf(i));
  const isSame = known !== undefined && copies.every((copy) => copy * 16 < known.matrices.length);
  const matrices = isSame
    ? gatherRows(known.matrices, copies, 16, new Float32Array(count * 16))
    : (instanceMatrix.array as Float32Array).slice(0, count * 16);
  const buffer = new THREE.InstancedInterleavedBuffer(matrices, 16);
  for (const [i, name] of THEN.entries())
    geometry.setAttribute(name, new THREE.InterleavedBufferAttribute(buffer, 4, i * 4));
  geometry.setAttribute(
    THEN_POSITION,
    known?.positions.length === position.array.length
      ? new THREE.BufferAttribute(known.positions, 3)
      : position,
  );
}
