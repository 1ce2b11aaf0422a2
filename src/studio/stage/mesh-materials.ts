/** How meshes are drawn: one material per way of drawing, and where small clones are discs one per geometry, as sizes differ. */
import * as THREE from "three";
import { checker } from "./checker";
import type { FarClones } from "./far-clones";

export const DRAW_MODES = ["lit", "flat", "lines", "checker"] as const;
export type DrawMode = (typeof DRAW_MODES)[number];

/** The attribute of what a copy lets be seen of itself, for materials that are clear. */
export const COPY_ALPHA = "copyAlpha";

export class MeshMaterials {
  private readonly made = new Map<string, THREE.Material>();

  constructor(private readonly far: FarClones) {}

  /** @param clear what is behind is seen through it */
  of(geometry: THREE.BufferGeometry, mode: DrawMode, clear: boolean): THREE.Material {
    const vertexColors = geometry.hasAttribute("color");
    // Clear copies are always drawn whole.
    const own = this.far.active && !clear ? ` ${geometry.uuid}` : "";
    // Without a place on a picture there is nothing to be seen of it.
    const laid = mode === "checker" && geometry.hasAttribute("uv");
    const name = `${mode}${laid ? " laid" : ""}${vertexColors ? " coloured" : ""}${clear ? " clear" : ""}${own}`;
    let material = this.made.get(name);
    if (!material) {
      material = makeMaterial(mode, vertexColors && !laid, clear);
      if (laid) (material as THREE.MeshStandardMaterial).map = checker();
      if (own) this.far.adapt(material, geometry);
      this.made.set(name, material);
    }
    return material;
  }

  /** A geometry is gone, and so is what was made for it alone. */
  forget(geometry: THREE.BufferGeometry): void {
    for (const [name, material] of this.made) {
      if (!name.endsWith(geometry.uuid)) continue;
      material.dispose();
      this.made.delete(name);
    }
  }

  dispose(): void {
    for (const material of this.made.values()) material.dispose();
  }
}

function makeMaterial(mode: DrawMode, vertexColors: boolean, clear: boolean): THREE.Material {
  // Copies are drawn from the furthest to the nearest, each with its back before its front, so none hides another.
  const seen = clear ? { transparent: true, depthWrite: false } : {};
  const common = { vertexColors, side: THREE.DoubleSide, ...seen };
  const material =
    mode === "lit" || mode === "checker"
      ? new THREE.MeshStandardMaterial({ roughness: 0.62, metalness: 0, ...common })
      : new THREE.MeshBasicMaterial({ wireframe: mode === "lines", ...common });
  material.onBeforeCompile = (shader) => {
    // The outside of a mirrored clone counts as a back face, whose normal is turned round further on.
    shader.vertexShader = shader.vertexShader.replace(
      "#include <beginnormal_vertex>",
      `#include <beginnormal_vertex>
      #ifdef USE_INSTANCING
        if (determinant(mat3(instanceMatrix)) < 0.0) objectNormal = -objectNormal;
      #endif`,
    );
    if (clear)
      shader.vertexShader = shader.vertexShader
        .replace("void main() {", `attribute float ${COPY_ALPHA};\nvoid main() {`)
        .replace("#include <color_vertex>", `#include <color_vertex>\nvColor.a *= ${COPY_ALPHA};`);
  };
  material.customProgramCacheKey = () => (clear ? "clear" : "");
  return material;
}
