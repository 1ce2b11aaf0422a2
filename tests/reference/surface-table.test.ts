/** The closest place on a surface, rays and insides by kernels, against three-mesh-bvh on shapes of every size, and as its points move. */
import fc from "fast-check";
import { apply, applyAll, column, positionField, type Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeColumn } from "../../src/core/geometry/column";
import { type Mesh, MeshBuilder, makeMesh } from "../../src/core/geometry/mesh";
import { torusMesh } from "../../src/core/geometry/primitives";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { Arena } from "../../src/core/kernels/arena";
import { hash3, unit24 } from "../../src/core/maths/random";
import { Inside, LazyInside } from "../../src/core/spatial/inside";
import { SurfaceTable } from "../../src/core/spatial/surface-table";
import { graphOf, outputsOf } from "../run-node";
import { SurfaceBvh } from "../surface-bvh";

/** Distance and place of the closest for places, three lanes each. */
function closest(
  table: SurfaceTable,
  places: readonly (readonly number[])[],
  carried: readonly Float32Array[] = [],
  most = Number.POSITIVE_INFINITY,
) {
  const sites = makeSites(places.length, ({ position }) => {
    places.forEach((place, i) => {
      for (let a = 0; a < 3; a++) position[a][i] = place[a];
    });
  });
  const data = { key: "test", surface: table.address, most, carried, kind: "number", lanes: table.lanes };
  return runValues(applyAll("closest", positionField(), data), sites).lanes;
}

const coordinate = fc.double({ min: -3, max: 3, noNaN: true, noDefaultInfinity: true });
const place = fc.tuple(coordinate, coordinate, coordinate);

/** Triangles anywhere, some without area. */
const soupOf = (of: typeof place) =>
  fc.array(fc.tuple(of, of, of, fc.nat(9)), { minLength: 1, maxLength: 90 }).map((list): Mesh => {
    const points = list.flatMap(([a, b, c, flat]) => [a, b, flat === 0 ? a : flat === 1 ? b : c]);
    return makeMesh({
      position: [0, 1, 2].map((axis) => Float32Array.from(points, (p) => p[axis])) as [
        Float32Array,
        Float32Array,
        Float32Array,
      ],
      faceStarts: Int32Array.from({ length: list.length + 1 }, (_, i) => i * 3),
      cornerPoint: Int32Array.from(points, (_, i) => i),
    });
  });

const soup = soupOf(place);

it("finds as near a place as three-mesh-bvh does, on triangles anywhere", () => {
  const arena = new Arena();
  fc.assert(
    fc.property(soup, fc.array(place, { minLength: 1, maxLength: 20 }), (mesh, places) =>
      arena.within(() => {
        const table = SurfaceTable.of(mesh) as SurfaceTable;
        const tree = new SurfaceBvh(mesh);
        const [distance, x, y, z] = closest(table, places);
        places.forEach((at, i) => {
          const [px, py, pz] = at.map(Math.fround);
          const wanted = tree.distance(px, py, pz);
          // Which triangle it is is found in float32: of two that are as near as this either may be taken.
          expect(distance[i]).toBeCloseTo(wanted, 3);
          // The place lies that far away.
          expect(Math.hypot(x[i] - px, y[i] - py, z[i] - pz)).toBeCloseTo(distance[i], 4);
        });
        arena.keepOnly([]);
      }),
    ),
    { numRuns: 150 },
  );
});

/** Shapes of triangles: the points of each. */
const meshOf = (...triangles: readonly (readonly (readonly [number, number, number])[])[]): Mesh => {
  const builder = new MeshBuilder();
  for (const [a, b, c] of triangles)
    builder.face(builder.point(...a), builder.point(...b), builder.point(...c));
  return builder.build();
};

const inArena = (work: () => void): void => {
  const arena = new Arena();
  arena.within(work);
  arena.keepOnly([]);
};

it.each([
  ["vertex A", [-1, -1, 2], [0, 0, 0]],
  ["vertex B", [6, -1, 1], [4, 0, 0]],
  ["vertex C", [1, 5, -2], [1, 3, 0]],
  ["edge AB", [2, -2, 1], [2, 0, 0]],
  ["edge AC", [-1, 2, 0], [0.5, 1.5, 0]],
  ["edge BC", [4, 3, 1], [2.5, 1.5, 0]],
  ["face", [1.5, 1, 2], [1.5, 1, 0]],
])(
  "finds the closest place of a triangle (C. Ericson, 2005, 5.1.5): %s [GEO-05]",
  (_region, at, expected) => {
    inArena(() => {
      const table = SurfaceTable.of(
        meshOf([
          [0, 0, 0],
          [4, 0, 0],
          [1, 3, 0],
        ]),
      ) as SurfaceTable;
      const [, x, y, z] = closest(table, [at]);
      expect([x[0], y[0], z[0]]).toEqual(expected.map((v) => expect.closeTo(v, 5)));
    });
  },
);

