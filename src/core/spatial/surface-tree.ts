/**
 * A mesh's triangles in a bounding-volume hierarchy: the closest place on it, and where rays meet it. The hierarchy is
 * three-mesh-bvh's; when only positions have moved it is refitted instead of built anew.
 */
import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  FrontSide,
  type Intersection,
  Ray,
  Triangle,
  Vector3,
} from "three";
import { type HitPointInfo, MeshBVH } from "three-mesh-bvh";
import { tick } from "../cancelling";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { triangleCorners } from "../geometry/triangles";
import { dot, type Vec3 } from "../maths/vector";

/** A place on the surface; the triangle by its number. */
export interface SurfacePlace {
  readonly distance: number;
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly triangle: number;
}

/** What the hierarchy was built from besides positions. */
interface Topology {
  readonly cornerPoint: Int32Array;
  readonly faceStarts: Int32Array;
  /** The mesh's corners of every triangle, three each. */
  readonly corners: ArrayLike<number>;
}

const point = new Vector3();
const ray = new Ray();
const face = new Triangle();
const normal = new Vector3();

export class SurfaceTree {
  /** Functions cannot be sent: a field with a tree fails to cross to another thread at once instead of arriving as half of it. */
  readonly staysHere = (): true => true;
  private found: HitPointInfo = { point: new Vector3(), distance: 0, faceIndex: -1 };

  private constructor(
    private readonly topology: Topology,
    private readonly bvh: MeshBVH,
    /** Whether it came from another one by refitting. */
    readonly refitted: boolean,
  ) {}

  /**
   * The tree of a mesh. `before` is used up when it can be refitted: same corners and triangles, other positions.
   * Null for a mesh without triangles.
   */
  static of(mesh: Mesh, before: SurfaceTree | null = null): SurfaceTree | null {
    const { cornerPoint, faceStarts } = mesh;
    const corners = triangleCorners(mesh);
    if (
      before &&
      before.topology.cornerPoint === cornerPoint &&
      before.topology.faceStarts === faceStarts &&
      // Faces of more than three corners may be cut otherwise where they have become concave.
      corners.every((corner, i) => corner === before.topology.corners[i])
    ) {
      fill(before.bvh.geometry.getAttribute("position") as BufferAttribute, mesh);
      before.bvh.refit();
      return new SurfaceTree(before.topology, before.bvh, true);
    }
    if (corners.length === 0) return null;
    const geometry = new BufferGeometry();
    const position = new BufferAttribute(new Float32Array(mesh.points.count * 3), 3);
    fill(position, mesh);
    geometry.setAttribute("position", position);
    geometry.setIndex(
      new BufferAttribute(
        Uint32Array.from(corners, (corner) => cornerPoint[corner]),
        1,
      ),
    );
    // Triangles keep their numbers.
    const bvh = new MeshBVH(geometry, { indirect: true });
    return new SurfaceTree({ cornerPoint, faceStarts, corners }, bvh, false);
  }

  /** The three points of a triangle. */
  pointsOf(triangle: number): readonly [number, number, number] {
    const index = this.bvh.geometry.index as BufferAttribute;
    return [index.getX(triangle * 3), index.getX(triangle * 3 + 1), index.getX(triangle * 3 + 2)];
  }

  /** Which way a triangle looks, unit; zero for one without area. The vector is used again by the next call. */
  facing(triangle: number): Vector3 {
    const { geometry } = this.bvh;
    const index = geometry.index as BufferAttribute;
    const position = geometry.getAttribute("position") as BufferAttribute;
    face.a.fromBufferAttribute(position, index.getX(triangle * 3));
    face.b.fromBufferAttribute(position, index.getX(triangle * 3 + 1));
    face.c.fromBufferAttribute(position, index.getX(triangle * 3 + 2));
    return face.getNormal(normal);
  }

