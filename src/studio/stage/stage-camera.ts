/** Where the stage is looked at from: by the pointer, by a view that is set, or so that all is seen. */
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { View } from "@/core/document/schema";
import { angleUpright } from "@/core/maths/lens";
import type { StageSight } from "@/engine/protocol";
import { DEFAULT_ANGLE, DEFAULT_VIEW } from "./default-view";

export class StageCamera {
  /** To be looked through; it is moved by `setView` and the pointer. */
  readonly camera = new THREE.PerspectiveCamera(DEFAULT_ANGLE, 1, 0.05, 2000);
  private readonly controls: OrbitControls | null = null;
  private readonly ownTarget = new THREE.Vector3();
  private reach = { middle: new THREE.Vector3(), radius: 10 };
  /** The piece's camera while it is looked through, and the view to go back to. */
  private sight: StageSight | null = null;
  private free: View | null = null;

  /**
   * @param hand the canvas that is dragged, if any
   * @param onMoved it looks another way; `settled`: the pointer let go
   */
  constructor(
    hand: HTMLElement | null,
    private readonly onMoved: (settled: boolean) => void,
  ) {
    this.camera.position.fromArray(DEFAULT_VIEW.position);
    if (hand) {
      this.controls = new OrbitControls(this.camera, hand);
      this.controls.addEventListener("change", () => this.onMoved(false));
      this.controls.addEventListener("end", () => this.onMoved(true));
    }
    this.setView(DEFAULT_VIEW);
  }

  get target(): THREE.Vector3 {
    return this.controls?.target ?? this.ownTarget;
  }

  setAspect(aspect: number): void {
    this.camera.aspect = aspect;
    if (this.sight) this.takeSight(this.sight);
    this.camera.updateProjectionMatrix();
  }

  /** Looks through a camera of the piece, or null: as before it was looked through. */
  lookThrough(sight: StageSight | null): void {
    if (sight) {
      this.free ??= this.view();
      this.sight = sight;
      if (this.controls) this.controls.enabled = false;
      this.takeSight(sight);
    } else if (this.free) {
      const { free } = this;
      this.sight = this.free = null;
      if (this.controls) this.controls.enabled = true;
      this.camera.up.set(0, 1, 0);
      this.camera.clearViewOffset();
      this.setView(free);
    }
  }

  private takeSight({ place, target, lens, film, roll, shift, picture }: StageSight): void {
    const { camera } = this;
    camera.fov = THREE.MathUtils.radToDeg(angleUpright(lens, film, picture, camera.aspect));
    camera.position.fromArray(place);
    camera.up.set(0, 1, 0);
    camera.lookAt(
      ...(place.map((v, a) =>
        place.every((p, k) => p === target[k]) ? v - (a === 2 ? 1 : 0) : target[a],
      ) as [number, number, number]),
    );
    camera.rotateZ(roll);
    this.target.fromArray(target);
    // Parts of the picture, which may be smaller than what is shown.
    const [wide, high] =
      camera.aspect >= picture ? [picture / camera.aspect, 1] : [1, camera.aspect / picture];
    const { aspect } = camera;
    camera.setViewOffset(aspect, 1, shift[0] * wide * aspect, -shift[1] * high, aspect, 1);
    this.placeClips();
    this.onMoved(false);
  }

  view(): View {
    if (this.free) return this.free;
    const { position } = this.camera;
    const angle = this.camera.fov === DEFAULT_ANGLE ? {} : { angle: this.camera.fov };
    return { position: position.toArray(), target: this.target.toArray(), ...angle };
  }

  setView(view: View): void {
    if (this.free) {
      this.free = view;
      return;
    }
    this.camera.fov = view.angle ?? DEFAULT_ANGLE;
    this.camera.position.fromArray(view.position);
    this.target.fromArray(view.target);
    if (this.controls) this.controls.update();
    else this.camera.lookAt(this.target);
    this.placeClips();
    this.onMoved(false);
  }

  /** Field of view in degrees. The camera moves so that what it looks at keeps its size. */
  setAngle(angle: number): View {
    const view = this.view();
    const reach = (degrees: number) => Math.tan((degrees * Math.PI) / 360);
    const ratio = reach(this.camera.fov) / reach(angle);
    const position = view.target.map((t, a) => t + (view.position[a] - t) * ratio);
    this.setView({ ...view, position: position as [number, number, number], angle });
    return this.view();
  }

  /** Moves the camera so that all of a box fits, keeping its direction. `margin` 1 lets it touch the edges. */
  frame(box: THREE.Box3, margin: number): void {
    const middle = box.getCenter(new THREE.Vector3());
    const back = this.camera.position.clone().sub(this.target).normalize();
    const right = new THREE.Vector3().crossVectors(this.camera.up, back).normalize();
    const up = new THREE.Vector3().crossVectors(back, right);
    const high = Math.tan((this.camera.fov * Math.PI) / 360);
    const wide = high * this.camera.aspect;
    // Each corner of the box asks for so much distance: what it stands aside over the slope of the view, and what it
    // stands nearer than the middle.
    let distance = 0.1;
    for (let corner = 0; corner < 8; corner++) {
      const at = new THREE.Vector3(
        corner & 1 ? box.max.x : box.min.x,
        corner & 2 ? box.max.y : box.min.y,
        corner & 4 ? box.max.z : box.min.z,
      ).sub(middle);
      const aside = Math.max(Math.abs(at.dot(right)) / wide, Math.abs(at.dot(up)) / high);
      distance = Math.max(distance, aside * margin + at.dot(back));
    }
    this.setView({
      ...this.view(),
      position: middle.clone().addScaledVector(back, distance).toArray(),
      target: middle.toArray(),
    });
  }

  /** Moves what is looked at along the picture, by pixels of one `height` high, as if it were held. */
  slide(right: number, down: number, height: number): void {
    const { target } = this;
    const high = 2 * this.camera.position.distanceTo(target) * Math.tan((this.camera.fov * Math.PI) / 360);
    const by = new THREE.Vector3(-right, down, 0)
      .multiplyScalar(high / height)
      .applyQuaternion(this.camera.quaternion);
    this.setView({
      ...this.view(),
      position: this.camera.position.clone().add(by).toArray(),
      target: target.clone().add(by).toArray(),
    });
  }

  /** Near and far follow what is shown. */
  follow(middle: THREE.Vector3, radius: number): void {
    this.reach = { middle, radius };
    this.placeClips();
  }

  dispose(): void {
    this.controls?.dispose();
  }

  /** With a narrow angle the camera stands far off. */
  private placeClips(): void {
    const { middle, radius } = this.reach;
    const away = this.camera.position.distanceTo(middle);
    this.camera.near = Math.max(radius / 200, away - radius * 20);
    this.camera.far = Math.max(radius * 40, away + radius * 10);
    this.camera.updateProjectionMatrix();
  }
}
