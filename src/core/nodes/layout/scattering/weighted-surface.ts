/** The triangles of a mesh by area and by a weight of its points. */
import { type Mesh, pointLanes } from "../../../geometry/mesh";
import { triangleArea, triangleCorners } from "../../../geometry/triangles";
import { lengthOf } from "../../../maths/exact";
import type { PlaceList } from "./place-list";

export class WeightedSurface {
  /** The mesh's corners of each triangle, and their points. */
  readonly corners: Int32Array;
  readonly points: Int32Array;
  /** Running sums of area × mean weight, less than 0 as 0. */
  readonly sums: Float64Array;
  /** The last of the sums; 0 when there is nothing to stand on. */
  readonly whole: number;
  readonly lanes: readonly Float32Array[];
  private readonly laid: readonly ArrayLike<number>[];

  constructor(
    mesh: Mesh,
    readonly weights: Float32Array,
  ) {
    this.corners = triangleCorners(mesh);
    this.points = this.corners.map((corner) => mesh.cornerPoint[corner]);
    this.sums = new Float64Array(this.points.length / 3);
    this.lanes = pointLanes(mesh);
    this.laid = mesh.corners.columns.uv?.lanes ?? [];
    let sum = 0;
    for (let t = 0; t < this.sums.length; t++) {
      const [a, b, c] = [this.points[t * 3], this.points[t * 3 + 1], this.points[t * 3 + 2]];
      const area = triangleArea(this.lanes, a, b, c);
      sum += (area * Math.max(0, weights[a] + weights[b] + weights[c])) / 3;
      this.sums[t] = sum;
    }
    this.whole = sum;
  }

  /** The weight where a triangle's second and third corner count so much. */
  weightAt(triangle: number, second: number, third: number): number {
    const { points, weights } = this;
    const a = weights[points[triangle * 3]];
    const b = weights[points[triangle * 3 + 1]];
    const c = weights[points[triangle * 3 + 2]];
    return a + (b - a) * second + (c - a) * third;
  }

  /** Writes the place of a triangle where its corners count a, b and c (together 1) after the last one of a list. */
  put(list: PlaceList, triangle: number, a: number, b: number, c: number): void {
    const [x, y, z] = this.lanes;
    const p = this.points[triangle * 3];
    const q = this.points[triangle * 3 + 1];
    const r = this.points[triangle * 3 + 2];
    const ux = x[q] - x[p];
    const uy = y[q] - y[p];
    const uz = z[q] - z[p];
    const vx = x[r] - x[p];
    const vy = y[r] - y[p];
    const vz = z[r] - z[p];
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const length = lengthOf(nx, ny, nz) || 1;
    list.put(
      x[p] * a + x[q] * b + x[r] * c,
      y[p] * a + y[q] * b + y[r] * c,
      z[p] * a + z[q] * b + z[r] * c,
      nx / length,
      ny / length,
      nz / length,
    );
    for (let l = 0; l < list.uv.length; l++) {
      const lane = this.laid[l];
      list.uv[l][list.count] =
        lane[this.corners[triangle * 3]] * a +
        lane[this.corners[triangle * 3 + 1]] * b +
        lane[this.corners[triangle * 3 + 2]] * c;
    }
  }
}
