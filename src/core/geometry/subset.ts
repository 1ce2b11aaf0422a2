/** Parts of meshes and curves. */
import { tick } from "../cancelling";
import { countUp, gather, makeColumn, withColumns } from "./column";
import { type Curves, isClosedCurve } from "./curves";
import type { Mesh } from "./mesh";
import { edgesCarried } from "./topology";

/** The numbers of those that hold, ascending. */
export function numbersWhere(count: number, holds: (i: number) => boolean): Int32Array {
  const numbers = new Int32Array(count);
  let kept = 0;
  for (let i = 0; i < count; i++) {
    tick(0.25);
    if (holds(i)) numbers[kept++] = i;
  }
  return numbers.slice(0, kept);
}

/** Writes some rows of so many numbers each, one after the other. @param into may be longer */
export function gatherRows<A extends Float32Array | Uint32Array>(
  from: A,
  rows: ArrayLike<number>,
  width: number,
  into: A,
): A {
  for (let i = 0; i < rows.length; i++)
    for (let k = 0; k < width; k++) into[i * width + k] = from[rows[i] * width + k];
  return into;
}

/** Some faces of a mesh, ascending, with the points that they need. */
export function keepFaces(mesh: Mesh, faces: Int32Array): Mesh {
  const faceStarts = new Int32Array(faces.length + 1);
  for (let f = 0; f < faces.length; f++)
    faceStarts[f + 1] = faceStarts[f] + mesh.faceStarts[faces[f] + 1] - mesh.faceStarts[faces[f]];
  const corners = new Int32Array(faceStarts[faces.length]);
  const needed = new Uint8Array(mesh.points.count);
  for (let f = 0; f < faces.length; f++) {
    tick(4);
    for (let k = 0; k < faceStarts[f + 1] - faceStarts[f]; k++) {
      const corner = mesh.faceStarts[faces[f]] + k;
      corners[faceStarts[f] + k] = corner;
      needed[mesh.cornerPoint[corner]] = 1;
    }
  }
  const points = numbersWhere(mesh.points.count, (p) => needed[p] === 1);
  const renumbered = new Int32Array(mesh.points.count);
  for (let p = 0; p < points.length; p++) renumbered[points[p]] = p;
  const cornerPoint = corners.map((corner) => renumbered[mesh.cornerPoint[corner]]);
  return partsOf(mesh, { points, corners, faces, faceStarts, cornerPoint });
}

/** Numbers of the points, corners and faces of a mesh that are left, and how they hang together then. */
interface Left extends Pick<Mesh, "faceStarts" | "cornerPoint"> {
  readonly points: Int32Array;
  readonly corners: Int32Array;
  readonly faces: Int32Array;
}

/** A mesh of what is left of another one, with all that it carries. */
export function partsOf(mesh: Mesh, { points, corners, faces, faceStarts, cornerPoint }: Left): Mesh {
  const made: Mesh = {
    points: gather(mesh.points, points),
    corners: gather(mesh.corners, corners),
    faces: gather(mesh.faces, faces),
    faceStarts,
    cornerPoint,
  };
  return mesh.edges ? { ...made, edges: edgesCarried(mesh, made, corners) } : made;
}

/** The faces of a mesh all of whose points are kept. */
export const facesOfPoints = (mesh: Mesh, isKept: (point: number) => boolean): Int32Array =>
  numbersWhere(mesh.faces.count, (f) => {
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
      if (!isKept(mesh.cornerPoint[c])) return false;
    return true;
  });

/** Some curves, ascending. */
export function keepCurves({ points, curves, curveStarts }: Curves, kept: Int32Array): Curves {
  const starts = new Int32Array(kept.length + 1);
  for (let k = 0; k < kept.length; k++)
    starts[k + 1] = starts[k] + curveStarts[kept[k] + 1] - curveStarts[kept[k]];
  const numbers = new Int32Array(starts[kept.length]);
  for (let k = 0; k < kept.length; k++)
    for (let p = starts[k]; p < starts[k + 1]; p++) numbers[p] = curveStarts[kept[k]] + p - starts[k];
  return { points: gather(points, numbers), curves: gather(curves, kept), curveStarts: starts };
}

/** Curves of the points that are kept: where some are left out a curve ends, and another one begins behind them. */
export function keepCurvePoints(from: Curves, isKept: (point: number) => boolean): Curves {
  const numbers: number[] = [];
  const starts = [0];
  const curveOf: number[] = [];
  const whole: boolean[] = [];
  for (let k = 0; k < from.curves.count; k++) {
    const [first, end] = [from.curveStarts[k], from.curveStarts[k + 1]];
    const order = countUp(end - first).map((i) => i + first);
    const gap = order.findIndex((p) => !isKept(p));
    // A closed curve is walked from a point that is left out, so that no piece is cut at its beginning.
    const walked =
      gap > 0 && isClosedCurve(from, k) ? [...order.subarray(gap), ...order.subarray(0, gap)] : [...order];
    const finish = () => {
      if (numbers.length === starts[starts.length - 1]) return;
      starts.push(numbers.length);
      curveOf.push(k);
      whole.push(gap < 0);
    };
    for (const p of walked) {
      tick();
      if (isKept(p)) numbers.push(p);
      else finish();
    }
    finish();
  }
  const curves = gather(from.curves, Int32Array.from(curveOf));
  const closed = Int32Array.from(whole, (all, i) => (all && isClosedCurve(from, curveOf[i]) ? 1 : 0));
  return {
    points: gather(from.points, Int32Array.from(numbers)),
    curves: withColumns(curves, { closed: makeColumn("integer", [closed]) }),
    curveStarts: Int32Array.from(starts),
  };
}
