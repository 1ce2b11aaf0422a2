/** What things stand on: a floor that takes shadows and may mirror what is above it, or a sheet that is curved up behind. */
import * as THREE from "three";
import type { Floor } from "@/core/nodes/route/stage";
import { CurvedSheet } from "./curved-sheet";
import { MirrorFloor } from "./mirror-floor";

/** Parts of what is shown's radius: how far the floor reaches, and how far under the lowest point it lies. */
const REACH = 6;
const UNDER = 0.001;

export interface GroundSettings {
  readonly ground: boolean;
  readonly floor: Floor;
  /** Radians. */
  readonly facing: number;
  /** Linear. */
  readonly background: readonly number[];
}

export class Ground {
  private readonly shadows = new THREE.Mesh(
    new THREE.CircleGeometry(1, 64),
    new THREE.ShadowMaterial({ opacity: 0.5 }),
  );
  private mirror: MirrorFloor | null = null;
  private sheet: CurvedSheet | null = null;
  private around = { middle: new THREE.Vector3(), radius: 1, lowest: 0 };

  constructor(private readonly scene: THREE.Scene) {
    this.shadows.rotation.x = -Math.PI / 2;
    this.shadows.receiveShadow = true;
    scene.add(this.shadows);
  }

  /** Mirrors and sheets are made when they are first asked for, and dropped when they are not any more. */
  set({ ground, floor, facing, background }: GroundSettings): void {
    const isSheet = ground && floor === "curved sheet";
    const isMirror = ground && (floor === "wet" || floor === "mirror");
    this.shadows.visible = ground && !isSheet;
    if (isMirror) {
      this.mirror ??= new MirrorFloor(this.scene);
      this.mirror.set(floor === "wet");
    } else {
      this.mirror?.dispose();
      this.mirror = null;
    }
    if (isSheet) {
      this.sheet ??= new CurvedSheet(this.scene);
      this.sheet.set(background, facing);
    } else {
      this.sheet?.dispose();
      this.sheet = null;
    }
    const { middle, radius, lowest } = this.around;
    this.place(middle, radius, lowest);
  }

  /** Under what is shown. @param lowest its lowest point */
  place(middle: THREE.Vector3, radius: number, lowest: number): void {
    this.around = { middle, radius, lowest };
    const at = new THREE.Vector3(middle.x, lowest - radius * UNDER, middle.z);
    this.shadows.position.copy(at);
    this.shadows.scale.setScalar(radius * REACH);
    this.mirror?.place(at, radius, REACH);
    this.sheet?.place(at, radius);
  }

  /** @param pixels of the picture @param on disc of radius 1: where a rough mirror looks, one of many ways; null for all of them at once */
  look(pixels: THREE.Vector2, on: readonly [number, number] | null): void {
    this.mirror?.look(pixels, on);
  }

  dispose(): void {
    this.mirror?.dispose();
    this.sheet?.dispose();
    this.shadows.geometry.dispose();
    this.shadows.material.dispose();
  }
}
