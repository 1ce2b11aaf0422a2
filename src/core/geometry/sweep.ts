/** Meshes around curves. */
import { tick } from "../cancelling";
import { cosine, lengthOf, sine } from "../maths/exact";
import { cross, type Vec3 } from "../maths/vector";
import { type Column, makeColumn } from "./column";
import { type Curves, curveTangents, isClosedCurve } from "./curves";
import { steadyNormals, tilted } from "./frames";
import { type Mesh, makeMesh } from "./mesh";

export interface SweepOptions {
  /** Faces around, 3 and more. */
  readonly sides: number;
  /** Whether the ends of open curves are closed. */
  readonly caps: boolean;
}

/**
 * Rings of points around every curve of two points and more, joined by quads; null without any. Colours of the points are kept.
 * Laid out for pictures: along each curve from left to right, by length, and once around from top to bottom; lids by themselves.
 * @param thick from each of the curves' points to the skin, units; times the point's `radius`, where it has one
 */
export function sweep(curves: Curves, thick: ArrayLike<number>, { sides, caps }: SweepOptions): Mesh | null {
  const kept = Array.from({ length: curves.curves.count }, (_, k) => k).filter(
    (k) => curves.curveStarts[k + 1] - curves.curveStarts[k] > 1,
  );
  const { position: placed, radius, tilt } = curves.points.columns;
  const { lanes } = placed;
  const skin = (p: number): number => thick[p] * (radius?.lanes[0][p] ?? 1);
  const tangents = curveTangents(curves);
  const rings = kept.reduce((sum, k) => sum + curves.curveStarts[k + 1] - curves.curveStarts[k], 0);
  if (rings === 0) return null;
  const position = [0, 1, 2].map(() => new Float32Array(rings * sides));
  // The curve's point that each belongs to.
  const origin = new Int32Array(rings * sides);
  const corners: number[] = [];
  const starts: number[] = [0];
  const uv: [number[], number[]] = [[], []];
  const face = (points: readonly number[], us: readonly number[], vs: readonly number[]) => {
    corners.push(...points);
    uv[0].push(...us);
    uv[1].push(...vs);
    starts.push(corners.length);
  };
  const around = Array.from({ length: sides }, (_, s) => {
    const angle = (s / sides) * 2 * Math.PI;
    return [cosine(angle), sine(angle)] as const;
  });
  let ring = 0;
  for (const k of kept) {
    const first = curves.curveStarts[k];
    const count = curves.curveStarts[k + 1] - first;
    const closed = isClosedCurve(curves, k) && count > 2;
    const steady = steadyNormals(lanes, tangents, first, first + count, closed, [0, 1, 0]);
    const normals = tilted(steady, tangents, first, tilt?.lanes[0]);
    const base = ring * sides;
    for (let i = 0; i < count; i++, ring++) {
      tick(sides);
      const away = skin(first + i);
      const normal: Vec3 = [normals[0][i], normals[1][i], normals[2][i]];
      const side = cross([tangents[0][first + i], tangents[1][first + i], tangents[2][first + i]], normal);
      around.forEach(([c, s], j) => {
        const p = ring * sides + j;
        origin[p] = first + i;
        for (let a = 0; a < 3; a++)
          position[a][p] = lanes[a][first + i] + (normal[a] * c + side[a] * s) * away;
      });
    }
    const at = (i: number, j: number) => base + (i % count) * sides + (j % sides);
    const along = partsOfLength(lanes, first, count, closed);
    for (let i = 0; i < (closed ? count : count - 1); i++) {
      tick(sides);
      const [u, t] = [along[i], along[i + 1]];
      for (let j = 0; j < sides; j++) {
        const [v, w] = [j / sides, (j + 1) / sides];
        face([at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)], [u, u, t, t], [v, w, w, v]);
      }
    }
    if (!closed && caps) {
      const lid = Array.from({ length: sides }, (_, j) => j);
      // Seen from outside, both run counter-clockwise; pictures run downwards.
      const us = around.map(([c]) => 0.5 + c / 2);
      const vs = around.map(([, s]) => 0.5 - s / 2);
      face(
        lid.map((j) => at(0, sides - 1 - j)),
        us,
        vs,
      );
      face(
        lid.map((j) => at(count - 1, j)),
        us,
        vs,
      );
    }
  }
  const color: Column | undefined = curves.points.columns.color;
  const colors = color?.lanes.map((lane) => Float32Array.from(origin, (p) => lane[p]));
  return makeMesh({
    position: [position[0], position[1], position[2]],
    cornerPoint: Int32Array.from(corners),
    faceStarts: Int32Array.from(starts),
    cornerColumns: { uv: makeColumn("pair", [Float32Array.from(uv[0]), Float32Array.from(uv[1])]) },
    pointColumns: colors && color?.kind === "color" ? { color: makeColumn("color", colors) } : {},
  });
}

/** How far along a curve each of its points is, 0 to 1; of a closed one the first point again at the end. */
function partsOfLength(
  [x, y, z]: readonly ArrayLike<number>[],
  first: number,
  count: number,
  closed: boolean,
): number[] {
  const parts = [0];
  for (let i = 1; i < (closed ? count + 1 : count); i++) {
    const [p, q] = [first + i - 1, first + (i % count)];
    parts.push(parts[i - 1] + lengthOf(x[q] - x[p], y[q] - y[p], z[q] - z[p]));
  }
  const whole = parts[parts.length - 1];
  return parts.map((part, i) => (whole > 0 ? part / whole : i / Math.max(1, parts.length - 1)));
}
