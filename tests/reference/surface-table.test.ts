/** The closest place on a surface by kernels, against three-mesh-bvh on shapes of every size, and as its points move. */
import fc from "fast-check";
import { applyAll, positionField } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { type Mesh, makeMesh } from "../../src/core/geometry/mesh";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { Arena } from "../../src/core/kernels/arena";
import { SurfaceTable } from "../../src/core/spatial/surface-table";
import { SurfaceTree } from "../../src/core/spatial/surface-tree";
import { graphOf, outputsOf } from "../run-node";

/** Distance and place of the closest for places, three lanes each. */
function closest(
  table: SurfaceTable,
  places: readonly (readonly number[])[],
  carried: readonly Float32Array[] = [],
) {
  const sites = makeSites(places.length, ({ position }) => {
    places.forEach((place, i) => {
      for (let a = 0; a < 3; a++) position[a][i] = place[a];
    });
  });
  const data = { key: "test", surface: table.address, carried, kind: "number", lanes: table.lanes };
  return runValues(applyAll("closest", positionField(), data), sites).lanes;
}

const coordinate = fc.double({ min: -3, max: 3, noNaN: true, noDefaultInfinity: true });
const place = fc.tuple(coordinate, coordinate, coordinate);

/** Triangles anywhere, some without area. */
const soup = fc
  .array(fc.tuple(place, place, place, fc.nat(9)), { minLength: 1, maxLength: 90 })
  .map((list): Mesh => {
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

it("finds as near a place as three-mesh-bvh does, on triangles anywhere", () => {
  const arena = new Arena();
  fc.assert(
    fc.property(soup, fc.array(place, { minLength: 1, maxLength: 20 }), (mesh, places) =>
      arena.within(() => {
        const table = SurfaceTable.of(mesh) as SurfaceTable;
        const tree = SurfaceTree.of(mesh) as SurfaceTree;
        const [distance, x, y, z] = closest(table, places);
        places.forEach((at, i) => {
          const [px, py, pz] = at.map(Math.fround);
          const wanted = tree.closest(px, py, pz)?.distance as number;
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
    const tree = SurfaceTree.of(before) as SurfaceTree;
    closest(first, places)[0].forEach((distance, i) => {
      const [x, y, z] = places[i].map(Math.fround);
      expect(distance).toBeCloseTo(tree.closest(x, y, z)?.distance as number, 5);
    });
  });
  arena.keepOnly([]);
});
