/** The light that is on the stage without any of the piece's own. */
import * as THREE from "three";
import { DAYLIGHT_FROM } from "@/core/draw/volume-drawing";
import { anyAcross } from "@/core/maths/vector";
import type { Setup } from "@/core/nodes/route/stage";
import { SHARP } from "./lamps";

const SHADOW_PIXELS = 2048;
const CONTACT_PIXELS = 512;
interface Mood {
  /** From above and from below, and how strong both are. */
  readonly sky: readonly [string, string, number];
  readonly key: readonly [string, number];
  /** Straight from above. */
  readonly above: number;
  readonly rim: readonly [string, number];
  /** Where the key stands, and the rim. */
  readonly from: readonly [number, number, number];
  readonly behind: readonly [number, number, number];
  /** Pixels of the edge of the key's shadow. */
  readonly soft: number;
}

/** How wide the key is for each pixel of its shadow's edge, and the light from above, as shares of how far away they are. */
const KEY_EXTENT = 0.012;
const ABOVE_EXTENT = 1.1;
const ABOVE_SOFT = 9;

const MOODS: Readonly<Record<Setup, Mood>> = {
  daylight: {
    sky: ["#dcebe8", "#27352f", 0.95],
    key: ["#ffefd6", 2.7],
    above: 0.55,
    rim: ["#a8dbe0", 1.1],
    from: DAYLIGHT_FROM,
    behind: [-3, 2, -4],
    soft: 5,
  },
  "soft table": {
    sky: ["#fbf6ea", "#6d675c", 1.7],
    key: ["#fff4e2", 1.2],
    above: 1.1,
    rim: ["#eaf3f4", 0.4],
    from: [-0.5, 1.2, 0.55],
    behind: [3, 2, -3],
    soft: 14,
  },
  "back-lit": {
    sky: ["#b9d3d8", "#1a2422", 0.4],
    key: ["#ffe7c4", 3.6],
    above: 0.25,
    rim: ["#ffd9a0", 1.6],
    from: [-0.35, 0.6, -1],
    behind: [3.5, 1.2, -3],
    soft: 7,
  },
  dusk: {
    sky: ["#5a6fa8", "#3a2230", 0.8],
    key: ["#ff9a5c", 2.4],
    above: 0.2,
    rim: ["#6f8fe0", 1.5],
    from: [1, 0.28, 0.35],
    behind: [-3, 1.4, -3.5],
    soft: 6,
  },
  "dark with rims": {
    sky: ["#41525a", "#0c100f", 0.16],
    key: ["#9fd4e6", 1.5],
    above: 0.1,
    rim: ["#ffb066", 2.6],
    from: [-0.9, 0.55, -0.8],
    behind: [3.4, 1.1, -2.6],
    soft: 5,
  },
  none: {
    sky: ["#000000", "#000000", 0],
    key: ["#000000", 0],
    above: 0,
    rim: ["#000000", 0],
    from: DAYLIGHT_FROM,
    behind: [-3, 2, -4],
    soft: 5,
  },
};

/**
 * A key with its shadow, a rim from behind, a sky that fills; and a soft light from straight above, whose wide shadow darkens the floor where
 * things touch it. Which colours they have and where they stand is a mood, chosen on the Stage.
 */
export class Daylight {
  private readonly key = new THREE.DirectionalLight();
  private readonly above = new THREE.DirectionalLight("#eef4ee");
  private readonly rim = new THREE.DirectionalLight();
  private readonly sky = new THREE.HemisphereLight();
  private mood = MOODS.daylight;
  /** What is left of it where a picture is all around. */
  private share = 1;
  /** Of what is shown. */
  private radius = 1;

