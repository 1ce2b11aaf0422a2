/**
 * Draws what the engine sends with three.js: instanced meshes under a soft key light, on a floor that takes
 * shadows. Draws only when something changed.
 */
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { View } from "@/core/document/schema";
import type { SentGeometry, SentVertices, StageSettings, WireBatch, WireDrawing } from "@/engine/protocol";
import { Backdrop } from "./backdrop";
import { BareGround } from "./bare-ground";
import { Daylight } from "./daylight";
import { FarClones } from "./far-clones";
import { GuideLines } from "./guide-lines";
import { Marks } from "./marks";
import { OUTWARD, Outlines } from "./outlines";
import { rayThrough } from "./sight";
import { Surroundings } from "./surroundings";

export const DRAW_MODES = ["lit", "flat", "lines"] as const;
export type DrawMode = (typeof DRAW_MODES)[number];

/** From the front right, a little above. */
export const DEFAULT_VIEW: View = { position: [6, 5, 8], target: [0, 0, 0] };

/** Field of view, degrees. */
const DEFAULT_ANGLE = 35;

/** Copies behind each other that are asked about at most. */
const MOST_HITS = 12;

export interface StageOptions {
  /** A picture without controls, for the shelf. */
  readonly still?: boolean;
  readonly onViewChange?: (view: View) => void;
}

export class StageView {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  /** To be looked through; it is moved by `setView` and the pointer. */
  readonly camera = new THREE.PerspectiveCamera(DEFAULT_ANGLE, 1, 0.05, 2000);
  private readonly controls: OrbitControls | null;
  private readonly outlines = new Outlines();
  private readonly far = new FarClones(this.scene);
  private readonly marks = new Marks(this.scene);
  private readonly guides = {
    reach: new GuideLines(this.scene, "#f0b03a", 0.55),
    paths: new GuideLines(this.scene, "#8fb7a3", 0.4),
  };
  private readonly drawn = new Set<() => void>();
  private readonly surroundings: Surroundings;
  private readonly daylight = new Daylight(this.scene);
  private readonly backdrop = new Backdrop(this.scene);
  private readonly bare: BareGround | null;
  private readonly geometries = new Map<number, THREE.BufferGeometry>();
  /** By the keys of their geometries. */
  private readonly meshes = new Map<number, THREE.InstancedMesh>();
  private dots: THREE.Points | null = null;
  private lines: LineSegments2 | null = null;
  private materials = new Map<string, THREE.Material>();
  private mode: DrawMode = "lit";
  private pending = 0;
  private bounds: WireDrawing["bounds"] = null;
  private reach = { middle: new THREE.Vector3(), radius: 10 };
  private transparent = false;
  private width = 1;
  private height = 1;
  /** It has no extent, as when the graph fills the studio: nothing is drawn until it has one again. */
  private folded = false;

  /** @throws Error when the browser has no WebGL 2 */
  constructor(canvas: HTMLCanvasElement, options: StageOptions = {}) {
    this.renderer = new THREE.WebGLRenderer({
      canvas,
      antialias: true,
      alpha: options.still === true,
      preserveDrawingBuffer: options.still === true,
    });
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    // What is drawn anew asks for shadows; turning the camera changes none.
    this.renderer.shadowMap.autoUpdate = false;
    this.surroundings = new Surroundings(this.renderer, this.scene, this.daylight.lamps);
    this.bare = options.still ? null : new BareGround(this.scene);
    this.backdrop.set(new THREE.Color("#14201b"), true);
    this.setView(DEFAULT_VIEW);
    this.controls = options.still ? null : new OrbitControls(this.camera, canvas);
    if (this.controls) {
      this.controls.addEventListener("change", () => this.draw());
      this.controls.addEventListener("end", () => options.onViewChange?.(this.view()));
    }
  }

