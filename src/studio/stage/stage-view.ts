/**
 * Draws what the engine sends with three.js: meshes, dots and lines under a soft key light, on a floor that takes
 * shadows. Draws only when something changed.
 */

import * as THREE from "three";
import type { View } from "@/core/document/schema";
import type { LookUp } from "@/core/maths/look-up";
import { sampleAt } from "@/core/maths/samples";
import { beforeNeutral } from "@/core/maths/tone";
import type { Vec3 } from "@/core/maths/vector";
import type { Tone } from "@/core/nodes/dress/finish";
import type { StageSettings, WireDrawing } from "@/engine/protocol";
import { ReceivedOnce } from "@/engine/sent-once";
import { Backdrop } from "./backdrop";
import { BareGround } from "./bare-ground";
import { Batches } from "./batches";
import { Daylight } from "./daylight";
import { Finish, PLAIN } from "./finish";
import { fogOf } from "./fog";
import { type Gathered, Gathering } from "./gathering";
import { Ground } from "./ground";
import { GuideLines } from "./guide-lines";
import { Lamps } from "./lamps";
import { LooseParts } from "./loose-parts";
import { Marks } from "./marks";
import type { DrawMode } from "./mesh-materials";
import type { Standing } from "./motion-pass";
import { drawPasses, type Passes } from "./passes";
import type { PicturePart } from "./picture-part";
import { SecondView } from "./second-view";
import { rayThrough } from "./sight";
import { type Lens, StageCamera } from "./stage-camera";
import { Surroundings } from "./surroundings";
import { Textures } from "./textures";
import { Volumes } from "./volumes";

/** Milliseconds after which the stage rests. */
const REST = 300;

export interface StageOptions {
  /** A picture without controls, for the shelf. */
  readonly still?: boolean;
  readonly onViewChange?: (view: View) => void;
  /** How many looks have been gathered of how many that are wanted, while the stage rests; null when it does not gather. */
  readonly onGathered?: (gathered: Gathered | null) => void;
}

export class StageView {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly sight: StageCamera;
  private readonly textures = new Textures();
  private readonly batches = new Batches(this.scene, () => this.surroundings.studio(), this.textures);
  private readonly loose = new LooseParts(this.scene, this.textures);
  private readonly volumes = new Volumes(this.scene);
  private readonly marks = new Marks(this.scene);
  private readonly guides = {
    reach: new GuideLines(this.scene, "#f0b03a", 0.55),
    drawn: new GuideLines(this.scene, "#f0b03a", 0.55),
    paths: new GuideLines(this.scene, "#8fb7a3", 0.4),
  };
  private readonly drawn = new Set<() => void>();
  private readonly surroundings: Surroundings;
  private readonly daylight = new Daylight(this.scene);
  private readonly lamps = new Lamps(this.scene);
  private readonly ground = new Ground(this.scene);
  private readonly backdrop = new Backdrop(this.scene);
  private readonly bare: BareGround | null;
  private settings: StageSettings | null = null;
  private readonly lookUp = new ReceivedOnce<LookUp>();
  /** Whether the piece's camera is looked through. */
  private through = true;
  /** Shows what that one sees while it is not looked through. */
  private readonly second: SecondView | null;
  private hasSecond = true;
  private finish: Finish | null = null;
  /** The looks that a picture is gathered of; null draws it once. */
  private samples: number | null = null;
  /** Of them, how many are there. */
  private gathered = 0;
  private mode: DrawMode = "lit";
  private readonly still: boolean;
  private readonly onGathered: StageOptions["onGathered"];
  private resting = 0;
  private readonly gathering = new Gathering(
    () => this.gatherNext(),
    () => ({ done: this.gathered, wanted: this.wanted }),
    (gathered) => this.onGathered?.(gathered),
  );
  private pending = 0;
  private bounds: WireDrawing["bounds"] = null;
  private transparent = false;
  private part: PicturePart | null = null;
  private width = 1;
  private height = 1;
  /** It has no extent, as when the graph fills the studio: nothing is drawn until it has one again. */
  private folded = false;

