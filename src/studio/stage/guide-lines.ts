import * as THREE from "three";

/** Thin lines that explain what is shown, over everything else: how far something reaches, or the ways of clones. */
export class GuideLines {
  private lines: THREE.LineSegments | null = null;
  private readonly material: THREE.LineBasicMaterial;

  constructor(
    private readonly scene: THREE.Scene,
    color: string,
    opacity: number,
  ) {
    this.material = new THREE.LineBasicMaterial({ color, transparent: true, opacity, depthTest: false });
  }

  /** @param segments ends, three numbers each */
  show(segments: Float32Array | null): void {
    if (this.lines) {
      this.scene.remove(this.lines);
      this.lines.geometry.dispose();
      this.lines = null;
    }
    if (!segments) return;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(segments, 3));
    this.lines = new THREE.LineSegments(geometry, this.material);
    this.lines.frustumCulled = false;
    this.lines.renderOrder = 9;
    this.scene.add(this.lines);
  }

  dispose(): void {
    this.show(null);
    this.material.dispose();
  }
}