  /** How much each point of its triangle counts at a place of the surface; together 1 (C. Ericson, 2005, § 3.4). */
  weightsAt({ x, y, z, triangle }: SurfacePlace): Vec3 {
    const [a, b, c] = this.corners(triangle);
    const [u, v, w] = [minus(b, a), minus(c, a), minus([x, y, z], a)];
    const [uu, uv, vv, wu, wv] = [dot(u, u), dot(u, v), dot(v, v), dot(w, u), dot(w, v)];
    const whole = uu * vv - uv * uv;
    if (!(whole > 0)) return [1, 0, 0];
    const second = (vv * wu - uv * wv) / whole;
    const third = (uu * wv - uv * wu) / whole;
    return [1 - second - third, second, third];
  }

  /** Mixes what the points (or the mesh's corners) of a triangle have, by how much each counts at a place. */
  mixAt(
    { x, y, z }: Pick<SurfacePlace, "x" | "y" | "z">,
    triangle: number,
    byCorner = false,
  ): (lane: ArrayLike<number>) => number {
    const { corners } = this.topology;
    const [a, b, c] = byCorner
      ? [corners[triangle * 3], corners[triangle * 3 + 1], corners[triangle * 3 + 2]]
      : this.pointsOf(triangle);
    const [u, v, w] = this.weightsAt({ x, y, z, triangle, distance: 0 });
    return (lane) => lane[a] * u + lane[b] * v + lane[c] * w;
  }

  private corners(triangle: number): readonly [Vec3, Vec3, Vec3] {
    const position = this.bvh.geometry.getAttribute("position") as BufferAttribute;
    const at = (p: number): Vec3 => [position.getX(p), position.getY(p), position.getZ(p)];
    const [a, b, c] = this.pointsOf(triangle);
    return [at(a), at(b), at(c)];
  }

  /** The closest place no further than `most`; null when there is none, or the place is not finite. */
  closest(x: number, y: number, z: number, most = Number.POSITIVE_INFINITY): SurfacePlace | null {
    if (!Number.isFinite(x + y + z)) return null;
    const found = this.bvh.closestPointToPoint(point.set(x, y, z), this.found, 0, most);
    // Beyond the limit it gives what it came across, not what is closest.
    if (!found || found.distance > most) return null;
    const { distance, faceIndex } = found;
    return { distance, x: found.point.x, y: found.point.y, z: found.point.z, triangle: faceIndex };
  }

  /**
   * Where a ray first meets the surface, no further than `most` lengths of its direction's unit; null when it does not.
   * @param bothSides also where it comes from behind
   */
  cast(
    from: readonly [number, number, number],
    direction: readonly [number, number, number],
    most = Number.POSITIVE_INFINITY,
    bothSides = true,
  ): SurfacePlace | null {
    const hit = this.meet(...from, ...direction, most, bothSides);
    return hit && { distance: hit.distance, ...xyz(hit.point), triangle: hit.faceIndex ?? -1 };
  }

  /** As `cast`, for loops over many rays: nothing is made but what three-mesh-bvh makes. */
  meet(
    x: number,
    y: number,
    z: number,
    dx: number,
    dy: number,
    dz: number,
    most: number,
    bothSides: boolean,
  ): Intersection | null {
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (!(length > 0) || !Number.isFinite(length + x + y + z)) return null;
    ray.origin.set(x, y, z);
    ray.direction.set(dx / length, dy / length, dz / length);
    return this.bvh.raycastFirst(ray, bothSides ? DoubleSide : FrontSide, 0, most) ?? null;
  }
}

const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

const xyz = ({ x, y, z }: Vector3) => ({ x, y, z });

function fill(position: BufferAttribute, mesh: Mesh): void {
  const [x, y, z] = pointLanes(mesh);
  const array = position.array as Float32Array;
  for (let p = 0; p < mesh.points.count; p++) {
    tick();
    array[p * 3] = x[p];
    array[p * 3 + 1] = y[p];
    array[p * 3 + 2] = z[p];
  }
}
