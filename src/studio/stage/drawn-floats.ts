/** Drawing into numbers in place of the canvas. */
import * as THREE from "three";

/** Four numbers of each pixel, rows from the bottom, 0 where nothing is; what the renderer was set to stays. */
export function drawnFloats(
  renderer: THREE.WebGLRenderer,
  scene: THREE.Scene,
  camera: THREE.Camera,
  width: number,
  height: number,
): Float32Array {
  const before = {
    target: renderer.getRenderTarget(),
    color: renderer.getClearColor(new THREE.Color()),
    alpha: renderer.getClearAlpha(),
  };
  const target = new THREE.WebGLRenderTarget(width, height, { type: THREE.FloatType });
  renderer.setClearColor(0, 0);
  renderer.setRenderTarget(target);
  renderer.clear();
  renderer.render(scene, camera);
  const pixels = new Float32Array(width * height * 4);
  renderer.readRenderTargetPixels(target, 0, 0, width, height, pixels);
  target.dispose();
  renderer.setRenderTarget(before.target);
  renderer.setClearColor(before.color, before.alpha);
  return pixels;
}
