/** The geometries that the page has, by keys: a mesh crosses once as triangles, and then only where its points have moved to. */
import { IN_MEMORY } from "../core/draw/draw-memory";
import type { Drawing } from "../core/draw/drawing";
import { arraysOf, isMoved, MovingMesh } from "../core/draw/moving-mesh";
import { JoinedVertices } from "../core/draw/outward";
import { type Triangulated, triangulated } from "../core/draw/triangulate";
import type { Mesh } from "../core/geometry/mesh";
import type { SentGeometry, SentVertices } from "./protocol";

export interface Sending {
  readonly fresh: readonly SentGeometry[];
  readonly moved: readonly SentVertices[];
  /** Of all meshes of the drawing. */
  readonly keys: ReadonlyMap<Mesh, number>;
}

/** What vertices carry besides their places, facings and colours; meshes sent without are to be cleared first. */
export interface Dressing {
  /** Lines are drawn around meshes. */
  readonly outlined: boolean;
  /** They say where they lie on pictures. */
  readonly laid: boolean;
}

interface Known {
  mesh: Mesh;
  readonly cut: Pick<Triangulated, "cornerOfVertex" | "vertexOfCorner">;
  /** Made when its points move for the first time. */
  moving: MovingMesh | null;
  /** Where lines around meshes are drawn. */
  readonly joined: JoinedVertices | null;
}

export class SentGeometries {
  private readonly known = new Map<number, Known>();
  /** Keys never repeat, not even after a worker was replaced by another. */
  private next = Date.now() * 1024;

  meshOf(key: number): Mesh | undefined {
    return this.known.get(key)?.mesh;
  }

  /**
   * What the page has to be sent for a drawing; it drops the geometries that this does not name. When it is cut short, all that was
   * known is to be cleared: nobody was told of what was new.
   */
  sendingOf(drawing: Drawing, dressing: Dressing): Sending {
    const moved: SentVertices[] = [];
    try {
      return this.collect(drawing, dressing, moved);
    } catch (error) {
      for (const { vertices } of moved) for (const array of arraysOf(vertices)) IN_MEMORY.give(array);
      throw error;
    }
  }

  private collect({ batches }: Drawing, { outlined, laid }: Dressing, moved: SentVertices[]): Sending {
    const meshes = new Set(batches.map(({ mesh }) => mesh));
    const keys = new Map<Mesh, number>();
    for (const [key, { mesh }] of this.known) if (meshes.has(mesh)) keys.set(mesh, key);
    const free = new Set(
      [...this.known.keys()].filter((key) => !meshes.has(this.known.get(key)?.mesh as Mesh)),
    );
    const fresh: SentGeometry[] = [];
    for (const mesh of meshes) {
      if (keys.has(mesh)) continue;
      const key = [...free].find((one) => {
        const before = (this.known.get(one) as Known).mesh;
        return isMoved(before, mesh) && (!laid || before.corners.columns.uv === mesh.corners.columns.uv);
      });
      if (key !== undefined) {
        free.delete(key);
        moved.push(movedIn(key, this.known.get(key) as Known, mesh));
        keys.set(mesh, key);
        continue;
      }
      const { geometry, ...cut } = triangulated(mesh, laid);
      const joined = outlined ? new JoinedVertices(geometry.positions) : null;
      const outward = joined?.directions(geometry.normals);
      fresh.push({ key: this.next, geometry, ...(outward ? { outward } : {}) });
      this.known.set(this.next, { mesh, cut, moving: null, joined });
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

function movedIn(key: number, known: Known, mesh: Mesh): SentVertices {
  known.moving ??= new MovingMesh(known.mesh, known.cut, IN_MEMORY);
  known.mesh = mesh;
  const vertices = known.moving.moved(mesh);
  const outward = known.joined?.directions(vertices.normals);
  return { key, vertices, ...(outward ? { outward } : {}) };
}