  /** @throws Error when the browser has no WebGL 2 */
  constructor(canvas: HTMLCanvasElement, options: StageOptions = {}) {
    this.still = options.still === true;
    this.onGathered = options.onGathered;
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
    this.surroundings = new Surroundings(this.renderer, this.scene, this.daylight, () =>
      this.batches.paintAgain(),
    );
    this.second = options.still ? null : new SecondView();
    this.bare = options.still ? null : new BareGround(this.scene);
    this.backdrop.set(new THREE.Color("#14201b"), true);
    this.sight = new StageCamera(options.still ? null : canvas, (settled) => {
      if (settled) options.onViewChange?.(this.view());
      else this.draw();
    });
    canvas.addEventListener("webglcontextrestored", this.comeBack);
  }

  /** A graphics card that was lost is there again: three brings back what it knows, all but what was drawn on the card itself. */
  private readonly comeBack = (): void => {
    this.surroundings.drawAgain();
    this.finish?.dispose();
    this.finish = null;
    this.setFinish();
    this.renderer.shadowMap.needsUpdate = true;
    this.draw();
  };

  get camera(): Lens {
    return this.sight.camera;
  }

  /** Size in CSS pixels. */
  resize(width: number, height: number, pixelRatio: number): void {
    this.folded = width < 1 || height < 1;
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.renderer.setPixelRatio(pixelRatio);
    this.renderer.setSize(this.width, this.height, false);
    this.sight.setAspect(this.part ? this.part.whole[0] / this.part.whole[1] : this.width / this.height);
    this.finish?.resize(this.width, this.height, pixelRatio);
    if (!this.folded) this.drawNow();
  }

  /** Draws a part of a picture, as large as that is; null draws whole ones again. What glows in all of it is what glowed in the last whole one. */
  setPart(part: PicturePart | null): void {
    this.part = part;
    this.sight.setPart(part);
    this.backdrop.setPart(part);
    this.finish?.setPart(part);
    if (part) this.resize(part.width, part.height, 1);
  }

  setStage(settings: StageSettings): void {
    this.settings = settings;
    const { outline, ink, discs, camera, setup, lights, finish } = settings;
    this.lookUp.take(finish?.lookUp ?? null);
    this.sight.lookThrough(this.through ? camera : null);
    this.surroundings.set(settings);
    this.textures.set(settings);
    this.setFinish();
    this.ground.set(settings);
    this.daylight.setMood(setup);
    this.lamps.set(lights);
    this.follow();
    this.renderer.shadowMap.needsUpdate = true;
    this.batches.setLook(outline, ink, discs);
    this.draw();
  }

  /** Looks through the piece's camera where there is one, or as the designer turns it. */
  setThrough(through: boolean): void {
    this.through = through;
    this.sight.lookThrough(through ? (this.settings?.camera ?? null) : null);
    this.setFinish();
    this.draw();
  }

  /** Shows what the piece's camera sees in a corner while the stage is looked at freely, or leaves it out. */
  setSecond(shown: boolean): void {
    this.hasSecond = shown;
    this.draw();
  }

  private drawSecond(): void {
    const camera = this.settings?.camera;
    if (!camera || this.through || !this.hasSecond) return;
    this.second?.draw(this.renderer, this.scene, camera, this.width, this.height, (seenBy) =>
      this.volumes.prepare(this.renderer, seenBy, this.lightOnLoose(), 0),
    );
  }

  /** Pictures that are taken away are gathered of so many looks, whatever the piece says; null draws them once. */
  setSamples(samples: number | null): void {
    this.samples = samples;
    this.setFinish();
  }

  /** Whether something is done to pictures after they are drawn, so that looks can be gathered. */
  get isFinished(): boolean {
    return this.finish !== null;
  }

  /** Whether what is bright spreads over the picture. */
  get hasGlow(): boolean {
    return this.finish?.hasGlow ?? false;
  }

  /** How many looks are gathered of a picture. */
  private get wanted(): number {
    if (this.still || this.mode !== "lit") return this.samples ?? 1;
    return this.settings?.finish?.samples ?? (this.sight.isShallow ? PLAIN.samples : 1);
  }

