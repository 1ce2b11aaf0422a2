/** How meshes are drawn: one material per way of drawing; where copies say what they are made of, or small clones are discs, one per geometry. */
import * as THREE from "three";
import { USUAL_LOOK } from "@/core/geometry/surface-look";
import { checker } from "./checker";
import { copyLooksOf } from "./copy-looks";
import type { FarClones } from "./far-clones";
import { costlyOf, lookMaterial, readLooks, VERTEX_LOOKS } from "./look-shader";
import type { Textures } from "./textures";

export const DRAW_MODES = ["lit", "flat", "lines", "checker"] as const;
export type DrawMode = (typeof DRAW_MODES)[number];

/** Of the room that polished surfaces reflect: it comes on top of the daylight. */
const REFLECTED = 0.55;

/** The attribute of what a copy lets be seen of itself, for materials that are clear. */
export const COPY_ALPHA = "copyAlpha";

export class MeshMaterials {
  private readonly made = new Map<string, THREE.Material>();

  /** @param studio what polished surfaces reflect where no picture surrounds them @param pictures those that lie on surfaces */
  constructor(
    private readonly far: FarClones,
    private readonly studio: () => THREE.Texture | null,
    private readonly pictures: Textures,
  ) {}

  /** @param clear what is behind is seen through it */
  of(geometry: THREE.BufferGeometry, mode: DrawMode, clear: boolean): THREE.Material {
    const vertexColors = geometry.hasAttribute("color");
    // Clear copies are always drawn whole.
    const adapts = this.far.active && !clear;
    const own = adapts || copyLooksOf(geometry) ? ` ${geometry.uuid}` : "";
    // Without a place on a picture there is nothing to be seen of it.
    const laid = mode === "checker" && geometry.hasAttribute("uv");
    const look = mode === "lit" ? lookNameOf(geometry) : "";
    const name = `${mode}${laid ? " laid" : ""}${vertexColors ? " coloured" : ""}${clear ? " clear" : ""}${look}${own}`;
    let material = this.made.get(name);
    if (!material) {
      material = makeMaterial(mode, vertexColors && !laid, clear, look ? geometry : null, this.pictures);
      if (look) {
        const dressed = material as THREE.MeshStandardMaterial;
        dressed.envMap = this.studio();
        if (dressed.envMap) dressed.envMapIntensity = REFLECTED;
      }
      if (laid) (material as THREE.MeshStandardMaterial).map = checker();
      if (adapts) this.far.adapt(material, geometry);
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
    this.made.clear();
  }
}

/** Tells geometries apart by what has to be read of them: who says what surfaces are made of, and the costly parts of it. */
function lookNameOf(geometry: THREE.BufferGeometry): string {
  const said = [
    ...(geometry.hasAttribute(VERTEX_LOOKS[0]) ? ["vertices"] : []),
    ...(copyLooksOf(geometry) ? ["copies"] : []),
    ...(geometry.hasAttribute("uv") ? ["laid"] : []),
  ];
  return said.some((name) => name !== "laid") ? ` ${said.join("+")} of ${costlyOf(geometry).join("+")}` : "";
}

/** @param looked a geometry whose elements say what they are made of */
function makeMaterial(
  mode: DrawMode,
  vertexColors: boolean,
  clear: boolean,
  looked: THREE.BufferGeometry | null,
  pictures: Textures,
): THREE.Material {
  // Copies are drawn from the furthest to the nearest, each with its back before its front, so none hides another.
  const seen = clear ? { transparent: true, depthWrite: false, premultipliedAlpha: true } : {};
  const common = { vertexColors, side: THREE.DoubleSide, ...seen };
  const material =
    mode === "lit" || mode === "checker"
      ? lookMaterial(looked ? costlyOf(looked) : [], {
          roughness: USUAL_LOOK.roughness,
          metalness: USUAL_LOOK.metalness,
          ...common,
        })
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
    if (looked) readLooks(shader, looked, pictures);
    if (clear)
      shader.vertexShader = shader.vertexShader
        .replace("void main() {", `attribute float ${COPY_ALPHA};\nvoid main() {`)
        .replace("#include <color_vertex>", `#include <color_vertex>\nvColor.a *= ${COPY_ALPHA};`);
  };
  material.customProgramCacheKey = () => `${clear ? "clear" : ""}${looked ? lookNameOf(looked) : ""}`;
  return material;
}
