/** What compositing asks for beside the picture: how far away things are, which way they face and move, which is which, and what they give off. Lines and dots are only in the last. */
import * as THREE from "three";
import { drawnFloats } from "./drawn-floats";
import { drawEmission } from "./emission-pass";
import { type DrawnMesh, drawMotion, type Standing } from "./motion-pass";

/** Numbers a pixel, rows from the top. */
export interface Passes {
  /** Units along the way that the camera looks; 0 where nothing is. */
  readonly depth: Float32Array;
  /** In the space, unit; 0 where nothing is. */
  readonly normal: readonly [Float32Array, Float32Array, Float32Array];
  /** One more than the number of the copy, over all meshes in the order of the drawing; 0 where nothing is. */
  readonly mask: Float32Array;
  /** Pixels to the right and upwards by which it goes on until the next frame; 0 where nothing is. */
  readonly motion: readonly [Float32Array, Float32Array];
  /** Linear red, green and blue of what things give off by themselves. */
  readonly emission: readonly [Float32Array, Float32Array, Float32Array];
}

const material = (): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    uniforms: { first: { value: 0 }, whichOne: { value: false } },
    side: THREE.DoubleSide,
    vertexShader: `
      uniform float first;
      varying vec3 facing;
      varying float away;
      flat varying float number;
      void main() {
        mat4 placed = modelMatrix;
        number = first;
        #ifdef USE_INSTANCING
          placed = modelMatrix * instanceMatrix;
          number = first + float(gl_InstanceID);
        #endif
        facing = transpose(inverse(mat3(placed))) * normal;
        vec4 seen = viewMatrix * placed * vec4(position, 1.0);
        away = -seen.z;
        gl_Position = projectionMatrix * seen;
      }`,
    fragmentShader: `
      uniform bool whichOne;
      varying vec3 facing;
      varying float away;
      flat varying float number;
      void main() {
        vec3 way = normalize(facing);
        gl_FragColor = whichOne ? vec4(number + 1.0) : vec4(gl_FrontFacing ? way : -way, away);
      }`,
  });

/** @param drawn meshes with their copies @param then where everything stands at the next frame */
export function drawPasses(
  renderer: THREE.WebGLRenderer,
  scene: THREE.Scene,
  camera: THREE.Camera,
  drawn: readonly DrawnMesh[],
  then: Standing,
  width: number,
  height: number,
): Passes {
  const override = material();
  const alone = new THREE.Scene();
  const meshes = drawn.map(({ mesh }) => mesh);
  const befores = meshes.map(({ onBeforeRender }) => onBeforeRender);
  let first = 0;
  for (const mesh of meshes) {
    const begin = first;
    first += mesh.count;
    alone.add(mesh);
    mesh.onBeforeRender = () => {
      override.uniforms.first.value = begin;
      override.uniformsNeedUpdate = true;
    };
  }
  alone.overrideMaterial = override;
  const read = (whichOne: boolean): Float32Array => {
    override.uniforms.whichOne.value = whichOne;
    return drawnFloats(renderer, alone, camera, width, height);
  };
  const [faces, numbers] = [read(false), read(true)];
  alone.overrideMaterial = null;
  const motion = drawMotion(renderer, alone, camera, drawn, then, width, height);
  for (const [i, mesh] of meshes.entries()) {
    mesh.onBeforeRender = befores[i];
    scene.add(mesh);
  }
  override.dispose();
  const lane = (pixels: Float32Array, c: number) => fromTop(pixels, c, width, height);
  const emission = drawEmission(renderer, scene, camera, width, height);
  return {
    depth: lane(faces, 3),
    normal: [lane(faces, 0), lane(faces, 1), lane(faces, 2)],
    mask: lane(numbers, 0),
    motion: [lane(motion, 0), lane(motion, 1)],
    emission: [lane(emission, 0), lane(emission, 1), lane(emission, 2)],
  };
}

/** One number of four of each pixel; cards give rows from the bottom. */
export function fromTop(pixels: Float32Array, c: number, width: number, height: number): Float32Array {
  const lane = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) lane[y * width + x] = pixels[((height - 1 - y) * width + x) * 4 + c];
  return lane;
}
