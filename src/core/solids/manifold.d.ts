/** What is used of Manifold; manifold.js is made by scripts/make-solids-part.mjs. */

/** Numbers of a mesh of triangles as it takes and gives them. */
export interface Triangles {
  /** Numbers of every vertex, its place first. */
  readonly numProp: number;
  readonly vertProperties: Float32Array;
  readonly triVerts: Uint32Array;
  /** Vertices that are one point with others of other numbers. */
  readonly mergeFromVert: Uint32Array;
  readonly mergeToVert: Uint32Array;
  /** Where triangles of one original begin, in numbers of triVerts; one more than originals. */
  readonly runIndex: Uint32Array;
  readonly runOriginalID: Uint32Array;
  /** The face that each triangle is a part of. */
  readonly faceID: Uint32Array;
}

/** Memory of the library, which nobody takes back: `delete` it. */
export interface Manifold {
  delete(): void;
  isEmpty(): boolean;
  status(): string;
  volume(): number;
  add(other: Manifold): Manifold;
  subtract(other: Manifold): Manifold;
  intersect(other: Manifold): Manifold;
  translate(by: readonly [number, number, number]): Manifold;
  /** Keeps what lies on the side that the normal points to. */
  trimByPlane(normal: readonly [number, number, number], originOffset: number): Manifold;
  getMesh(): Triangles;
  originalID(): number;
  boundingBox(): { readonly min: readonly number[]; readonly max: readonly number[] };
}

export interface ManifoldModule {
  readonly Mesh: new (options: Partial<Triangles>) => Triangles;
  readonly Manifold: {
    new (mesh: Triangles): Manifold;
    cube(size: readonly [number, number, number], center: boolean): Manifold;
    hull(points: readonly (readonly [number, number, number])[]): Manifold;
    union(list: readonly Manifold[]): Manifold;
    reserveIDs(count: number): number;
  };
}

export function load(): Promise<ManifoldModule>;
