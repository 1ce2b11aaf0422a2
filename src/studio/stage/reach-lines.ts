import * as THREE from "three";

/** Thin lines that show how far something reaches, over everything else. */
export class ReachLines {
  private lines: THREE.LineSegments | null = null;
  private readonly material = new THREE.LineBasicMaterial({
    color: "#f0b03a",
    transparent: true,
    opacity: 0.55,
    depthTest: false,
  });

  constructor(private readonly scene: THREE.Scene) {}

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
