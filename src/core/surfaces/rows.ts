/** Surfaces of rows of points that are joined by faces: what all that is spanned over curves is made of. */
import { tick } from "../cancelling";
import { makeColumn } from "../geometry/column";
import type { MeshParts } from "../geometry/mesh";

export interface Rows {
  /** Points of row i, i = 0 … rows − 1. */
  readonly rows: number;
  readonly size: number;
  /** Whether the last point of each row is joined to its first. */
  readonly around: boolean;
  /** Whether the last row is joined to the first. */
  readonly along: boolean;
  /** Where rows lie on a picture, from left to right, one more when `along`. */
  readonly u: ArrayLike<number>;
  /** Where the points of a row lie on it, from top to bottom, one more when `around`. */
  readonly v: ArrayLike<number>;
  /** The number of point j of row i; neighbours may be the same point. */
  readonly at: (i: number, j: number) => number;
}

export class FacesOfRows {
  private readonly corners: number[] = [];
  private readonly starts: number[] = [0];
  private readonly uv: [number[], number[]] = [[], []];

  /** Seen from outside, rows run from left to right and their points upwards. */
  add({ rows, size, around, along, u, v, at }: Rows): void {
    for (let i = 0; i < (along ? rows : rows - 1); i++) {
      tick(size);
      const next = (i + 1) % rows;
      for (let j = 0; j < (around ? size : size - 1); j++) {
        const after = (j + 1) % size;
        this.face(
          [at(i, j), at(i, after), at(next, after), at(next, j)],
          [u[i], u[i], u[i + 1], u[i + 1]],
          [v[j], v[j + 1], v[j + 1], v[j]],
        );
      }
    }
  }

  /** Faces over the first and the last row, which look out. */
  lids({ rows, size, v, at }: Pick<Rows, "rows" | "size" | "v" | "at">): void {
    const all = Array.from({ length: size }, (_, j) => j);
    for (const [row, u] of [
      [0, 0],
      [rows - 1, 1],
    ])
      this.face(
        all.map((j) => at(row, row === 0 ? size - 1 - j : j)),
        all.map(() => u),
        all.map((j) => v[j]),
      );
  }

  /** Corners that are the same point as the one before are left out, and faces of fewer than three. */
  face(points: readonly number[], us: readonly number[], vs: readonly number[]): void {
    const kept: number[] = [];
    for (let k = 0; k < points.length; k++)
      if (points[k] !== points[(k + points.length - 1) % points.length]) kept.push(k);
    if (kept.length < 3) return;
    for (const k of kept) {
      this.corners.push(points[k]);
      this.uv[0].push(us[k]);
      this.uv[1].push(vs[k]);
    }
    this.starts.push(this.corners.length);
  }

  get parts(): Pick<MeshParts, "cornerPoint" | "faceStarts" | "cornerColumns"> {
    return {
      cornerPoint: Int32Array.from(this.corners),
      faceStarts: Int32Array.from(this.starts),
      cornerColumns: {
        uv: makeColumn("pair", [Float32Array.from(this.uv[0]), Float32Array.from(this.uv[1])]),
      },
    };
  }
}
