/** The light of the stage, and the floor that takes its shadows. */
import * as THREE from "three";

const SHADOW_PIXELS = 2048;
const CONTACT_PIXELS = 512;
/** Where the light stands, in radii of what is shown. */
const DIRECTION = new THREE.Vector3(0.62, 1, 0.5).normalize();

/**
 * A warm key from the front right, a cool rim from behind, a sky that fills; and a soft light from straight above, whose wide
 * shadow darkens the floor where things touch it.
 */
export class Daylight {
  private readonly key = new THREE.DirectionalLight("#ffefd6", 2.7);
  private readonly above = new THREE.DirectionalLight("#eef4ee", 0.55);
  private readonly ground: THREE.Mesh;
  /** What a picture around everything takes the place of. */
  readonly lamps: readonly THREE.Light[];

  constructor(scene: THREE.Scene) {
    const sky = new THREE.HemisphereLight("#dcebe8", "#27352f", 0.95);
    const rim = new THREE.DirectionalLight("#a8dbe0", 1.1);
    rim.position.set(-3, 2, -4);
    this.key.castShadow = true;
    this.key.shadow.mapSize.set(SHADOW_PIXELS, SHADOW_PIXELS);
    this.key.shadow.radius = 5;
    this.key.shadow.bias = -0.0006;
    this.above.castShadow = true;
    // Few pixels, read widely: soft, and cheap.
    this.above.shadow.mapSize.set(CONTACT_PIXELS, CONTACT_PIXELS);
    this.above.shadow.radius = 9;
    this.above.shadow.bias = -0.002;
    this.ground = new THREE.Mesh(new THREE.CircleGeometry(1, 64), new THREE.ShadowMaterial({ opacity: 0.5 }));
    this.ground.rotation.x = -Math.PI / 2;
    this.ground.receiveShadow = true;
    this.lamps = [sky, this.key, this.above, rim];
    scene.add(...this.lamps, this.key.target, this.above.target, this.ground);
  }

  setGround(visible: boolean): void {
    this.ground.visible = visible;
  }

  /** Around what is shown. @param lowest its lowest point */
  place(middle: THREE.Vector3, radius: number, lowest: number): void {
    for (const [light, direction, pixels] of [
      [this.key, DIRECTION, SHADOW_PIXELS],
      [this.above, UP, CONTACT_PIXELS],
    ] as const) {
      light.target.position.copy(middle);
      light.position.copy(middle).addScaledVector(direction, radius * 3);
      const { camera } = light.shadow;
      camera.left = camera.bottom = -radius * 1.15;
      camera.right = camera.top = radius * 1.15;
      // A few texels of the shadow's picture, so that surfaces along the light do not shade themselves.
      light.shadow.normalBias = (radius * 2.3 * 5) / pixels;
      camera.near = radius * 0.5;
      camera.far = radius * 6;
      camera.updateProjectionMatrix();
    }
    this.ground.position.set(middle.x, lowest - radius * 0.001, middle.z);
    this.ground.scale.setScalar(radius * 6);
  }
}

const UP = new THREE.Vector3(0, 1, 0);
