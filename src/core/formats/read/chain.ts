/** Loose line segments to curves. */
import { type Curves, makeCurves } from "../../geometry/curves";
import { splitVectors } from "../../geometry/mesh";

/**
 * Segments that begin where the one before ended go on with its curve; one that comes back to its beginning is
 * closed.
 * @param xyz 6 numbers a segment: both ends
 */
export function chainSegments(xyz: ArrayLike<number>): Curves | undefined {
  const points: number[] = [];
  const starts: number[] = [0];
  const closed: number[] = [];
  const at = (list: ArrayLike<number>, p: number) => [list[p * 3], list[p * 3 + 1], list[p * 3 + 2]] as const;
  const same = (a: readonly number[], b: readonly number[]) => a.every((v, i) => v === b[i]);
  const finish = () => {
    const first = starts[starts.length - 1];
    let end = points.length / 3;
    if (end === first) return;
    const ring = end - first > 3 && same(at(points, first), at(points, end - 1));
    if (ring) {
      points.length -= 3;
      end--;
    }
    closed.push(ring ? 1 : 0);
    starts.push(end);
  };
  for (let s = 0; s + 1 < xyz.length / 3; s += 2) {
    const [from, to] = [at(xyz, s), at(xyz, s + 1)];
    const count = points.length / 3;
    const goesOn = count > starts[starts.length - 1] && same(at(points, count - 1), from);
    if (!goesOn) {
      finish();
      points.push(...from);
    }
    points.push(...to);
  }
  finish();
  if (points.length === 0) return undefined;
  return makeCurves({
    position: splitVectors(points),
    curveStarts: Int32Array.from(starts),
    closed: Int32Array.from(closed),
  });
}
