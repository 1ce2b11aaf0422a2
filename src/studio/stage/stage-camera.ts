/** Where the stage is looked at from: by the pointer, by a view that is set, or so that all is seen. */
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { View } from "@/core/document/schema";
import { angleUpright } from "@/core/maths/lens";
import type { Sample } from "@/core/maths/samples";
import type { StageSight } from "@/engine/protocol";
import { DEFAULT_ANGLE, DEFAULT_VIEW } from "./default-view";
import type { PicturePart } from "./picture-part";

/** What the stage is seen through. */
export type Lens = THREE.PerspectiveCamera | THREE.OrthographicCamera;

export class StageCamera {
  /** Moved by `setView` and the pointer, or where the piece's camera is. */
  private readonly eye = new THREE.PerspectiveCamera(DEFAULT_ANGLE, 1, 0.05, 2000);
  /** For cameras of the piece that see everything as large as it is. */
  private readonly plan = new THREE.OrthographicCamera();
  private readonly controls: OrbitControls | null = null;
  private readonly ownTarget = new THREE.Vector3();
  private reach = { middle: new THREE.Vector3(), radius: 10 };
  /** The piece's camera while it is looked through, and the view to go back to. */
  private sight: StageSight | null = null;
  private free: View | null = null;
  private aspect = 1;
  /** Of the picture, what is drawn of it. */
  private part: PicturePart | null = null;
  /** From the middle of the lens to where it is looked from. */
  private readonly fromLens = new THREE.Vector3();

  /**
   * @param hand the canvas that is dragged, if any
   * @param onMoved it looks another way; `settled`: the pointer let go
   */
  constructor(
    hand: HTMLElement | null,
    private readonly onMoved: (settled: boolean) => void,
  ) {
    this.eye.position.fromArray(DEFAULT_VIEW.position);
    if (hand) {
      this.controls = new OrbitControls(this.eye, hand);
      this.controls.addEventListener("change", () => this.onMoved(false));
      this.controls.addEventListener("end", () => this.onMoved(true));
    }
    this.setView(DEFAULT_VIEW);
  }

  /** To be looked through. */
  get camera(): Lens {
    return this.sight?.projection === "parallel" ? this.plan : this.eye;
  }

  get target(): THREE.Vector3 {
    return this.controls?.target ?? this.ownTarget;
  }

  setAspect(aspect: number): void {
    this.aspect = this.eye.aspect = aspect;
    if (this.sight) this.takeSight(this.sight);
    else this.cut([0, 0]);
    this.eye.updateProjectionMatrix();
  }

  /** Sees a part of the picture, which keeps its shape; null sees all of it. */
  setPart(part: PicturePart | null): void {
    this.part = part;
  }

