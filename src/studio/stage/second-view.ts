/** What the piece's camera sees, small in a corner, while the stage is looked at freely. */
import type * as THREE from "three";
import type { StageSight } from "@/engine/protocol";
import { StageCamera } from "./stage-camera";

/** CSS pixels: how wide it is, and how far from the right and the lower edge. */
export const SECOND_VIEW = { width: 208, right: 12, bottom: 48 } as const;

/** Below so many CSS pixels the stage has no room for it. */
const LEAST = { width: 460, height: 300 } as const;

/** How high it is in CSS pixels, for a picture so many times as wide as high; 0 where there is no room for it. */
export const secondViewHeight = (picture: number, width: number, height: number): number =>
  width < LEAST.width || height < LEAST.height
    ? 0
    : Math.min(height - SECOND_VIEW.bottom * 2, SECOND_VIEW.width / picture);

export class SecondView {
  private readonly sight = new StageCamera(null, () => {});

  follow(middle: THREE.Vector3, radius: number): void {
    this.sight.follow(middle, radius);
  }

  /**
   * Draws over a picture that was drawn.
   * @param width, height of the stage in CSS pixels
   * @param before is done before with what it is drawn with
   */
  draw(
    renderer: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: StageSight,
    width: number,
    height: number,
    before: (camera: THREE.Camera) => void,
  ): void {
    const high = secondViewHeight(camera.picture, width, height);
    if (high === 0) return;
    const wide = high * camera.picture;
    this.sight.setAspect(camera.picture);
    this.sight.lookThrough(camera);
    before(this.sight.camera);
    const place = [width - SECOND_VIEW.right - wide, SECOND_VIEW.bottom, wide, high] as const;
    renderer.setScissorTest(true);
    renderer.setScissor(...place);
    renderer.setViewport(...place);
    renderer.render(scene, this.sight.camera);
    renderer.setScissorTest(false);
    renderer.setViewport(0, 0, width, height);
  }

  dispose(): void {
    this.sight.dispose();
  }
}
