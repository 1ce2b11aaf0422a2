import * as THREE from "three";

/** Pixels across. */
const SIZE = 22;

/** Rings around chosen elements, over everything else. */
export class Marks {
  private points: THREE.Points | null = null;
  private readonly material = new THREE.ShaderMaterial({
    uniforms: { size: { value: SIZE } },
    vertexShader:
      "uniform float size; void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); gl_PointSize = size; }",
    // A light ring in a dark one is seen on any ground.
    fragmentShader: `void main() {
      float away = length(gl_PointCoord - 0.5) * 2.0;
      if (away > 1.0 || away < 0.6) discard;
      gl_FragColor = away > 0.9 || away < 0.7 ? vec4(0.05, 0.08, 0.07, 1.0) : vec4(0.94, 0.69, 0.23, 1.0);
    }`,
    depthTest: false,
    transparent: true,
  });

  constructor(private readonly scene: THREE.Scene) {}

  show(places: Float32Array | null): void {
    if (this.points) {
      this.scene.remove(this.points);
      this.points.geometry.dispose();
      this.points = null;
    }
    if (!places || places.length === 0) return;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(places, 3));
    this.points = new THREE.Points(geometry, this.material);
    this.points.frustumCulled = false;
    this.points.renderOrder = 10;
    this.scene.add(this.points);
  }

  dispose(): void {
    this.show(null);
    this.material.dispose();
  }
}