  /** @param shift heights of the picture by which it is moved */
  private cut([right, down]: readonly [number, number]): void {
    const { camera, aspect, part } = this;
    if (part) {
      const high = part.whole[1];
      camera.setViewOffset(
        aspect,
        1,
        right + part.x / high,
        down + part.y / high,
        part.width / high,
        part.height / high,
      );
    } else if (right !== 0 || down !== 0) camera.setViewOffset(aspect, 1, right, down, aspect, 1);
    else camera.clearViewOffset();
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
      this.eye.up.set(0, 1, 0);
      this.eye.clearViewOffset();
      this.setView(free);
    }
  }

  private takeSight(sight: StageSight): void {
    const { place, target, lens, film, roll, shift, picture, across } = sight;
    const { camera, aspect } = this;
    // Parts of the picture, which may be smaller than what is shown.
    const [wide, high] = aspect >= picture ? [picture / aspect, 1] : [1, aspect / picture];
    if (camera instanceof THREE.PerspectiveCamera)
      camera.fov = THREE.MathUtils.radToDeg(angleUpright(lens, film, picture, aspect));
    else {
      camera.right = across / wide / 2;
      camera.top = camera.right / aspect;
      camera.left = -camera.right;
      camera.bottom = -camera.top;
    }
    camera.position.fromArray(place);
    camera.up.set(0, 1, 0);
    camera.lookAt(
      ...(place.map((v, a) =>
        place.every((p, k) => p === target[k]) ? v - (a === 2 ? 1 : 0) : target[a],
      ) as [number, number, number]),
    );
    camera.rotateZ(roll);
    this.target.fromArray(target);
    this.cut([shift[0] * wide * aspect, -shift[1] * high]);
    this.placeClips();
    this.onMoved(false);
  }

  /** Whether things away from where it is sharp are not. */
  get isShallow(): boolean {
    return (this.sight?.lensRadius ?? 0) > 0;
  }

  /**
   * Looks, until `upright`, from one place on the lens and a part of a pixel aside; what is in focus stays where it is.
   * @param width, height pixels of the picture
   */
  lean({ pixel, lens }: Sample, width: number, height: number): void {
    const { camera } = this;
    camera.updateProjectionMatrix();
    const { elements } = camera.projectionMatrix;
    const [dx, dy] = [(2 * pixel[0]) / width, (2 * pixel[1]) / height];
    if (camera instanceof THREE.PerspectiveCamera) {
      const { lensRadius, focus } = this.sight ?? { lensRadius: 0, focus: 1 };
      const [right, up] = lens.map((v) => v * lensRadius);
      camera.position.add(this.fromLens.set(right, up, 0).applyQuaternion(camera.quaternion));
      elements[8] -= dx + (elements[0] * right) / focus;
      elements[9] -= dy + (elements[5] * up) / focus;
    } else {
      elements[12] += dx;
      elements[13] += dy;
    }
    camera.projectionMatrixInverse.copy(camera.projectionMatrix).invert();
  }

  /** Looks as it did before it leaned. */
  upright(): void {
    this.camera.position.sub(this.fromLens);
    this.fromLens.set(0, 0, 0);
    this.camera.updateProjectionMatrix();
  }

  view(): View {
    if (this.free) return this.free;
    const { position } = this.eye;
    const angle = this.eye.fov === DEFAULT_ANGLE ? {} : { angle: this.eye.fov };
    return { position: position.toArray(), target: this.target.toArray(), ...angle };
  }

  setView(view: View): void {
    if (this.free) {
      this.free = view;
      return;
    }
    this.eye.fov = view.angle ?? DEFAULT_ANGLE;
    this.eye.position.fromArray(view.position);
    this.target.fromArray(view.target);
    if (this.controls) this.controls.update();
    else this.eye.lookAt(this.target);
    this.placeClips();
    this.onMoved(false);
  }

  /** Field of view in degrees. The camera moves so that what it looks at keeps its size. */
  setAngle(angle: number): View {
    const view = this.view();
    const reach = (degrees: number) => Math.tan((degrees * Math.PI) / 360);
    const ratio = reach(this.eye.fov) / reach(angle);
    const position = view.target.map((t, a) => t + (view.position[a] - t) * ratio);
    this.setView({ ...view, position: position as [number, number, number], angle });
    return this.view();
  }

  /** Moves the camera so that all of a box fits, keeping its direction. `margin` 1 lets it touch the edges. */
  frame(box: THREE.Box3, margin: number): void {
    const middle = box.getCenter(new THREE.Vector3());
    const back = this.eye.position.clone().sub(this.target).normalize();
    const right = new THREE.Vector3().crossVectors(this.eye.up, back).normalize();
    const up = new THREE.Vector3().crossVectors(back, right);
    const high = Math.tan((this.eye.fov * Math.PI) / 360);
    const wide = high * this.eye.aspect;
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
    const high = 2 * this.eye.position.distanceTo(target) * Math.tan((this.eye.fov * Math.PI) / 360);
    const by = new THREE.Vector3(-right, down, 0)
      .multiplyScalar(high / height)
      .applyQuaternion(this.eye.quaternion);
    this.setView({
      ...this.view(),
      position: this.eye.position.clone().add(by).toArray(),
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
    const { camera } = this;
    const away = camera.position.distanceTo(middle);
    // A plan shows what is behind it, too: it has no place.
    const isPlan = camera === this.plan;
    camera.near = isPlan ? -away - radius * 10 : Math.max(radius / 200, away - radius * 20);
    camera.far = Math.max(radius * 40, away + radius * 10);
    camera.updateProjectionMatrix();
  }
}