it("tells rightly what is nearer than a limit, and of everything else that it is further", () => {
  inArena(() => {
    const mesh = torusMesh(1, 0.3, 96, 48);
    const table = SurfaceTable.of(mesh) as SurfaceTable;
    const places = Array.from({ length: 3000 }, (_, i) =>
      [0, 1, 2].map((axis) => unit24(hash3(31, i, axis)) * 3 - 1.5),
    );
    const whole = closest(table, places)[0];
    let beyond = 0;
    closest(table, places, [], 0.25)[0].forEach((distance, i) => {
      if (whole[i] > 0.25) {
        beyond++;
        expect(distance).toBeGreaterThan(0.25);
      } else expect(distance).toBe(whole[i]);
    });
    expect(beyond).toBeGreaterThan(500);
    expect(beyond).toBeLessThan(2900);
  });
});

it("a triangle smaller than float32 can tell does not hide one beside it", () => {
  const arena = new Arena();
  arena.within(() => {
    const speck = makeMesh({
      position: [
        Float32Array.of(0, 0, 0, 0, -0.0005, 0),
        Float32Array.of(0, 0, -1.577e-6, 0, 0, 0),
        Float32Array.of(0, -1.6785e-17, 0, 0, 0, 0),
      ],
      faceStarts: Int32Array.of(0, 3, 6),
      cornerPoint: Int32Array.of(0, 1, 2, 3, 4, 5),
    });
    expect(closest(SurfaceTable.of(speck) as SurfaceTable, [[-0.0005, 0, 0]])[0][0]).toBeLessThan(1e-7);
  });
  arena.keepOnly([]);
});

it("carries what is on the surface: a number that is x is x where it is found; what is not finite keeps its place", () => {
  const arena = new Arena();
  arena.within(() => {
    const { mesh } = outputsOf(
      graphOf({ node: { type: "sphere", set: { around: 40, rings: 30 } } }, []),
      "node",
    ).shape as Shape;
    const table = SurfaceTable.of(mesh as Mesh) as SurfaceTable;
    const lane = (mesh as Mesh).points.columns.position.lanes[0] as Float32Array;
    const places = Array.from({ length: 500 }, (_, i) => [Math.sin(i), Math.cos(i * 1.7), Math.sin(i * 0.3)]);
    const [distance, x, , , number, value] = closest(table, [...places, [Number.NaN, 1, 2]], [lane]);
    places.forEach((_, i) => {
      expect(value[i]).toBeCloseTo(x[i], 5);
    });
    expect([distance[500], number[500], value[500]]).toEqual([0, -1, 0]);
  });
  arena.keepOnly([]);
});

it("is fitted to points that have moved, with the tree that it had", () => {
  const arena = new Arena();
  arena.within(() => {
    const { mesh } = outputsOf(graphOf({ node: { type: "torus" } }, []), "node").shape as Shape;
    const before = mesh as Mesh;
    const lanes = before.points.columns.position.lanes.map((lane) =>
      Float32Array.from(lane, (v) => v * 2 + 0.1),
    );
    const after: Mesh = {
      ...before,
      points: { ...before.points, columns: { position: { kind: "vector", lanes } } },
    };
    const first = SurfaceTable.of(before) as SurfaceTable;
    const second = SurfaceTable.of(after, first) as SurfaceTable;
    expect(second.topology).toBe(first.topology);
    const places = Array.from({ length: 200 }, (_, i) => [
      Math.sin(i) * 2,
      Math.cos(i * 1.3),
      Math.sin(i * 0.7) * 2,
    ]);
    const fresh = closest(SurfaceTable.of(after) as SurfaceTable, places);
    expect([...closest(second, places)[0]]).toEqual([...fresh[0]]);
    // The one before is as it was.
    const tree = new SurfaceBvh(before);
    closest(first, places)[0].forEach((distance, i) => {
      const [x, y, z] = places[i].map(Math.fround);
      expect(distance).toBeCloseTo(tree.distance(x, y, z), 5);
    });
  });
  arena.keepOnly([]);
});

