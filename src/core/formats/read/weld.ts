/** Loose triangle corners to a mesh with shared points. */
import { tick } from "../../cancelling";
import { makeColumn } from "../../geometry/column";
import { type Mesh, makeMesh } from "../../geometry/mesh";
import { FormatError } from "../format-error";

/** Interleaved attributes, one entry per triangle corner; three corners a triangle. */
export interface LooseTriangles {
  /** 3 numbers a corner. */
  readonly position: ArrayLike<number>;
  /** 3 a corner, unit. */
  readonly normal?: ArrayLike<number>;
  /** 2 a corner, origin top left (glTF 2.0). */
  readonly uv?: ArrayLike<number>;
  /** Linear RGBA, 4 a corner. */
  readonly color?: ArrayLike<number>;
}

/**
 * Corners at exactly the same place (and of the same colour) share a point; triangles that lose a corner by
 * this are left out.
 * @throws FormatError when a position is not a finite number
 */
export function weldTriangles(loose: LooseTriangles): Mesh {
  const corners = Math.floor(loose.position.length / 9) * 3;
  const pointOf = new Int32Array(corners);
  const known = new Map<string, number>();
  const points: number[] = [];
  const colors: number[] = [];
  for (let c = 0; c < corners; c++) {
    tick();
    const x = loose.position[c * 3];
    const y = loose.position[c * 3 + 1];
    const z = loose.position[c * 3 + 2];
    if (!Number.isFinite(x + y + z)) {
      throw new FormatError(
        `the position of corner ${(c % 3) + 1} of triangle ${Math.floor(c / 3) + 1} is not a number.`,
      );
    }
    const rgba = loose.color ? [0, 1, 2, 3].map((k) => loose.color?.[c * 4 + k] ?? 1) : [];
    const key = `${x},${y},${z}|${rgba.join(",")}`;
    let point = known.get(key);
    if (point === undefined) {
      point = points.length / 3;
      known.set(key, point);
      points.push(x, y, z);
      colors.push(...rgba);
    }
    pointOf[c] = point;
  }
  const kept: number[] = [];
  for (let c = 0; c < corners; c += 3) {
    const [a, b, d] = [pointOf[c], pointOf[c + 1], pointOf[c + 2]];
    if (a !== b && b !== d && a !== d) kept.push(c, c + 1, c + 2);
  }
  const lane = (values: ArrayLike<number>, stride: number, offset: number, indices: ArrayLike<number>) =>
    Float32Array.from(indices, (i) => values[i * stride + offset]);
  const all = Array.from({ length: points.length / 3 }, (_, i) => i);
  const { normal, uv } = loose;
  return makeMesh({
    position: [lane(points, 3, 0, all), lane(points, 3, 1, all), lane(points, 3, 2, all)],
    faceStarts: Int32Array.from({ length: kept.length / 3 + 1 }, (_, i) => i * 3),
    cornerPoint: Int32Array.from(kept, (c) => pointOf[c]),
    pointColumns: loose.color
      ? {
          color: makeColumn(
            "color",
            [0, 1, 2, 3].map((k) => lane(colors, 4, k, all)),
          ),
        }
      : {},
    cornerColumns: {
      ...(normal
        ? {
            normal: makeColumn(
              "vector",
              [0, 1, 2].map((k) => lane(normal, 3, k, kept)),
            ),
          }
        : {}),
      ...(uv
        ? {
            uv: makeColumn(
              "pair",
              [0, 1].map((k) => lane(uv, 2, k, kept)),
            ),
          }
        : {}),
    },
  });
}
