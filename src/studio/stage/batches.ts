/** The meshes of a drawing in a scene: one geometry a mesh, one instance a copy. */

import * as THREE from "three";
import type { Vec3 } from "@/core/maths/vector";
import type { SentVertices, WireBatch, WireDrawing } from "@/engine/protocol";
import { fits, refill, toBuffers } from "./buffers";
import { anyClear, ClearCopies } from "./clear-copies";
import { copyLooks, withoutCopyLooks } from "./copy-looks";
import { FarClones } from "./far-clones";
import { anyLightAlone, noteCostly, VERTEX_LOOKS } from "./look-shader";
import { type DrawMode, MeshMaterials } from "./mesh-materials";
import type { DrawnMesh, Standing } from "./motion-pass";
import { OUTWARD, Outlines } from "./outlines";
import type { Lens } from "./stage-camera";
import type { Textures } from "./textures";
import { SOLID_LAYER } from "./volumes";

/** Copies behind each other that are asked about at most. */
const MOST_HITS = 12;

interface Shown {
  readonly mesh: THREE.InstancedMesh;
  /** Once something of it can be seen through. */
  clear: ClearCopies | null;
  /** Whether the colours of its copies let anything be seen through, and whether what they are made of does. */
  readonly through: { colors: boolean; looks: boolean };
}

export class Batches {
  private readonly outlines = new Outlines();
  private readonly far: FarClones;
  private readonly materials: MeshMaterials;
  private readonly geometries = new Map<number, THREE.BufferGeometry>();
  /** By the keys of their geometries. */
  private readonly shown = new Map<number, Shown>();
  private mode: DrawMode = "lit";

  /** @param studio what polished surfaces reflect where no picture surrounds them @param pictures those that lie on surfaces */
  constructor(
    private readonly scene: THREE.Scene,
    studio: () => THREE.Texture | null,
    pictures: Textures,
  ) {
    this.far = new FarClones(scene);
    this.materials = new MeshMaterials(this.far, studio, pictures);
  }

  /** Pixels and linear colour of lines around meshes; pixels across below which clones are discs. */
  setLook(outline: number, ink: readonly number[], discs: number): void {
    this.outlines.set(outline, ink);
    this.far.setLimit(discs);
    for (const { mesh, clear } of this.shown.values()) {
      this.outlines.dress(mesh);
      this.paint(mesh, clear);
      this.far.dress(mesh);
    }
  }

  setMode(mode: DrawMode): void {
    this.mode = mode;
    for (const { mesh, clear } of this.shown.values()) this.paint(mesh, clear);
  }

  /** With materials that are made anew. */
  paintAgain(): void {
    this.materials.dispose();
    this.setMode(this.mode);
  }

  /** In place of the drawing before; unchanged geometries are kept, the others dropped. */
  show(drawing: WireDrawing): void {
    for (const sent of drawing.geometries) {
      const buffers = toBuffers(sent);
      if (sent.geometry.looks) noteCostly(buffers, sent.geometry.looks);
      this.geometries.set(sent.key, buffers);
    }
    for (const sent of drawing.moved) this.moveVertices(sent);
    const used = new Set(drawing.batches.map((batch) => batch.geometry));
    for (const key of this.shown.keys()) if (!used.has(key)) this.remove(key);
    for (const [key, geometry] of this.geometries) {
      if (used.has(key)) continue;
      geometry.dispose();
      withoutCopyLooks(geometry);
      this.materials.forget(geometry);
      this.geometries.delete(key);
    }
    for (const batch of drawing.batches) this.showBatch(batch);
  }

  /** As they are drawn: of those with clear copies, the others and the clear ones apart. */
  get drawn(): DrawnMesh[] {
    return [...this.shown].flatMap(([key, { mesh, clear }]) =>
      (clear ? [mesh, clear.mesh] : [mesh]).map((one) => ({
        mesh: one,
        key,
        copyOf: (instance: number) => clear?.copyOf(one, instance) ?? instance,
      })),
    );
  }

  /** Where all copies and vertices are, to be kept while others are shown. */
  standing(): Standing["meshes"] {
    return new Map(
      [...this.shown].map(([key, { mesh, clear }]) => {
        const placed =
          clear?.placed ?? (mesh.instanceMatrix.array as Float32Array).subarray(0, mesh.count * 16);
        const positions = (mesh.geometry.getAttribute("position").array as Float32Array).slice();
        return [key, { matrices: placed.slice(), positions }];
      }),
    );
  }

  /** Before every picture. */
  prepare(camera: Lens, renderer: THREE.WebGLRenderer): void {
    this.far.prepare(camera, renderer);
    camera.updateMatrixWorld();
    for (const { clear } of this.shown.values()) clear?.sort(camera);
  }

  /** The copies that a ray meets, the nearest first. */
  pick(ray: THREE.Raycaster): { geometry: number; copy: number }[] {
    const owners = new Map<THREE.Object3D, readonly [number, Shown]>();
    for (const entry of this.shown) {
      owners.set(entry[1].mesh, entry);
      if (entry[1].clear) owners.set(entry[1].clear.mesh, entry);
    }
    return ray
      .intersectObjects([...owners.keys()], false)
      .slice(0, MOST_HITS)
      .flatMap(({ object, instanceId }) => {
        const owner = owners.get(object);
        if (!owner || instanceId === undefined) return [];
        const [geometry, { clear }] = owner;
        return [{ geometry, copy: clear ? clear.copyOf(object, instanceId) : instanceId }];
      });
  }

  /** Where a ray first meets what is shown. */
  placeAt(ray: THREE.Raycaster): Vec3 | null {
    const meshes = this.drawn.map(({ mesh }) => mesh);
    return ray.intersectObjects(meshes, false)[0]?.point.toArray() ?? null;
  }

