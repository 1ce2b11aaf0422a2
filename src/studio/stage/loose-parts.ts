/** What a drawing has besides meshes: sites without a shape as dots, curves as lines. Buffers that are there are filled anew. */
import * as THREE from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { WireDrawing } from "@/engine/protocol";
import { dynamic, fits, refill } from "./buffers";

export class LooseParts {
  private dots: THREE.Points | null = null;
  private lines: LineSegments2 | null = null;
  /** Width in CSS pixels. */
  private readonly lineMaterial = new LineMaterial({ linewidth: 1.6, vertexColors: true });
  private readonly dotMaterial = new THREE.PointsMaterial({
    size: 5,
    sizeAttenuation: false,
    vertexColors: true,
    transparent: true,
  });

  constructor(private readonly scene: THREE.Scene) {}

  show({ dots, lines }: Pick<WireDrawing, "dots" | "lines">): void {
    this.showDots(dots);
    this.showLines(lines);
  }

  dispose(): void {
    this.show({ dots: undefined, lines: undefined });
    this.dotMaterial.dispose();
    this.lineMaterial.dispose();
  }

  private showDots(dots: WireDrawing["dots"]): void {
    this.dots = this.loose(this.dots, dots?.count ?? 0, (room) => {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute("position", dynamic(new THREE.BufferAttribute(new Float32Array(room * 3), 3)));
      geometry.setAttribute("color", dynamic(new THREE.BufferAttribute(new Float32Array(room * 4), 4)));
      return new THREE.Points(geometry, this.dotMaterial);
    });
    if (!dots || !this.dots) return;
    const { geometry } = this.dots;
    refill(geometry.getAttribute("position"), dots.positions);
    refill(geometry.getAttribute("color"), dots.colors);
    geometry.setDrawRange(0, dots.count);
  }

  private showLines(lines: WireDrawing["lines"]): void {
    this.lines = this.loose(this.lines, lines?.count ?? 0, (room) => {
      const geometry = new LineSegmentsGeometry();
      geometry.setPositions(new Float32Array(room * 6));
      geometry.setColors(new Float32Array(room * 6));
      return new LineSegments2(geometry, this.lineMaterial);
    });
    if (!lines || !this.lines) return;
    const { geometry } = this.lines;
    const ends = (name: string) =>
      (geometry.getAttribute(name) as THREE.InterleavedBufferAttribute)
        .data as THREE.InstancedInterleavedBuffer;
    refill(ends("instanceStart"), lines.positions);
    const colors = ends("instanceColorStart");
    withoutAlpha(lines.colors, colors.array as Float32Array);
    colors.needsUpdate = true;
    geometry.instanceCount = lines.count;
  }

  /** What shows so many: the one there is while it has room, and is not far too large. */
  private loose<T extends THREE.Points | LineSegments2>(
    there: T | null,
    count: number,
    make: (room: number) => T,
  ): T | null {
    const room: number = there?.userData.room ?? 0;
    if (there && count > 0 && fits(room, count)) return there;
    if (there) {
      this.scene.remove(there);
      there.geometry.dispose();
    }
    if (count === 0) return null;
    // A little ahead, as counts grow.
    const ahead = Math.ceil(count * 1.25);
    const made = make(ahead);
    made.userData.room = ahead;
    made.frustumCulled = false;
    this.scene.add(made);
    return made;
  }
}

/** RGBA to RGB, as the line material takes colours. */
function withoutAlpha(rgba: Float32Array, rgb: Float32Array): void {
  for (let from = 0, to = 0; from < rgba.length; from += 4, to += 3) {
    rgb[to] = rgba[from];
    rgb[to + 1] = rgba[from + 1];
    rgb[to + 2] = rgba[from + 2];
  }
}