  /** Passes are made when they are first asked for, and dropped when they are not any more. */
  private setFinish(): void {
    const { finish = null } = this.settings ?? {};
    const settings = finish ?? (this.samples !== null || this.wanted > 1 ? PLAIN : null);
    if (!settings || this.finish?.camera !== this.camera) {
      this.finish?.dispose();
      this.finish = null;
    }
    if (settings && !this.finish) {
      this.finish = new Finish(this.renderer, this.scene, this.camera, this.still);
      this.finish.resize(this.width, this.height, this.renderer.getPixelRatio());
    }
    if (settings) this.finish?.set(settings, this.lookUp.value);
    this.scene.fog = settings && fogOf(settings.fog, settings.fogTop, settings.fogColor);
    if (this.settings) this.setBackdrop(this.settings, settings?.tone);
  }

  private setBackdrop({ background, behind, above, ground }: StageSettings, tone: Tone | undefined): void {
    const { around } = this.surroundings;
    if (around && behind === "surroundings" && !this.transparent) {
      this.backdrop.surround(around);
      return;
    }
    // Colours behind everything are what was chosen, whatever else passes through a tone curve.
    const chosen = (color: readonly number[]) => {
      const [r, g, b] = tone === "neutral" ? beforeNeutral(color) : color;
      return new THREE.Color().setRGB(r, g, b);
    };
    this.backdrop.set(
      this.transparent ? null : chosen(background),
      ground,
      behind === "two colours" && !this.transparent ? chosen(above) : null,
    );
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
    this.batches.setMode(mode);
    this.draw();
  }

  /** Shows a drawing in place of the one before. */
  show(drawing: WireDrawing): void {
    this.batches.show(drawing);
    this.loose.show(drawing);
    this.volumes.show(drawing.volumes ?? []);
    this.bounds = drawing.bounds;
    this.bare?.show(drawing.bounds === null);
    this.renderer.shadowMap.needsUpdate = true;
    this.follow();
    this.draw();
  }

  /** Removes everything, as when the engine was replaced. */
  clear(): void {
    this.show({ batches: [], geometries: [], moved: [], bounds: null, clones: 0 });
  }

  view(): View {
    return this.sight.view();
  }

  setView(view: View): void {
    this.sight.setView(view);
  }

  /** Field of view in degrees. The camera moves so that what it looks at keeps its size. */
  setAngle(angle: number): View {
    return this.sight.setAngle(angle);
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
    if (box) this.sight.frame(box, margin);
  }

  /** Moves what is looked at along the picture, by pixels, as if it were held. */
  slide(right: number, down: number): void {
    this.sight.slide(right, down, this.height);
  }

  /** The copies under a place of the canvas, 0…1 from its upper left corner, the nearest first. */
  pick(x: number, y: number): { geometry: number; copy: number }[] {
    return this.batches.pick(rayThrough(this.camera, x, y));
  }

  /** Where something that is shown lies under a place of the canvas; null where nothing does. */
  placeAt(x: number, y: number): Vec3 | null {
    return this.batches.placeAt(rayThrough(this.camera, x, y));
  }

  /** Shows lines over everything else, as ends of segments; null takes them away. */
  showGuide(which: "reach" | "drawn" | "paths", segments: Float32Array | null): void {
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
    this.stopGathering();
    cancelAnimationFrame(this.pending);
    this.pending = 0;
    this.batches.prepare(this.camera, this.renderer);
    this.lightLoose(0);
    this.ground.look(this.extentInPixels, null);
    if (!this.finish) this.renderer.render(this.scene, this.camera);
    else {
      this.finish.render(this.still);
      // What costs much is drawn once the stage rests.
      if (!this.still) this.resting = window.setTimeout(() => this.gather(false), REST);
    }
    this.drawSecond();
    for (const call of this.drawn) call();
    return this.renderer.domElement;
  }

  /**
   * Gathers one more look at what is shown, from another place of the lens and lit from other places of the lights, and gives the canvas with
   * the mean of all so far.
   * @param first forgets those before
   */
  gatherOne(first: boolean): HTMLCanvasElement {
    if (first) this.gathered = 0;
    const sample = sampleAt(this.gathered++);
    const pixels = this.extentInPixels;
    this.sight.lean(sample, pixels.x, pixels.y);
    this.lightFrom(sample.light);
    this.ground.look(pixels, sample.gloss);
    this.batches.prepare(this.camera, this.renderer);
    this.lightLoose(this.gathered);
    this.finish?.render(true, this.gathered);
    this.sight.upright();
    this.drawSecond();
    return this.renderer.domElement;
  }