  /** Size in CSS pixels. */
  resize(width: number, height: number, pixelRatio: number): void {
    this.folded = width < 1 || height < 1;
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.renderer.setPixelRatio(pixelRatio);
    this.renderer.setSize(this.width, this.height, false);
    this.camera.aspect = this.width / this.height;
    this.camera.updateProjectionMatrix();
    if (!this.folded) this.drawNow();
  }

  setStage({ background, ground, outline, ink, light, discs }: StageSettings): void {
    this.backdrop.set(
      this.transparent ? null : new THREE.Color().setRGB(background[0], background[1], background[2]),
      ground,
    );
    this.daylight.setGround(ground);
    this.renderer.shadowMap.needsUpdate = true;
    this.outlines.set(outline, ink);
    this.far.setLimit(discs);
    for (const mesh of this.meshes.values()) {
      this.outlines.dress(mesh);
      mesh.material = this.material(mesh.geometry);
      this.far.dress(mesh);
    }
    this.surroundings.set(light);
    this.draw();
  }

  /** Leaves the background out of pictures without controls; what is set by the Stage stays so. */
  setTransparent(transparent: boolean): void {
    this.transparent = transparent;
    if (transparent) this.backdrop.set(null, false);
  }

  setMode(mode: DrawMode): void {
    this.mode = mode;
    this.renderer.shadowMap.enabled = mode === "lit";
    this.renderer.shadowMap.needsUpdate = true;
    for (const mesh of this.meshes.values()) mesh.material = this.material(mesh.geometry);
    this.draw();
  }

  /** Shows a drawing in place of the one before; unchanged geometries are kept, the others dropped. */
  show(drawing: WireDrawing): void {
    for (const sent of drawing.geometries) this.geometries.set(sent.key, toBuffers(sent));
    for (const sent of drawing.moved) this.moveVertices(sent);
    const used = new Set(drawing.batches.map((batch) => batch.geometry));
    for (const [key, geometry] of this.geometries) {
      if (used.has(key)) continue;
      geometry.dispose();
      this.forgetMaterials(geometry);
      this.geometries.delete(key);
    }
    for (const batch of drawing.batches) this.showBatch(batch);
    for (const key of this.meshes.keys()) if (!used.has(key)) this.removeBatch(key);
    this.showDots(drawing.dots);
    this.showLines(drawing.lines);
    this.bounds = drawing.bounds;
    this.bare?.show(drawing.bounds === null);
    this.renderer.shadowMap.needsUpdate = true;
    this.placeLight();
    this.draw();
  }

  /** Removes everything, as when the engine was replaced. */
  clear(): void {
    this.show({ batches: [], geometries: [], moved: [], bounds: null, clones: 0 });
  }

  view(): View {
    const { position } = this.camera;
    const target = this.controls?.target ?? this.lookTarget;
    const angle = this.camera.fov === DEFAULT_ANGLE ? {} : { angle: this.camera.fov };
    return { position: position.toArray(), target: target.toArray(), ...angle };
  }

  setView(view: View): void {
    this.camera.fov = view.angle ?? DEFAULT_ANGLE;
    this.camera.position.fromArray(view.position);
    this.lookTarget.fromArray(view.target);
    if (this.controls) {
      this.controls.target.copy(this.lookTarget);
      this.controls.update();
    } else this.camera.lookAt(this.lookTarget);
    this.placeClips();
    this.draw();
  }

  /** Field of view in degrees. The camera moves so that what it looks at keeps its size. */
  setAngle(angle: number): View {
    const view = this.view();
    const reach = (degrees: number) => Math.tan((degrees * Math.PI) / 360);
    const ratio = reach(this.camera.fov) / reach(angle);
    const position = view.target.map((t, a) => t + (view.position[a] - t) * ratio);
    this.setView({ ...view, position: position as [number, number, number], angle });
    return this.view();
  }

  /** Around all that is shown; null when nothing is. */
  extent(): THREE.Box3 | null {
    if (!this.bounds) return null;
    return new THREE.Box3(new THREE.Vector3(...this.bounds.min), new THREE.Vector3(...this.bounds.max));
  }

