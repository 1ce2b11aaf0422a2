/** Light from a picture all around (equirectangular), in place of most of the daylight. */
import * as THREE from "three";
import { linearTable, type Picture } from "@/core/maths/picture";
import { MOST_SURROUNDING } from "@/core/nodes/route/stage";
import type { StageSettings } from "@/engine/protocol";
import { ReceivedOnce } from "@/engine/sent-once";
import type { Daylight } from "./daylight";

/** How much of the daylight stays, for a clear direction and shadows. */
const DAYLIGHT_LEFT = 0.25;

export class Surroundings {
  private readonly picture = new ReceivedOnce<Picture>();
  private target: THREE.WebGLRenderTarget | null = null;
  private room: THREE.WebGLRenderTarget | null = null;

  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    private readonly scene: THREE.Scene,
    private readonly daylight: Daylight,
    private readonly onChange: () => void,
  ) {}

  set({ light, lightTurn, lightPower }: StageSettings): void {
    this.scene.environmentRotation.y = this.scene.backgroundRotation.y = lightTurn;
    this.scene.environmentIntensity = this.scene.backgroundIntensity = lightPower;
    if (this.picture.take(light)) this.surround();
  }

  /** What is all around, to be seen behind everything; null without a picture. */
  get around(): THREE.Texture | null {
    return this.target?.texture ?? null;
  }

  /** What was drawn on a graphics card that was lost is drawn again. */
  drawAgain(): void {
    this.room?.dispose();
    this.room = null;
    this.surround();
  }

  private surround(): void {
    this.target?.dispose();
    const { value } = this.picture;
    this.target = value && this.filtered(value);
    this.scene.environment = this.target?.texture ?? null;
    this.daylight.dim(this.target ? DAYLIGHT_LEFT : 1);
    this.onChange();
  }

  /** Something for polished surfaces to reflect; null where a picture is what they reflect. It is drawn once: a sky, a ground and two soft boxes. */
  studio(): THREE.Texture | null {
    if (this.target) return null;
    this.room ??= this.filteredPixels(softBoxes(), ROOM_WIDTH, ROOM_WIDTH / 2);
    return this.room.texture;
  }

  dispose(): void {
    this.target?.dispose();
    this.room?.dispose();
  }

  private filtered(picture: Picture): THREE.WebGLRenderTarget {
    const table = linearTable(picture);
    // Wide ones are taken a few pixels at a time, as their mean.
    const step = Math.ceil(picture.width / MOST_SURROUNDING);
    const [width, height] = [picture.width, picture.height].map((size) =>
      Math.max(1, Math.floor(size / step)),
    );
    const pixels = new Float32Array(width * height * 4);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        // Rows run downwards in pictures and upwards in textures.
        const to = ((height - 1 - y) * width + x) * 4;
        pixels[to + 3] = 1;
        for (let k = 0; k < step * step; k++) {
          const row = Math.min(picture.height - 1, y * step + Math.floor(k / step));
          const from = (row * picture.width + Math.min(picture.width - 1, x * step + (k % step))) * 4;
          for (let c = 0; c < 3; c++) pixels[to + c] += table[picture.samples[from + c]] / (step * step);
        }
      }
    return this.filteredPixels(pixels, width, height);
  }

  private filteredPixels(pixels: Float32Array, width: number, height: number): THREE.WebGLRenderTarget {
    const texture = new THREE.DataTexture(pixels, width, height, THREE.RGBAFormat, THREE.FloatType);
    texture.mapping = THREE.EquirectangularReflectionMapping;
    texture.minFilter = texture.magFilter = THREE.LinearFilter;
    texture.needsUpdate = true;
    const generator = new THREE.PMREMGenerator(this.renderer);
    const target = generator.fromEquirectangular(texture);
    generator.dispose();
    texture.dispose();
    return target;
  }
}

/** Pixels around the room. */
const ROOM_WIDTH = 64;

/** Linear light, from the bottom row up: dark ground, pale sky, a warm box at the front right and a cool one behind. */
function softBoxes(): Float32Array {
  const height = ROOM_WIDTH / 2;
  const pixels = new Float32Array(ROOM_WIDTH * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < ROOM_WIDTH; x++) {
      const up = (y + 0.5) / height;
      const sky = Math.min(1, Math.max(0, (up - 0.44) / 0.16));
      // Bright in the middle, fading to its edges.
      const box = (middle: number, wide: number, low: number, high: number) => {
        const across = Math.abs((((x + 0.5) / ROOM_WIDTH - middle + 1.5) % 1) - 0.5) / wide;
        const above = Math.abs(up - (low + high) / 2) / ((high - low) / 2);
        return Math.max(0, 1 - across ** 4) * Math.max(0, 1 - above ** 4);
      };
      const [warm, cool] = [box(0.62, 0.07, 0.56, 0.86), box(0.14, 0.05, 0.5, 0.8)];
      const rgb = [
        0.06 + 0.5 * sky + 7 * warm + 2 * cool,
        0.075 + 0.56 * sky + 6 * warm + 3 * cool,
        0.065 + 0.58 * sky + 4.6 * warm + 3.6 * cool,
      ];
      pixels.set([...rgb, 1], (y * ROOM_WIDTH + x) * 4);
    }
  return pixels;
}
