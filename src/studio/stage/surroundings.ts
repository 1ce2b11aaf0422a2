/** Light from a picture all around (equirectangular), in place of most of the daylight. */
import * as THREE from "three";
import { linearTable, type Picture } from "@/core/maths/picture";
import type { StageSettings } from "@/engine/protocol";

/** How much of the daylight stays, for a clear direction and shadows. */
const DAYLIGHT_LEFT = 0.25;

export class Surroundings {
  private shown = 0;
  private target: THREE.WebGLRenderTarget | null = null;
  private readonly full: readonly number[];

  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    private readonly scene: THREE.Scene,
    private readonly daylight: readonly THREE.Light[],
  ) {
    this.full = daylight.map((light) => light.intensity);
  }

  set(light: StageSettings["light"]): void {
    if ((light?.key ?? 0) === this.shown) return;
    if (light && !light.picture) return;
    this.shown = light?.key ?? 0;
    this.target?.dispose();
    this.target = light?.picture ? this.filtered(light.picture) : null;
    this.scene.environment = this.target?.texture ?? null;
    this.daylight.forEach((lamp, i) => {
      lamp.intensity = this.full[i] * (this.target ? DAYLIGHT_LEFT : 1);
    });
  }

  dispose(): void {
    this.target?.dispose();
  }

  private filtered(picture: Picture): THREE.WebGLRenderTarget {
    const table = linearTable(picture);
    const pixels = new Float32Array(picture.samples.length);
    for (let i = 0; i < pixels.length; i++) {
      // Rows run downwards in pictures and upwards in textures.
      const row = Math.floor(i / 4 / picture.width);
      const to = (picture.height - 1 - row) * picture.width * 4 + (i % (picture.width * 4));
      pixels[to] = i % 4 === 3 ? 1 : table[picture.samples[i]];
    }
    const texture = new THREE.DataTexture(
      pixels,
      picture.width,
      picture.height,
      THREE.RGBAFormat,
      THREE.FloatType,
    );
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