  /** What was gathered, as floats; null where nothing was. Rows from the bottom. */
  pixels(kind: "gathered" | "developed"): Float32Array | null {
    return this.finish && this.gathered > 0 ? this.finish[kind]() : null;
  }

  /** Where everything stands, for what is shown next. */
  standing(): Standing {
    const { camera } = this;
    camera.updateMatrixWorld();
    const matrix = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    return { camera: matrix, meshes: this.batches.standing() };
  }

  /** Of what is shown, seen from the middle of the lens. @param then where everything stands at the next frame */
  passes(then: Standing): Passes {
    const { x, y } = this.extentInPixels;
    this.batches.prepare(this.camera, this.renderer);
    // Of smoke, and of dots that are balls, only what they give off by themselves is emission.
    const dark = new THREE.Color(0, 0, 0);
    this.lightLoose(0, { sky: dark, key: dark, from: new THREE.Vector3(0, 1, 0), lamps: [] });
    return drawPasses(this.renderer, this.scene, this.camera, this.batches.drawn, then, x, y);
  }

  /**
   * Goes on gathering where it stopped, until all looks are there or something changes.
   * @param asked goes on however slow it is
   */
  gather(asked: boolean): void {
    clearTimeout(this.resting);
    if (this.wanted > 1) this.gathering.start(asked);
    else {
      this.finish?.render(true);
      this.drawSecond();
    }
  }

  /** Leaves the picture as it is; `gather` goes on with it. */
  pauseGathering(): void {
    this.gathering.stop();
  }

  private gatherNext(): void {
    this.gatherOne(this.gathered === 0);
    if (this.gathered >= this.wanted) this.lightFrom(null);
  }

  private stopGathering(): void {
    clearTimeout(this.resting);
    this.gathering.stop();
    this.onGathered?.(null);
    if (this.gathered === 0) return;
    this.gathered = 0;
    this.lightFrom(null);
  }

  private get extentInPixels(): THREE.Vector2 {
    return this.renderer.getDrawingBufferSize(new THREE.Vector2());
  }

  /** What lights that which has no materials: smoke, and dots that are balls. */
  private lightLoose(look: number, light = this.lightOnLoose()): void {
    this.loose.light(light);
    this.volumes.prepare(this.renderer, this.camera, light, look);
  }

  private lightOnLoose() {
    return { ...this.daylight.onLoose, lamps: this.lamps.forLoose };
  }

  private lightFrom(on: readonly [number, number] | null): void {
    this.daylight.lean(on);
    this.lamps.lean(on);
    this.renderer.shadowMap.needsUpdate = true;
  }

  dispose(): void {
    this.renderer.domElement.removeEventListener("webglcontextrestored", this.comeBack);
    cancelAnimationFrame(this.pending);
    this.stopGathering();
    this.finish?.dispose();
    this.sight.dispose();
    this.second?.dispose();
    this.clear();
    cancelAnimationFrame(this.pending);
    this.batches.dispose();
    this.loose.dispose();
    this.marks.dispose();
    for (const guide of Object.values(this.guides)) guide.dispose();
    this.surroundings.dispose();
    this.textures.dispose();
    this.volumes.dispose();
    this.backdrop.dispose();
    this.lamps.dispose();
    this.ground.dispose();
    this.bare?.dispose();
    this.renderer.dispose();
  }

  private draw(): void {
    if (this.pending === 0 && !this.folded) this.pending = requestAnimationFrame(() => this.drawNow());
  }

  /** Light, shadow, floor and camera follow what is shown. */
  private follow(): void {
    if (!this.bounds) return;
    const { min, max } = this.bounds;
    const middle = new THREE.Vector3((min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2);
    const radius = Math.max(0.01, Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 2);
    this.daylight.place(middle, radius);
    this.ground.place(middle, radius, min[1]);
    this.backdrop.setFloor(min[1]);
    this.lamps.place(middle, radius);
    this.sight.follow(middle, radius);
    this.second?.follow(middle, radius);
  }
}