describe("rays", () => {
  /** Hit, distance, place, facing and what is carried, of rays given by their beginnings and directions. */
  function cast(
    table: SurfaceTable,
    rays: readonly (readonly [readonly number[], readonly number[]])[],
    {
      behind = 0,
      most = Number.POSITIVE_INFINITY,
      bothSides = true,
      carried = [] as readonly Float32Array[],
    } = {},
  ) {
    const lane = (part: 0 | 1, axis: number) => Float32Array.from(rays, (ray) => ray[part][axis]);
    const vector = (part: 0 | 1) =>
      makeColumn(
        "vector",
        [0, 1, 2].map((axis) => lane(part, axis)),
      );
    const domain = { count: rays.length, columns: { position: vector(0), way: vector(1) } };
    const data = {
      key: "rays",
      surface: table.address,
      behind,
      most,
      bothSides,
      carried,
      kind: "number",
      lanes: table.lanes,
    };
    const way = [column("way", 0), column("way", 1), column("way", 2)];
    return runValues(applyAll("castRay", [...positionField(), ...way], data), domain).lanes;
  }
  // Places that differ by less than a float32 can tell are of no use to either.
  const even = place.map((at) => at.map((v) => Math.round(v * 256) / 256) as [number, number, number]);
  const ray = fc.tuple(
    even,
    even.filter((d) => Math.hypot(...d) > 0.01),
  );
  const soup = soupOf(even);

  it("meet what three-mesh-bvh meets, as far away, from both sides or the outside only", () => {
    const arena = new Arena();
    fc.assert(
      fc.property(
        soup,
        fc.array(ray, { minLength: 1, maxLength: 20 }),
        fc.boolean(),
        (mesh, rays, bothSides) =>
          arena.within(() => {
            const table = SurfaceTable.of(mesh) as SurfaceTable;
            const tree = new SurfaceBvh(mesh);
            const [hit, distance, x, y, z] = cast(table, rays, { bothSides });
            rays.forEach(([from, way], i) => {
              const start = from.map(Math.fround) as unknown as [number, number, number];
              const step = way.map(Math.fround) as unknown as [number, number, number];
              const wanted = tree.cast(start, step, bothSides);
              // A ray that grazes an edge may be told either way; then it is met by a hair's breadth, and moved by that it is not.
              const beside = [1e-4, -1e-4].map((off) =>
                tree.cast([start[0] + off, start[1] - off, start[2] + off], step, bothSides),
              );
              if (beside.some((other) => Math.abs((other ?? -1) - (wanted ?? -1)) > 0.05)) return;
              expect(hit[i]).toBe(wanted === null ? 0 : 1);
              expect(distance[i]).toBeCloseTo(wanted ?? 0, 2);
              const long = Math.hypot(...step);
              const at = start.map((s, a) => s + (hit[i] * distance[i] * step[a]) / long);
              [x, y, z].forEach((lane, a) => {
                expect(lane[i]).toBeCloseTo(at[a], 3);
              });
            });
            arena.keepOnly([]);
          }),
      ),
      { numRuns: 150 },
    );
  });

  it("go as the worked cases say [GEO-01, GEO-02]", () => {
    inArena(() => {
      const slanted = SurfaceTable.of(
        meshOf([
          [1, 0, 0],
          [0, 2, 0],
          [0, 0, 3],
        ]),
      ) as SurfaceTable;
      const [, far, x, y, z] = cast(slanted, [
        [
          [3, 3, 3],
          [-1, -1, -1],
        ],
      ]);
      expect(far[0]).toBeCloseTo(4.251397437, 5);
      for (const lane of [x, y, z]) expect(lane[0]).toBeCloseTo(6 / 11, 5);
      const flat = SurfaceTable.of(
        meshOf([
          [0, 0, 0],
          [1, 0, 0],
          [0, 1, 0],
        ]),
      ) as SurfaceTable;
      const met = (from: readonly number[], way: readonly number[], options = {}) => {
        const [hit, distance] = cast(flat, [[from, way]], options);
        return hit[0] === 1 ? distance[0] : null;
      };
      expect(met([0.25, 0.5, 5], [0, 0, -1])).toBeCloseTo(5, 6);
      expect(met([0.25, 0.5, 5], [0, 0, 1])).toBeNull();
      expect(met([-1, 0.2, 0], [1, 0, 0])).toBeNull();
      expect(met([0.75, 0.5, 5], [0, 0, -1])).toBeNull();
      expect(met([0.25, 0.5, 5], [0, 0, -1], { most: 4 })).toBeNull();
      // From behind, only when both sides count; without a direction, never.
      expect(met([0.25, 0.5, -5], [0, 0, 1], { bothSides: false })).toBeNull();
      expect(met([0.25, 0.5, -5], [0, 0, 1])).toBeCloseTo(5, 6);
      expect(met([0.25, 0.5, 5], [0, 0, 0])).toBeNull();
      // Begun six units before, the ray comes down on what lies behind where it is asked from.
      expect(met([0.25, 0.5, -5], [0, 0, -1], { behind: 6 })).toBeCloseTo(1, 6);
    });
  });

  it("meet a torus where the formula says [GEO-04: first hit 1.754006421, tessellated within 5e-3]", () => {
    inArena(() => {
      // The core's torus lies flat around y; the case's axis is z.
      const table = SurfaceTable.of(torusMesh(1, 0.25, 64, 24)) as SurfaceTable;
      const [, distance] = cast(table, [
        [
          [-3, 0, 0.1],
          [1, 0, 0],
        ],
      ]);
      expect(Math.abs(distance[0] - 1.754006421)).toBeLessThan(5e-3);
    });
  });

  it("do not slip out between faces: from the middle of a ball each meets it, also through corners and edges", () => {
    inArena(() => {
      const mesh = outputsOf(
        graphOf({ node: { type: "sphere", set: { build: "geodesic", detail: 3, radius: 1 } } }, []),
        "node",
      ).shape as Shape;
      const { points } = mesh.mesh as Mesh;
      const lanes = points.columns.position.lanes;
      const corners = Array.from({ length: points.count }, (_, p) => lanes.map((l) => l[p]));
      const between = corners.map((a, i) => a.map((v, axis) => v + corners[(i + 1) % corners.length][axis]));
      const ways = [...corners, ...between.filter((w) => Math.hypot(...w) > 0.1)];
      const table = SurfaceTable.of(mesh.mesh as Mesh) as SurfaceTable;
      const [hit, distance] = cast(
        table,
        ways.map((way) => [[0, 0, 0], way] as const),
      );
      expect(new Set(hit)).toEqual(new Set([1]));
      // Between the radii of the spheres that a geodesic ball lies in and around.
      for (const d of distance) expect(d > 0.9 && d < 1.0001).toBe(true);
    });
  });

  it("worked values: a shared edge, the outside only, the most that they go, no direction [GEO-03]", () => {
    inArena(() => {
      const square = makeMesh({
        position: [Float32Array.of(0, 1, 1, 0), Float32Array.of(0, 0, 1, 1), new Float32Array(4)],
        faceStarts: Int32Array.of(0, 3, 6),
        cornerPoint: Int32Array.of(0, 1, 2, 0, 2, 3),
      });
      const table = SurfaceTable.of(square) as SurfaceTable;
      const down = [0, 0, -1] as const;
      const [hit, distance, , , z, , , up, value] = cast(
        table,
        [
          [[0.5, 0.5, 1], down],
          [
            [0.25, 0.5, -5],
            [0, 0, 1],
          ],
          [
            [0.25, 0.5, 5],
            [0, 0, 0],
          ],
          [[Number.NaN, 0, 1], down],
        ],
        { carried: [Float32Array.of(0, 1, 1, 0)] },
      );
      expect([...hit]).toEqual([1, 1, 0, 0]);
      expect([...distance]).toEqual([1, 5, 0, 0]);
      expect([z[0], up[0], value[0], value[1]]).toEqual([0, 1, 0.5, 0.25]);
      expect(
        cast(
          table,
          [
            [
              [0.25, 0.5, -5],
              [0, 0, 1],
            ],
            [[0.25, 0.5, 5], down],
          ],
          { bothSides: false },
        )[0],
      ).toEqual(Float32Array.of(0, 1));
      expect([
        ...cast(
          table,
          [
            [[0.2, 0.5, 5], down],
            [[0.2, 0.5, 5], down],
          ],
          { most: 4 },
        )[0],
      ]).toEqual([0, 0]);
    });
  });
});

