/** Between places of the space and of the canvas, 0…1 from its upper left corner. */
import * as THREE from "three";
import type { Vec3 } from "@/core/maths/vector";

export interface PointerRay {
  readonly origin: Vec3;
  readonly direction: Vec3;
}

/** Where a place is on the canvas; null behind the camera. */
export function projected(camera: THREE.Camera, place: Vec3): readonly [number, number] | null {
  // It may have been moved since the last picture.
  camera.updateMatrixWorld();
  const at = new THREE.Vector3(...place).project(camera);
  return at.z < 1 ? [(at.x + 1) / 2, (1 - at.y) / 2] : null;
}

/** The ray through a place of the canvas. */
export function rayThrough(camera: THREE.Camera, x: number, y: number): THREE.Raycaster {
  const ray = new THREE.Raycaster();
  ray.setFromCamera(new THREE.Vector2(x * 2 - 1, 1 - y * 2), camera);
  return ray;
}

export function pointerRay(camera: THREE.Camera, x: number, y: number): PointerRay {
  const { origin, direction } = rayThrough(camera, x, y).ray;
  return { origin: origin.toArray(), direction: direction.toArray() };
}

/** Which way the camera looks from, unit. */
export const towards = (camera: THREE.Camera): Vec3 =>
  camera.getWorldDirection(new THREE.Vector3()).negate().toArray();

/** Half the height of a ball at a place as it is seen, as a part of the canvas' height. */
export function seenRadius(camera: THREE.Camera, place: Vec3, radius: number): number {
  const up = new THREE.Vector3(0, 1, 0).applyQuaternion(camera.quaternion).multiplyScalar(radius);
  const [middle, top] = [
    projected(camera, place),
    projected(camera, [place[0] + up.x, place[1] + up.y, place[2] + up.z]),
  ];
  return middle && top ? Math.hypot(top[0] - middle[0], top[1] - middle[1]) : 0;
}
