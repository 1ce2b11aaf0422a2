/** The lights of the piece. */
import * as THREE from "three";
import { anyAcross, cross, minus, normalise, plus, type Vec3 } from "@/core/maths/vector";
import { CANDELAS, type LightKind, type LightSettings } from "@/core/nodes/dress/light";
import { type LooseLamp, MOST_LAMPS } from "./loose-lamps";

/** Pixels along a shadow's picture; of lamps it is one for each of six sides. */
const SHADOW_PIXELS = { sun: 2048, spot: 1024, lamp: 512 } as const satisfies Record<LightKind, number>;
/** Lights that cast shadows at most: each is a picture of all that is shown. */
const MOST_SHADOWS = 4;
/** Pixels of a shadow's edge for each unit that a light is wide. */
const SOFT = 8;

/** Pixels of a shadow's edge that is one of many. */
export const SHARP = 1.5;

const softness = ({ size }: LightSettings): number => 1 + size * SOFT;

/** The golden angle: places that follow each other are far from each other. */
const GOLDEN = Math.PI * (3 - Math.sqrt(5));

/** A place on the disc, turned on for each light. */
function turned([x, y]: readonly [number, number], light: number): [number, number] {
  const [c, s] = [Math.cos(GOLDEN * light), Math.sin(GOLDEN * light)];
  return [x * c - y * s, x * s + y * c];
}

/** A place of the disc that a light is, as seen from where it shines to. */
function onExtent({ place, target, size }: LightSettings, [x, y]: readonly [number, number]): Vec3 {
  const way = minus(target, place);
  const along = way.every((v) => v === 0) ? DOWN : normalise(way);
  const across = anyAcross(along);
  return plus(plus(place, across, (x * size) / 2), cross(along, across), (y * size) / 2);
}

const DOWN: Vec3 = [0, -1, 0];

type Lamp = THREE.DirectionalLight | THREE.PointLight | THREE.SpotLight;

const MADE: Readonly<Record<LightKind, () => Lamp>> = {
  sun: () => new THREE.DirectionalLight(),
  lamp: () => new THREE.PointLight(),
  spot: () => new THREE.SpotLight(),
};

export class Lamps {
  private readonly lamps: { readonly kind: LightKind; readonly lamp: Lamp }[] = [];
  private settings: readonly LightSettings[] = [];
  private around = { middle: new THREE.Vector3(), radius: 1 };

  constructor(private readonly scene: THREE.Scene) {}

  /** Lights that stay are kept and only set anew: another number of them compiles every material. */
  set(lights: readonly LightSettings[]): void {
    this.settings = lights;
    for (const [i, { kind }] of lights.entries()) {
      if (this.lamps[i]?.kind === kind) continue;
      if (this.lamps[i]) this.remove(i);
      const lamp = MADE[kind]();
      this.lamps[i] = { kind, lamp };
      this.scene.add(lamp);
      if ("target" in lamp) this.scene.add(lamp.target);
    }
    while (this.lamps.length > lights.length) {
      this.remove(this.lamps.length - 1);
      this.lamps.pop();
    }
  }

  /** Around what is shown. */
  place(middle: THREE.Vector3, radius: number): void {
    this.around = { middle, radius };
    let shadows = 0;
    for (const [i, settings] of this.settings.entries()) {
      const { lamp } = this.lamps[i];
      const isCasting = settings.shadow && shadows < MOST_SHADOWS;
      if (isCasting) shadows++;
      put(lamp, settings, middle, radius);
      lamp.castShadow = isCasting;
      if (isCasting) cast(lamp, settings, radius);
    }
  }

