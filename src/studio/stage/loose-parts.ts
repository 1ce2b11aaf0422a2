/** What a drawing has besides meshes: sites without a shape as dots, curves as lines. Buffers that are there are filled anew. */
import * as THREE from "three";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { WireDrawing } from "@/engine/protocol";
import { dynamic, fits, refill } from "./buffers";
import { anyClear } from "./clear-copies";
import { type LooseLight, lampUniforms, setLamps } from "./loose-lamps";
import {
  type BallLight,
  DOT_PICTURES,
  DOT_ROUNDNESS,
  DOT_THICKNESS,
  dotMaterial,
  lineMaterial,
  THICKNESS_END,
  THICKNESS_START,
} from "./loose-materials";
import type { Textures } from "./textures";

/** Balls are lit where they are in the world. */
const IN_WORLD = new THREE.Matrix4();

export class LooseParts {
  private dots: THREE.Points | null = null;
  private lines: LineSegments2 | null = null;
  private readonly lineMaterial = lineMaterial();
  /** Pieces of a line lie over each other where they meet: of clear ones only the nearest is drawn, by the depths that this leaves first. */
  private readonly depthMaterial = Object.assign(lineMaterial(), { colorWrite: false, transparent: true });
  private readonly ballLight: BallLight = {
    ballSky: { value: new THREE.Color(1, 1, 1) },
    ballKey: { value: new THREE.Color(0, 0, 0) },
    ballFrom: { value: new THREE.Vector3(0, 1, 0) },
    ...lampUniforms(),
  };
  private readonly dotMaterial: THREE.PointsMaterial;
  /** What is shown says how thick it is, how round, or what it shows. */
  private readonly said = { dots: false, lines: false, round: false, pictures: false };

  constructor(
    private readonly scene: THREE.Scene,
    textures: Textures,
  ) {
    this.dotMaterial = dotMaterial(this.ballLight, textures);
  }

  show({ dots, lines }: Pick<WireDrawing, "dots" | "lines">): void {
    this.showDots(dots);
    this.showLines(lines);
  }

  /** What balls are lit by. */
  light({ sky, key, from, lamps }: LooseLight): void {
    this.ballLight.ballSky.value.copy(sky);
    this.ballLight.ballKey.value.copy(key);
    this.ballLight.ballFrom.value.copy(from);
    setLamps(this.ballLight, lamps, IN_WORLD);
  }

  dispose(): void {
    this.show({ dots: undefined, lines: undefined });
    this.dotMaterial.dispose();
    this.lineMaterial.dispose();
    this.depthMaterial.dispose();
  }

  private showDots(dots: WireDrawing["dots"]): void {
    this.dots = this.loose(this.dots, dots?.count ?? 0, (room) => {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute("position", dynamic(new THREE.BufferAttribute(new Float32Array(room * 3), 3)));
      geometry.setAttribute("color", dynamic(new THREE.BufferAttribute(new Float32Array(room * 4), 4)));
      for (const name of [DOT_THICKNESS, DOT_ROUNDNESS, DOT_PICTURES])
        geometry.setAttribute(name, dynamic(new THREE.BufferAttribute(new Float32Array(room), 1)));
      return new THREE.Points(geometry, this.dotMaterial);
    });
    if (!dots || !this.dots) return;
    const { geometry } = this.dots;
    refill(geometry.getAttribute("position"), dots.positions);
    refill(geometry.getAttribute("color"), dots.colors);
    const { said } = this;
    say(geometry.getAttribute(DOT_THICKNESS) as THREE.BufferAttribute, dots.thickness, said.dots);
    say(geometry.getAttribute(DOT_ROUNDNESS) as THREE.BufferAttribute, dots.roundness, said.round);
    say(geometry.getAttribute(DOT_PICTURES) as THREE.BufferAttribute, dots.pictures, said.pictures);
    said.dots = dots.thickness !== undefined;
    said.round = dots.roundness !== undefined;
    said.pictures = dots.pictures !== undefined;
    geometry.setDrawRange(0, dots.count);
  }

  private showLines(lines: WireDrawing["lines"]): void {
    this.lines = this.loose(this.lines, lines?.count ?? 0, (room) => {
      const geometry = new LineSegmentsGeometry();
      geometry.setPositions(new Float32Array(room * 6));
      paired(geometry, room, 4, "instanceColorStart", "instanceColorEnd");
      paired(geometry, room, 1, THICKNESS_START, THICKNESS_END);
      const segments = new LineSegments2(geometry, this.lineMaterial);
      const depth = new LineSegments2(geometry, this.depthMaterial);
      depth.frustumCulled = false;
      // After all other clear things, which it would hide.
      depth.renderOrder = 1;
      segments.renderOrder = 2;
      return segments.add(depth);
    });
    if (!lines || !this.lines) return;
    const { geometry } = this.lines;
    const ends = (name: string) =>
      (geometry.getAttribute(name) as THREE.InterleavedBufferAttribute)
        .data as THREE.InstancedInterleavedBuffer;
    refill(ends("instanceStart"), lines.positions);
    refill(ends("instanceColorStart"), lines.colors);
    say(ends(THICKNESS_START), lines.thickness, this.said.lines);
    this.said.lines = lines.thickness !== undefined;
    geometry.instanceCount = lines.count;
    const isClear = anyClear(lines.colors);
    this.lineMaterial.transparent = isClear;
    this.lines.children[0].visible = isClear;
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

/** Two attributes in one buffer, of so many numbers for the beginning of each segment and as many for its end. */
function paired(
  geometry: LineSegmentsGeometry,
  room: number,
  width: number,
  start: string,
  end: string,
): void {
  const both = new THREE.InstancedInterleavedBuffer(new Float32Array(room * width * 2), width * 2, 1);
  geometry.setAttribute(start, new THREE.InterleavedBufferAttribute(both, width, 0));
  geometry.setAttribute(end, new THREE.InterleavedBufferAttribute(both, width, width));
}

/** Writes what elements say; it is 0 again where a drawing says nothing. */
function say(
  buffer: THREE.BufferAttribute | THREE.InterleavedBuffer,
  values: Float32Array | undefined,
  wasSaid: boolean,
): void {
  if (values) refill(buffer, values);
  else if (wasSaid) refill(buffer, new Float32Array(buffer.array.length));
}
