/**
 * Copies of one mesh of which some can be seen through, or are nothing but light: those that cannot are drawn as all others are, the clear ones
 * after them and from the furthest to the nearest, in an order that follows the camera.
 */
import * as THREE from "three";
import { countUp } from "@/core/geometry/column";
import { gatherRows, numbersWhere } from "@/core/geometry/subset";
import { LIGHT_ALONE, LOOK_NAMES, LOOK_WIDTH } from "@/core/geometry/surface-look";
import { fits } from "./buffers";
import { copyLooks, withoutCopyLooks } from "./copy-looks";
import { anyLightAlone, ONLY_LIGHT } from "./look-shader";
import { COPY_ALPHA } from "./mesh-materials";

/** Steps into which the depth of a picture is cut for sorting. */
const STEPS = 1 << 16;

const SHADING = LOOK_NAMES.indexOf("shading");

/** Above it nothing can be seen through, even on a screen of ten bits a channel; sums of parts often miss 1 by a little. */
const SOLID = 1 - 1 / 1024;

const isClear = (colors: Float32Array, copy: number): boolean => colors[copy * 4 + 3] < SOLID;

const isLightAlone = (looks: Float32Array | null, copy: number): boolean =>
  looks !== null && looks[copy * LOOK_WIDTH + SHADING] === LIGHT_ALONE;

/** Whether anything can be seen through, four numbers an element. */
export function anyClear(colors: Float32Array): boolean {
  for (let i = 0; i < colors.length / 4; i++) if (isClear(colors, i)) return true;
  return false;
}

export class ClearCopies {
  readonly mesh: THREE.InstancedMesh;
  /** Of all copies, as they were sent. */
  private matrices: Float32Array;
  private colors: Float32Array;
  private looks: Float32Array | null = null;
  private solid: Int32Array = new Int32Array(0);
  private clear: Int32Array = new Int32Array(0);
  /** Which way the camera looked when they were sorted; null when they are to be sorted anew. */
  private sortedFor: THREE.Vector3 | null = null;

  /**
   * @param all the mesh that shows all copies; from now on only those that cannot be seen through
   * @param own what of the mesh itself lets all its copies be seen through: its colours, or parts of it that are nothing but light
   */
  constructor(
    private readonly all: THREE.InstancedMesh,
    private readonly own: { readonly isClear: boolean; readonly hasLight: boolean },
    room: number,
  ) {
    // Matrices that are those of before stand in it until now.
    this.matrices = Float32Array.from(all.instanceMatrix.array);
    const { array } = all.instanceColor as THREE.InstancedBufferAttribute;
    this.colors = Float32Array.from(array.subarray(0, all.count * 4));
    // The same buffers, and one more for what each copy lets be seen.
    const geometry = new THREE.BufferGeometry();
    for (const [name, attribute] of Object.entries(all.geometry.attributes))
      geometry.setAttribute(name, attribute);
    geometry.setIndex(all.geometry.index);
    // What copies are made of stands in an order of its own; its costly parts are those of all.
    all.geometry.userData.costly ??= {};
    geometry.userData = { costly: all.geometry.userData.costly };
    geometry.setAttribute(COPY_ALPHA, new THREE.InstancedBufferAttribute(new Float32Array(room), 1));
    this.mesh = new THREE.InstancedMesh(geometry, all.material, room);
    this.mesh.instanceColor = new THREE.InstancedBufferAttribute(new Float32Array(room * 4), 4);
    this.mesh.frustumCulled = false;
    this.mesh.castShadow = true;
    this.mesh.receiveShadow = true;
  }

  /** Matrices of all copies, in the order in which they were sent. */
  get placed(): Float32Array {
    return this.matrices;
  }

  hasRoom(count: number): boolean {
    return fits(this.mesh.instanceMatrix.count, count);
  }

