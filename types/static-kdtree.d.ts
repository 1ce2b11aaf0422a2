declare module "static-kdtree" {
  /** Only what the bench uses. */
  export default function createKDTree(points: number[][]): {
    knn(point: readonly number[], most: number): number[];
  };
}