  /**
   * Moves the camera so that all of a box fits, keeping its direction. `margin` 1 lets it touch the edges.
   * @param box what is shown, if no other is given
   */
  frameAll(margin = 1.08, box = this.extent()): void {
    if (!box) return;
    const middle = box.getCenter(new THREE.Vector3());
    const target = this.controls?.target ?? this.lookTarget;
    const back = this.camera.position.clone().sub(target).normalize();
    const right = new THREE.Vector3().crossVectors(this.camera.up, back).normalize();
    const up = new THREE.Vector3().crossVectors(back, right);
    const high = Math.tan((this.camera.fov * Math.PI) / 360);
    const wide = high * this.camera.aspect;
    // Each corner of the box asks for so much distance: what it stands aside over the slope of the view, and what it
    // stands nearer than the middle.
    let distance = 0.1;
    for (let corner = 0; corner < 8; corner++) {
      const at = new THREE.Vector3(
        corner & 1 ? box.max.x : box.min.x,
        corner & 2 ? box.max.y : box.min.y,
        corner & 4 ? box.max.z : box.min.z,
      ).sub(middle);
      const aside = Math.max(Math.abs(at.dot(right)) / wide, Math.abs(at.dot(up)) / high);
      distance = Math.max(distance, aside * margin + at.dot(back));
    }
    this.setView({
      ...this.view(),
      position: middle.clone().addScaledVector(back, distance).toArray(),
      target: middle.toArray(),
    });
  }

  /** Moves what is looked at along the picture, by pixels, as if it were held. */
  slide(right: number, down: number): void {
    const target = this.controls?.target ?? this.lookTarget;
    const high = 2 * this.camera.position.distanceTo(target) * Math.tan((this.camera.fov * Math.PI) / 360);
    const by = new THREE.Vector3(-right, down, 0)
      .multiplyScalar(high / this.height)
      .applyQuaternion(this.camera.quaternion);
    this.setView({
      ...this.view(),
      position: this.camera.position.clone().add(by).toArray(),
      target: target.clone().add(by).toArray(),
    });
  }

  /** The copies under a place of the canvas, 0…1 from its upper left corner, the nearest first. */
  pick(x: number, y: number): { geometry: number; copy: number }[] {
    const ray = rayThrough(this.camera, x, y);
    const keys = new Map([...this.meshes].map(([key, mesh]) => [mesh as THREE.Object3D, key]));
    return ray
      .intersectObjects([...keys.keys()], false)
      .slice(0, MOST_HITS)
      .flatMap(({ object, instanceId }) =>
        instanceId === undefined ? [] : [{ geometry: keys.get(object) as number, copy: instanceId }],
      );
  }

  /** Shows lines over everything else, as ends of segments; null takes them away. */
  showGuide(which: "reach" | "paths", segments: Float32Array | null): void {
    this.guides[which].show(segments);
    this.draw();
  }

  /** Calls after every picture, until the function that is returned is called. */
  whenDrawn(call: () => void): () => void {
    this.drawn.add(call);
    return () => this.drawn.delete(call);
  }

  /** Shows rings around places, three numbers each; null takes them away. */
  mark(places: Float32Array | null): void {
    this.marks.show(places);
    this.draw();
  }

  /** Draws at once and gives the canvas, for reading its pixels in the same turn. */
  drawNow(): HTMLCanvasElement {
    cancelAnimationFrame(this.pending);
    this.pending = 0;
    this.far.prepare(this.camera, this.renderer);
    this.renderer.render(this.scene, this.camera);
    for (const call of this.drawn) call();
    return this.renderer.domElement;
  }

  dispose(): void {
    cancelAnimationFrame(this.pending);
    this.controls?.dispose();
    this.clear();
    cancelAnimationFrame(this.pending);
    this.outlines.dispose();
    this.far.dispose();
    this.marks.dispose();
    for (const guide of Object.values(this.guides)) guide.dispose();
    this.surroundings.dispose();
    this.backdrop.dispose();
    this.bare?.dispose();
    for (const material of [...this.materials.values(), this.dotMaterial, this.lineMaterial])
      material.dispose();
    this.renderer.dispose();
  }