  dispose(): void {
    for (const key of [...this.shown.keys()]) this.remove(key);
    for (const geometry of this.geometries.values()) {
      geometry.dispose();
      withoutCopyLooks(geometry);
    }
    this.outlines.dispose();
    this.far.dispose();
    this.materials.dispose();
  }

  private showBatch(batch: WireBatch): void {
    const geometry = this.geometries.get(batch.geometry);
    if (!geometry) return;
    let shown = this.shown.get(batch.geometry);
    if (!shown || !fits(shown.mesh.instanceMatrix.count, batch.count)) {
      this.remove(batch.geometry);
      shown = {
        mesh: this.made(geometry, batch.count),
        clear: null,
        through: { colors: false, looks: false },
      };
      this.shown.set(batch.geometry, shown);
    }
    const { mesh } = shown;
    this.followClear(shown, geometry, batch);
    this.followLooks(geometry, batch, mesh.instanceMatrix.count);
    if (shown.clear) shown.clear.take(batch.matrices, batch.colors, batch.looks);
    else {
      if (batch.looks?.length) {
        const { array, uniform } = copyLooks(geometry, mesh.instanceMatrix.count);
        array.set(batch.looks);
        uniform.value.needsUpdate = true;
      }
      mesh.count = batch.count;
      refill(mesh.instanceMatrix, batch.matrices);
      refill(mesh.instanceColor as THREE.InstancedBufferAttribute, batch.colors);
      // Picking asks for a sphere around all copies, which is then made anew.
      mesh.boundingSphere = null;
    }
    this.paint(mesh, shown.clear);
    this.outlines.dress(mesh);
    this.far.dress(mesh, batch);
  }

  /** What copies are made of, where any says so; empty where it is that of before. */
  private followLooks(geometry: THREE.BufferGeometry, { looks }: WireBatch, room: number): void {
    if (!looks) {
      withoutCopyLooks(geometry);
      return;
    }
    copyLooks(geometry, room);
    noteCostly(geometry, looks);
  }

  /** Whether some copies can be seen through is known anew with new colours and looks; most drawings have none. */
  private followClear(shown: Shown, geometry: THREE.BufferGeometry, batch: WireBatch): void {
    const { colors, looks } = batch;
    const { through } = shown;
    if (colors.length > 0) through.colors = anyClear(colors);
    else if (looks?.length === 0) return;
    if (looks?.length !== 0) through.looks = looks !== null && anyLightAlone(looks);
    const own = seenThrough(geometry);
    const wanted = own.isClear || own.hasLight || through.colors || through.looks;
    if (shown.clear && (!wanted || !shown.clear.hasRoom(batch.count))) this.removeClear(shown);
    if (!wanted || shown.clear) return;
    const room = Math.max(batch.count, shown.mesh.instanceMatrix.count);
    shown.clear = new ClearCopies(shown.mesh, own, room);
    this.scene.add(shown.clear.mesh);
  }

  private removeClear(shown: Shown): void {
    if (!shown.clear) return;
    this.scene.remove(shown.clear.mesh);
    shown.clear.restore();
    this.materials.forget(shown.clear.mesh.geometry);
    shown.clear.dispose();
    shown.clear = null;
  }

  private made(geometry: THREE.BufferGeometry, count: number): THREE.InstancedMesh {
    const mesh = new THREE.InstancedMesh(geometry, this.materials.of(geometry, this.mode, false), count);
    mesh.instanceColor = new THREE.InstancedBufferAttribute(new Float32Array(count * 4), 4);
    mesh.castShadow = true;
    mesh.receiveShadow = true;
    mesh.layers.enable(SOLID_LAYER);
    // Bounds are known for the whole; a test per batch would need them per frame.
    mesh.frustumCulled = false;
    this.scene.add(mesh);
    return mesh;
  }

  private paint(mesh: THREE.InstancedMesh, clear: ClearCopies | null): void {
    mesh.material = this.materials.of(mesh.geometry, this.mode, false);
    if (clear) clear.mesh.material = this.materials.of(clear.mesh.geometry, this.mode, true);
  }

  private remove(key: number): void {
    const shown = this.shown.get(key);
    if (!shown) return;
    this.removeClear(shown);
    this.far.undress(shown.mesh);
    this.scene.remove(shown.mesh);
    shown.mesh.dispose();
    this.shown.delete(key);
  }

  /** The faces stay as they are on the graphics card; only vertices are sent. */
  private moveVertices({ key, outward, vertices }: SentVertices): void {
    const { positions, normals, colors, looks } = vertices;
    const geometry = this.geometries.get(key);
    if (!geometry) return;
    const parts = {
      position: positions,
      normal: normals,
      ...(colors ? { color: colors } : {}),
      ...(outward ? { [OUTWARD]: outward } : {}),
    };
    if (looks) {
      refill((geometry.getAttribute(VERTEX_LOOKS[0]) as THREE.InterleavedBufferAttribute).data, looks);
      noteCostly(geometry, looks);
    }
    for (const [name, array] of Object.entries(parts)) refill(geometry.getAttribute(name), array);
    // Picking asks for them, and they are then made anew.
    geometry.boundingSphere = null;
    geometry.boundingBox = null;
  }
}

/** What the vertices of a mesh let be seen through. */
function seenThrough(geometry: THREE.BufferGeometry): { isClear: boolean; hasLight: boolean } {
  const colors = geometry.getAttribute("color");
  const looks = geometry.getAttribute(VERTEX_LOOKS[0]) as THREE.InterleavedBufferAttribute | undefined;
  return {
    isClear: colors !== undefined && anyClear(colors.array as Float32Array),
    hasLight: looks !== undefined && anyLightAlone(looks.data.array as Float32Array),
  };
}