  /**
   * Lets each shine from one place of its extent, with a shadow as sharp as that makes it: the mean of many is soft where what casts it is far.
   * @param on disc of radius 1; null lets them shine from their middles, with edges that are only made soft
   */
  lean(on: readonly [number, number] | null): void {
    const { middle, radius } = this.around;
    for (const [i, settings] of this.settings.entries()) {
      if (settings.size === 0) continue;
      const { lamp } = this.lamps[i];
      // Each along a disc of its own, so that lights that stand together do not lean alike.
      const place = on ? onExtent(settings, turned(on, i)) : settings.place;
      put(lamp, { ...settings, place }, middle, radius);
      lamp.shadow.radius = on ? SHARP : softness(settings);
    }
  }

  /** The strongest of them, as what has no material takes them. */
  get forLoose(): LooseLamp[] {
    return this.lamps
      .map(({ lamp }) => lamp)
      .sort((a, b) => b.intensity - a.intensity)
      .slice(0, MOST_LAMPS)
      .map((lamp) => {
        const color = lamp.color.clone().multiplyScalar(lamp.intensity / Math.PI);
        if (lamp instanceof THREE.DirectionalLight)
          return { place: lamp.position.clone().sub(lamp.target.position).normalize(), isSun: true, color };
        if (!(lamp instanceof THREE.SpotLight)) return { place: lamp.position, isSun: false, color };
        const way = lamp.target.position.clone().sub(lamp.position).normalize();
        const cone = {
          way,
          inner: Math.cos(lamp.angle * (1 - lamp.penumbra)),
          outer: Math.cos(lamp.angle),
        };
        return { place: lamp.position, isSun: false, color, cone };
      });
  }

  dispose(): void {
    this.set([]);
  }

  private remove(i: number): void {
    const { lamp } = this.lamps[i];
    this.scene.remove(lamp);
    if ("target" in lamp) this.scene.remove(lamp.target);
    lamp.dispose();
  }
}

function put(
  lamp: Lamp,
  { place, target, color, spread, edge }: LightSettings,
  middle: THREE.Vector3,
  radius: number,
): void {
  const strength = Math.max(...color);
  lamp.color.setRGB(...(color.map((v) => (strength > 0 ? v / strength : 0)) as [number, number, number]));
  lamp.intensity = strength * (lamp instanceof THREE.DirectionalLight ? 1 : CANDELAS);
  if (lamp instanceof THREE.DirectionalLight) {
    // A sun is as far away as its shadows want it; what counts is where it shines from.
    const way = new THREE.Vector3(...place).sub(new THREE.Vector3(...target));
    if (way.lengthSq() === 0) way.set(0, 1, 0);
    lamp.target.position.copy(middle);
    lamp.position.copy(middle).addScaledVector(way.normalize(), radius * 3);
    return;
  }
  lamp.position.fromArray(place);
  if (lamp instanceof THREE.SpotLight) {
    lamp.target.position.fromArray(target);
    lamp.angle = spread;
    lamp.penumbra = edge;
  }
}

function cast(lamp: Lamp, settings: LightSettings, radius: number): void {
  const { kind } = settings;
  const { shadow } = lamp;
  const pixels = SHADOW_PIXELS[kind];
  if (shadow.mapSize.x !== pixels) {
    shadow.mapSize.set(pixels, pixels);
    shadow.map?.dispose();
    shadow.map = null;
  }
  shadow.radius = softness(settings);
  shadow.bias = -0.0006;
  if (lamp instanceof THREE.DirectionalLight) {
    const { camera } = lamp.shadow;
    camera.left = camera.bottom = -radius * 1.15;
    camera.right = camera.top = radius * 1.15;
    camera.near = radius * 0.5;
    camera.far = radius * 6;
    camera.updateProjectionMatrix();
    // A few texels, so that surfaces along the light do not shade themselves.
    shadow.normalBias = (radius * 2.3 * 5) / pixels;
  } else {
    const { camera } = shadow as THREE.SpotLightShadow;
    camera.near = Math.max(0.01, radius / 200);
    camera.far = lamp.position.length() + radius * 6;
    shadow.normalBias = (radius * 4) / pixels;
  }
}