  constructor(scene: THREE.Scene) {
    this.key.castShadow = true;
    this.key.shadow.mapSize.set(SHADOW_PIXELS, SHADOW_PIXELS);
    this.key.shadow.bias = -0.0006;
    this.above.castShadow = true;
    // Few pixels, read widely: soft, and cheap.
    this.above.shadow.mapSize.set(CONTACT_PIXELS, CONTACT_PIXELS);
    this.above.shadow.radius = ABOVE_SOFT;
    this.above.shadow.bias = -0.002;
    scene.add(this.sky, this.key, this.above, this.rim, this.key.target, this.above.target);
    this.light();
  }

  setMood(setup: Setup): void {
    this.mood = MOODS[setup];
    this.light();
  }

  /** @param share what is left of it */
  dim(share: number): void {
    this.share = share;
    this.light();
  }

  private light(): void {
    const { sky, key, above, rim, behind, soft } = this.mood;
    this.sky.color.set(sky[0]);
    this.sky.groundColor.set(sky[1]);
    this.key.color.set(key[0]);
    this.rim.color.set(rim[0]);
    this.rim.position.set(...behind);
    this.key.shadow.radius = soft;
    for (const [lamp, strength] of [
      [this.sky, sky[2]],
      [this.key, key[1]],
      [this.above, above],
      [this.rim, rim[1]],
    ] as const)
      lamp.intensity = strength * this.share;
  }

  /**
   * Lets key and light from above shine from one place of their extents, with sharp shadows: the mean of many is soft as far as what casts it
   * is away, and dark where things meet.
   * @param on disc of radius 1; null for their middles
   */
  lean(on: readonly [number, number] | null): void {
    const [x, y] = on ?? [0, 0];
    for (const [light, extent, soft] of [
      [this.key, this.mood.soft * KEY_EXTENT, this.mood.soft],
      [this.above, ABOVE_EXTENT, ABOVE_SOFT],
    ] as const) {
      const way = this.wayOf(light);
      const across = new THREE.Vector3(...anyAcross(way.toArray()));
      const up = new THREE.Vector3().crossVectors(way, across);
      const leant = way
        .clone()
        .addScaledVector(across, x * extent)
        .addScaledVector(up, y * extent);
      light.position.copy(light.target.position).addScaledVector(leant.normalize(), this.radius * 3);
      light.shadow.radius = on ? SHARP : soft;
    }
  }

  /** From what is shown to a light. */
  private wayOf(light: THREE.DirectionalLight): THREE.Vector3 {
    return light === this.key ? new THREE.Vector3(...this.mood.from).normalize() : UP.clone();
  }

  /** What of it that takes which has no material: from around, the rim and above among it, and from the key, linear; and the way to that. */
  get onLoose(): { readonly sky: THREE.Color; readonly key: THREE.Color; readonly from: THREE.Vector3 } {
    const part = (light: THREE.Light, share: number) =>
      light.color.clone().multiplyScalar((light.intensity * share) / Math.PI);
    const sky = part(this.sky, 0.5)
      .add(this.sky.groundColor.clone().multiplyScalar((this.sky.intensity * 0.5) / Math.PI))
      .add(part(this.rim, 0.5))
      .add(part(this.above, 0.5));
    return { sky, key: part(this.key, 1), from: this.wayOf(this.key) };
  }

  /** Around what is shown. */
  place(middle: THREE.Vector3, radius: number): void {
    this.radius = radius;
    for (const [light, pixels] of [
      [this.key, SHADOW_PIXELS],
      [this.above, CONTACT_PIXELS],
    ] as const) {
      light.target.position.copy(middle);
      light.position.copy(middle).addScaledVector(this.wayOf(light), radius * 3);
      const { camera } = light.shadow;
      camera.left = camera.bottom = -radius * 1.15;
      camera.right = camera.top = radius * 1.15;
      // A few texels of the shadow's picture, so that surfaces along the light do not shade themselves.
      light.shadow.normalBias = (radius * 2.3 * 5) / pixels;
      camera.near = radius * 0.5;
      camera.far = radius * 6;
      camera.updateProjectionMatrix();
    }
  }
}

const UP = new THREE.Vector3(0, 1, 0);
