/** What things give off by themselves, without any light that falls on them: for glow that is added in compositing. */
import * as THREE from "three";
import { drawnFloats } from "./drawn-floats";

/**
 * Red, green and blue of each pixel, linear, rows from the bottom. The scene is drawn with all its lights put out, so that what stands before
 * something hides it as ever and nothing is compiled anew.
 */
export function drawEmission(
  renderer: THREE.WebGLRenderer,
  scene: THREE.Scene,
  camera: THREE.Camera,
  width: number,
  height: number,
): Float32Array {
  const lit: { intensity: number }[] = [];
  const reflecting = new Set<THREE.MeshStandardMaterial>();
  scene.traverse((object) => {
    if (object instanceof THREE.Light) lit.push(object);
    const { material } = object as THREE.Mesh;
    if (material instanceof THREE.MeshStandardMaterial) reflecting.add(material);
  });
  const befores = {
    intensities: lit.map(({ intensity }) => intensity),
    reflections: [...reflecting].map(({ envMapIntensity }) => envMapIntensity),
    environment: scene.environmentIntensity,
    background: scene.background,
    fog: scene.fog,
  };
  for (const light of lit) light.intensity = 0;
  for (const material of reflecting) material.envMapIntensity = 0;
  scene.environmentIntensity = 0;
  scene.background = scene.fog = null;
  const pixels = drawnFloats(renderer, scene, camera, width, height);
  for (const [i, light] of lit.entries()) light.intensity = befores.intensities[i];
  for (const [i, material] of [...reflecting].entries()) material.envMapIntensity = befores.reflections[i];
  scene.environmentIntensity = befores.environment;
  scene.background = befores.background;
  scene.fog = befores.fog;
  return pixels;
}
