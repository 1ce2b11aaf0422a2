/** Nearest neighbours: the grid, built and asked, against the quickest package tried. */
import createKDTree from "static-kdtree";
import { Arena } from "../src/core/kernels/arena";
import { hash3, unit24 } from "../src/core/maths/random";
import { PointGrid } from "../src/core/spatial/point-grid";
import { inTurns, type Pair } from "./measure";

/** The nearest other point of every point, anywhere in a cube. */
export function nearestOfAll(count: number): Pair {
  const lanes = [0, 1, 2].map((axis) =>
    Float32Array.from({ length: count }, (_, i) => unit24(hash3(1, i, axis)) * 10),
  );
  const arena = new Arena();
  return inTurns(
    () => {
      const grid = arena.within(() => new PointGrid(lanes));
      grid.nearest(lanes, { own: true });
      arena.keepOnly([]);
    },
    () => {
      const points = Array.from({ length: count }, (_, i) => lanes.map((lane) => lane[i]));
      const tree = createKDTree(points);
      // Itself and the next one.
      for (const point of points) tree.knn(point, 2);
    },
  );
}
