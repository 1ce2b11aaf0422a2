/** A sheet that lies under what is shown and is curved up behind it, as in photographers' studios: no edge is seen, and light falls on it. */
import * as THREE from "three";

/** Parts of what is shown's radius: to the front and the sides, to where it begins to rise, of the curve, and up. */
const FRONT = 12;
const SIDE = 14;
const BEHIND = 1.4;
const BEND = 2.6;
const UP = 14;
const STEPS = 24;

/** From the front to the top: places across the sheet, y and z for a radius of 1. */
function section(): [number, number][] {
  const bend = Array.from({ length: STEPS + 1 }, (_, i): [number, number] => {
    const angle = (i / STEPS) * (Math.PI / 2);
    return [BEND * (1 - Math.cos(angle)), -BEHIND - BEND * Math.sin(angle)];
  });
  return [[0, FRONT], ...bend, [UP, -BEHIND - BEND]];
}

function geometry(): THREE.BufferGeometry {
  const line = section();
  const places = line.flatMap(([y, z]) => [-SIDE, y, z, SIDE, y, z]);
  const faces = line.slice(1).flatMap((_, i) => [0, 1, 3, 0, 3, 2].map((k) => i * 2 + k));
  const made = new THREE.BufferGeometry();
  made.setAttribute("position", new THREE.Float32BufferAttribute(places, 3));
  made.setIndex(faces);
  made.computeVertexNormals();
  return made;
}

export class CurvedSheet {
  private readonly mesh = new THREE.Mesh(
    geometry(),
    new THREE.MeshStandardMaterial({ roughness: 0.92, metalness: 0, side: THREE.DoubleSide }),
  );

  constructor(private readonly scene: THREE.Scene) {
    this.mesh.receiveShadow = true;
    scene.add(this.mesh);
  }

  /** @param color linear @param facing radians about the upright */
  set(color: readonly number[], facing: number): void {
    this.mesh.material.color.setRGB(color[0], color[1], color[2]);
    this.mesh.rotation.y = facing;
  }

  place(at: THREE.Vector3, radius: number): void {
    this.mesh.position.copy(at);
    this.mesh.scale.setScalar(radius);
  }

  dispose(): void {
    this.scene.remove(this.mesh);
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}