describe("inside", () => {
  const at = (places: readonly (readonly number[])[]) =>
    makeSites(places.length, ({ position }) => {
      places.forEach((p, i) => {
        for (let a = 0; a < 3; a++) position[a][i] = p[a];
      });
    });
  const within = (mesh: Mesh, places: readonly (readonly number[])[]) =>
    runValues([apply("within", positionField(), { key: "in", inside: new LazyInside(mesh) })], at(places))
      .lanes[0];

  it("says what counting one by one says, on triangles anywhere", () => {
    fc.assert(
      fc.property(soup, fc.array(place, { minLength: 1, maxLength: 30 }), (mesh, places) => {
        const slow = new Inside(mesh);
        const wanted = places.map((p) => {
          const [x, y, z] = p.map(Math.fround);
          return slow.contains(x, y, z) ? 1 : 0;
        });
        expect([...within(mesh, places)]).toEqual(wanted);
      }),
      { numRuns: 150 },
    );
  });

  it("distances to a ball are |p| − r, below 0 inside of it (the equation of the sphere)", () => {
    const ball = { type: "sphere", set: { radius: 1, around: 128, rings: 96 } };
    const outputs = outputsOf(
      graphOf({ ball, node: { type: "nearest", set: { to: "surface" } } }, ["ball.shape>node.shape"]),
      "node",
    );
    const places = Array.from({ length: 300 }, (_, i) => [
      Math.sin(i) * 1.5,
      Math.cos(i * 1.7),
      Math.sin(i * 0.3),
    ]);
    const signed = runValues([outputs.signed as Value], at(places)).lanes[0];
    places.forEach((p, i) => {
      expect(signed[i]).toBeCloseTo(Math.hypot(...p) - 1, 2);
    });
  });
});