  private readonly lookTarget = new THREE.Vector3();

  private draw(): void {
    if (this.pending === 0 && !this.folded) this.pending = requestAnimationFrame(() => this.drawNow());
  }

  private showBatch(batch: WireBatch): void {
    const geometry = this.geometries.get(batch.geometry);
    if (!geometry) return;
    let mesh = this.meshes.get(batch.geometry);
    const room = mesh?.instanceMatrix.count ?? 0;
    if (!mesh || room < batch.count || room > batch.count * 4 + 64) {
      this.removeBatch(batch.geometry);
      mesh = new THREE.InstancedMesh(geometry, this.material(geometry), batch.count);
      mesh.instanceColor = new THREE.InstancedBufferAttribute(new Float32Array(batch.count * 4), 4);
      mesh.castShadow = true;
      mesh.receiveShadow = true;
      // Bounds are known for the whole; a test per batch would need them per frame.
      mesh.frustumCulled = false;
      this.scene.add(mesh);
      this.meshes.set(batch.geometry, mesh);
    }
    mesh.material = this.material(geometry);
    mesh.count = batch.count;
    upload(mesh.instanceMatrix, batch.matrices);
    // Picking asks for a sphere around all copies, which is then made anew.
    mesh.boundingSphere = null;
    upload(mesh.instanceColor as THREE.InstancedBufferAttribute, batch.colors);
    this.outlines.dress(mesh);
    this.far.dress(mesh, batch);
  }

  private removeBatch(key: number): void {
    const mesh = this.meshes.get(key);
    if (!mesh) return;
    this.far.undress(mesh);
    this.scene.remove(mesh);
    mesh.dispose();
    this.meshes.delete(key);
  }

