/** A mesh's triangles in three-mesh-bvh's hierarchy: what closest places and rays of ours are held against. */
import { BufferAttribute, BufferGeometry, DoubleSide, FrontSide, Ray, Vector3 } from "three";
import { type HitPointInfo, MeshBVH } from "three-mesh-bvh";
import { type Mesh, pointLanes } from "../src/core/geometry/mesh";
import { triangleCorners } from "../src/core/geometry/triangles";

type Place = readonly [number, number, number];

export class SurfaceBvh {
  private readonly bvh: MeshBVH;
  private readonly found: HitPointInfo = { point: new Vector3(), distance: 0, faceIndex: -1 };

  constructor(mesh: Mesh) {
    const [x, y, z] = pointLanes(mesh);
    const geometry = new BufferGeometry();
    const places = Float32Array.from(
      { length: mesh.points.count * 3 },
      (_, i) => [x, y, z][i % 3][Math.floor(i / 3)],
    );
    geometry.setAttribute("position", new BufferAttribute(places, 3));
    geometry.setIndex([...triangleCorners(mesh)].map((corner) => mesh.cornerPoint[corner]));
    this.bvh = new MeshBVH(geometry);
  }

  /** How far the closest place is away. */
  distance(...place: Place): number {
    return (this.bvh.closestPointToPoint(new Vector3(...place), this.found) as HitPointInfo).distance;
  }

  /** How far away a ray meets the surface; null when it does not. @param bothSides also from behind */
  cast(from: Place, way: Place, bothSides: boolean): number | null {
    const ray = new Ray(new Vector3(...from), new Vector3(...way).normalize());
    return this.bvh.raycastFirst(ray, bothSides ? DoubleSide : FrontSide)?.distance ?? null;
  }
}