  /** New matrices and colours; an empty array leaves those of before. */
  take(matrices: Float32Array, colors: Float32Array, looks: Float32Array | null): void {
    if (matrices.length > 0) this.matrices = matrices.slice();
    if (!looks) this.looks = null;
    else if (looks.length > 0) this.looks = looks.slice();
    if (colors.length > 0) this.colors = colors.slice();
    if (colors.length > 0 || looks?.length !== 0) this.part();
    this.sortedFor = null;
    this.put(this.all, this.solid);
    // Its vertices may have been moved; picking makes it anew.
    this.mesh.geometry.boundingSphere = null;
  }

  private part(): void {
    const { own, colors, looks } = this;
    this.clear = numbersWhere(colors.length / 4, (copy) => own.hasLight || this.isSeenThrough(copy));
    // Of a mesh that is light in parts, the others are drawn with what is solid.
    this.solid = numbersWhere(colors.length / 4, (copy) => !this.isSeenThrough(copy));
    // Light throws no shadow.
    this.mesh.castShadow = !own.hasLight && !(looks && anyLightAlone(looks));
  }

  private isSeenThrough(copy: number): boolean {
    return this.own.isClear || isClear(this.colors, copy) || isLightAlone(this.looks, copy);
  }

  /** Puts the clear ones in the order in which they are seen from a camera. */
  sort(camera: THREE.Camera): void {
    const { clear, matrices } = this;
    const towards = new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 2);
    if (this.sortedFor?.equals(towards)) return;
    this.sortedFor = towards;
    const { x, y, z } = towards;
    const near = new Float32Array(clear.length);
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = 0; i < clear.length; i++) {
      const at = clear[i] * 16 + 12;
      near[i] = matrices[at] * x + matrices[at + 1] * y + matrices[at + 2] * z;
      low = Math.min(low, near[i]);
      high = Math.max(high, near[i]);
    }
    const scale = high > low ? (STEPS - 1) / (high - low) : 0;
    const starts = new Uint32Array(STEPS + 1);
    for (const depth of near) starts[Math.floor((depth - low) * scale) + 1]++;
    for (let step = 0; step < STEPS; step++) starts[step + 1] += starts[step];
    const order = new Int32Array(clear.length);
    for (let i = 0; i < clear.length; i++) order[starts[Math.floor((near[i] - low) * scale)]++] = clear[i];
    this.clear = order;
    this.put(this.mesh, order);
    const alpha = this.mesh.geometry.getAttribute(COPY_ALPHA) as THREE.InstancedBufferAttribute;
    for (let i = 0; i < order.length; i++)
      alpha.array[i] = this.isSeenThrough(order[i]) ? this.colors[order[i] * 4 + 3] : ONLY_LIGHT;
    alpha.needsUpdate = true;
  }

  /** The number that a copy of one of the two meshes was sent under. */
  copyOf(mesh: THREE.Object3D, instance: number): number {
    return mesh === this.mesh ? this.clear[instance] : this.solid[instance];
  }

  /** Gives the first mesh all copies back, as they were sent. */
  restore(): void {
    this.put(this.all, countUp(this.colors.length / 4));
  }

  dispose(): void {
    withoutCopyLooks(this.mesh.geometry);
    this.mesh.dispose();
  }

  private put(mesh: THREE.InstancedMesh, copies: Int32Array): void {
    const colors = mesh.instanceColor as THREE.InstancedBufferAttribute;
    gatherRows(this.matrices, copies, 16, mesh.instanceMatrix.array as Float32Array);
    gatherRows(this.colors, copies, 4, colors.array as Float32Array);
    if (this.looks) {
      const buffer = copyLooks(mesh.geometry, mesh.instanceMatrix.count);
      gatherRows(this.looks, copies, LOOK_WIDTH, buffer.array);
      buffer.uniform.value.needsUpdate = true;
    } else if (mesh === this.mesh) withoutCopyLooks(mesh.geometry);
    mesh.count = copies.length;
    mesh.boundingSphere = null;
    mesh.instanceMatrix.needsUpdate = true;
    colors.needsUpdate = true;
  }
}