  /** The faces stay as they are on the graphics card; only vertices are sent. */
  private moveVertices({ key, outward, vertices: { positions, normals, colors } }: SentVertices): void {
    const geometry = this.geometries.get(key);
    if (!geometry) return;
    const parts = {
      position: positions,
      normal: normals,
      ...(colors ? { color: colors } : {}),
      ...(outward ? { [OUTWARD]: outward } : {}),
    };
    for (const [name, array] of Object.entries(parts)) refill(geometry.getAttribute(name), array);
    // Picking asks for them, and they are then made anew.
    geometry.boundingSphere = null;
    geometry.boundingBox = null;
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

  /** What shows so many loose points or lines: the one there is while it has room, and is not far too large. */
  private loose<T extends THREE.Points | LineSegments2>(
    there: T | null,
    count: number,
    make: (room: number) => T,
  ): T | null {
    const room: number = there?.userData.room ?? 0;
    if (there && count > 0 && count <= room && room <= count * 4 + 64) return there;
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

  /** Width in CSS pixels. */
  private readonly lineMaterial = new LineMaterial({ linewidth: 1.6, vertexColors: true });

  private readonly dotMaterial = new THREE.PointsMaterial({
    size: 5,
    sizeAttenuation: false,
    vertexColors: true,
  });

  /**
   * One material per way of drawing and per whether the mesh is coloured itself; where small clones are discs, one per
   * geometry, as sizes differ.
   */
  private material(geometry: THREE.BufferGeometry): THREE.Material {
    const vertexColors = geometry.hasAttribute("color");
    const own = this.far.active ? ` ${geometry.uuid}` : "";
    const name = `${this.mode}${vertexColors ? " coloured" : ""}${own}`;
    let material = this.materials.get(name);
    if (!material) {
      material = makeMaterial(this.mode, vertexColors);
      if (own) this.far.adapt(material, geometry);
      this.materials.set(name, material);
    }
    return material;
  }

  private forgetMaterials(geometry: THREE.BufferGeometry): void {
    for (const [name, material] of this.materials) {
      if (!name.endsWith(geometry.uuid)) continue;
      material.dispose();
      this.materials.delete(name);
    }
  }

  /** Light, shadow and floor follow what is shown. */
  private placeLight(): void {
    if (!this.bounds) return;
    const { min, max } = this.bounds;
    const middle = new THREE.Vector3((min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2);
    const radius = Math.max(0.01, Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 2);
    this.daylight.place(middle, radius, min[1]);
    this.reach = { middle, radius };
    this.placeClips();
  }

  /** Near and far follow what is shown; with a narrow angle the camera stands far off. */
  private placeClips(): void {
    const { middle, radius } = this.reach;
    const away = this.camera.position.distanceTo(middle);
    this.camera.near = Math.max(radius / 200, away - radius * 20);
    this.camera.far = Math.max(radius * 40, away + radius * 10);
    this.camera.updateProjectionMatrix();
  }
}

function makeMaterial(mode: DrawMode, vertexColors: boolean): THREE.Material {
  if (mode !== "lit")
    return new THREE.MeshBasicMaterial({ vertexColors, side: THREE.DoubleSide, wireframe: mode === "lines" });
  const material = new THREE.MeshStandardMaterial({
    roughness: 0.62,
    metalness: 0,
    vertexColors,
    side: THREE.DoubleSide,
  });
  material.onBeforeCompile = (shader) => {
    // The outside of a mirrored clone counts as a back face, whose normal is turned round further on.
    shader.vertexShader = shader.vertexShader.replace(
      "#include <beginnormal_vertex>",
      `#include <beginnormal_vertex>
      #ifdef USE_INSTANCING
        if (determinant(mat3(instanceMatrix)) < 0.0) objectNormal = -objectNormal;
      #endif`,
    );
  };
  return material;
}

/** RGBA to RGB, as the line material takes colours. */
function withoutAlpha(rgba: Float32Array, rgb: Float32Array): void {
  for (let from = 0, to = 0; from < rgba.length; from += 4, to += 3) {
    rgb[to] = rgba[from];
    rgb[to + 1] = rgba[from + 1];
    rgb[to + 2] = rgba[from + 2];
  }
}

/** Writes the beginning of a buffer that is there, for the graphics card to take over. */
function refill(
  buffer: THREE.BufferAttribute | THREE.InterleavedBufferAttribute | THREE.InterleavedBuffer,
  array: Float32Array,
): void {
  (buffer.array as Float32Array).set(array);
  const { clearUpdateRanges, addUpdateRange } = buffer as THREE.BufferAttribute;
  clearUpdateRanges?.call(buffer);
  addUpdateRange?.call(buffer, 0, array.length);
  buffer.needsUpdate = true;
}

const dynamic = (attribute: THREE.BufferAttribute): THREE.BufferAttribute =>
  attribute.setUsage(THREE.DynamicDrawUsage);

function toBuffers({ geometry, outward }: SentGeometry): THREE.BufferGeometry {
  const buffers = new THREE.BufferGeometry();
  buffers.setAttribute("position", new THREE.BufferAttribute(geometry.positions, 3));
  buffers.setAttribute("normal", new THREE.BufferAttribute(geometry.normals, 3));
  if (geometry.colors) buffers.setAttribute("color", new THREE.BufferAttribute(geometry.colors, 4));
  if (outward) buffers.setAttribute(OUTWARD, new THREE.BufferAttribute(outward, 3));
  buffers.setIndex(new THREE.BufferAttribute(geometry.indices, 1));
  return buffers;
}

/** Sends what has changed to the graphics card, and no more: nothing for an empty array. */
function upload(attribute: THREE.InstancedBufferAttribute, array: Float32Array): void {
  if (array.length === 0) return;
  attribute.array.set(array);
  attribute.clearUpdateRanges();
  attribute.addUpdateRange(0, array.length);
  attribute.needsUpdate = true;
}
