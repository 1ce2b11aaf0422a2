/** The geometries that the page has, by keys: a mesh crosses once as triangles, and then only where its points have moved to. */
import { IN_MEMORY } from "../core/draw/draw-memory";
import type { Drawing } from "../core/draw/drawing";
import { isMoved, MovingMesh } from "../core/draw/moving-mesh";
import { type Triangulated, triangulated } from "../core/draw/triangulate";
import type { Mesh } from "../core/geometry/mesh";
import type { WireDrawing } from "./protocol";

export interface Sending {
  readonly fresh: WireDrawing["geometries"];
  readonly moved: WireDrawing["moved"];
  /** Of all meshes of the drawing. */
  readonly keys: ReadonlyMap<Mesh, number>;
}

interface Known {
  mesh: Mesh;
  readonly cut: Pick<Triangulated, "cornerOfVertex" | "vertexOfCorner">;
  /** Made when its points move for the first time. */
  moving: MovingMesh | null;
}

export class SentGeometries {
  private readonly known = new Map<number, Known>();
  /** Keys never repeat, not even after a worker was replaced by another. */
  private next = Date.now() * 1024;

  meshOf(key: number): Mesh | undefined {
    return this.known.get(key)?.mesh;
  }

  /** What the page has to be sent for a drawing; it drops the geometries that this does not name. */
  sendingOf({ batches }: Drawing): Sending {
    const meshes = new Set(batches.map(({ mesh }) => mesh));
    const keys = new Map<Mesh, number>();
    for (const [key, { mesh }] of this.known) if (meshes.has(mesh)) keys.set(mesh, key);
    const free = new Set(
      [...this.known.keys()].filter((key) => !meshes.has(this.known.get(key)?.mesh as Mesh)),
    );
    const fresh: { key: number; geometry: Triangulated["geometry"] }[] = [];
    const moved: WireDrawing["moved"][number][] = [];
    for (const mesh of meshes) {
      if (keys.has(mesh)) continue;
      const key = [...free].find((one) => isMoved((this.known.get(one) as Known).mesh, mesh));
      if (key !== undefined) {
        free.delete(key);
        moved.push({ key, vertices: movedIn(this.known.get(key) as Known, mesh) });
        keys.set(mesh, key);
        continue;
      }
      const { geometry, ...cut } = triangulated(mesh);
      fresh.push({ key: this.next, geometry });
      this.known.set(this.next, { mesh, cut, moving: null });
      keys.set(mesh, this.next++);
    }
    for (const key of free) this.drop(key);
    return { fresh, moved, keys };
  }

  /** The page shows nothing any more. */
  clear(): void {
    for (const key of [...this.known.keys()]) this.drop(key);
  }

  private drop(key: number): void {
    this.known.get(key)?.moving?.dispose();
    this.known.delete(key);
  }
}

function movedIn(known: Known, mesh: Mesh) {
  known.moving ??= new MovingMesh(known.mesh, known.cut, IN_MEMORY);
  known.mesh = mesh;
  return known.moving.moved(mesh);
}
