/** Curves as a tree of their pieces, for the nearest place on them (kernels/assembly/curves.ts). */
import { AlongCurves } from "../curves/along-curves";
import type { Lane } from "../geometry/column";
import type { Curves } from "../geometry/curves";
import { pointLanes } from "../geometry/mesh";
import { inMemory } from "../kernels/arena";
import { type BoxTree, boxTree, type FittedTree, fitted } from "./box-tree";

/** What stays while the curves have the same points. */
interface Topology {
  readonly curveStarts: Int32Array;
  readonly closed: Lane | undefined;
  readonly tree: BoxTree;
}

/** Pieces in the order of the curves: three points each (the second twice), the parts of the length, the curve's number. */
interface Pieces {
  readonly points: Int32Array;
  readonly begin: Float32Array;
  readonly end: Float32Array;
  readonly curve: Float32Array;
}

export class CurveTable {
  private constructor(
    private readonly topology: Topology,
    private readonly tree: FittedTree,
    /** For every piece: the part of its curve's length where it begins, where it ends, and the curve's number. */
    readonly pieces: readonly Float32Array[],
  ) {}

  /** Made in the current arena. @param before of the same curves, perhaps @returns null where there are no points */
  static of(curves: Curves, before: CurveTable | null = null): CurveTable | null {
    if (curves.points.count === 0) return null;
    const { curveStarts } = curves;
    const closed = curves.curves.columns.closed?.lanes[0];
    const along = new AlongCurves(curves);
    const { points, begin, end, curve } = piecesOf(curves, along);
    const places = pointLanes(curves);
    const known = before?.topology;
    const topology =
      known && known.curveStarts === curveStarts && known.closed === closed
        ? known
        : { curveStarts, closed, tree: boxTree(places, points) };
    return new CurveTable(topology, fitted(topology.tree, places), [begin, end, curve].map(inMemory));
  }

  /** Address of the table that kernels take. */
  get address(): number {
    return this.tree.address;
  }

  /** What the table stands in: to be kept for as long as it is used. */
  get lanes(): readonly Lane[] {
    return [...this.tree.lanes, ...this.pieces];
  }
}

function piecesOf({ curveStarts, points }: Curves, along: AlongCurves): Pieces {
  // A closed curve has a piece a point, an open one a piece less; one of a single point is a piece without length.
  const found = new Int32Array(points.count * 3);
  const [begin, ends, curve] = [0, 1, 2].map(() => new Float32Array(points.count));
  let count = 0;
  for (let c = 0; c < along.count; c++) {
    const [first, end] = [curveStarts[c], curveStarts[c + 1]];
    const until = along.isRound(c) || end - first === 1 ? end : end - 1;
    const parts = along.partsOfPoints(c);
    for (let p = first; p < until; p++) {
      const q = p + 1 < end ? p + 1 : first;
      found.set([p, q, q], count * 3);
      begin[count] = parts[p - first];
      // The end of a closed curve is where it begins; without a length nothing is further than that.
      ends[count] = parts[p - first + 1] ?? (along.lengths[c] > 0 ? 1 : 0);
      curve[count++] = c;
    }
  }
  return {
    points: found.slice(0, count * 3),
    begin: begin.slice(0, count),
    end: ends.slice(0, count),
    curve: curve.slice(0, count),
  };
}
