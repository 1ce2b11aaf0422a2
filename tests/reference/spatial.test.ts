/** Neighbours, closest places and rays against trying everything, and against worked values. */
import fc from "fast-check";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { Arena, floatsInMemory } from "../../src/core/kernels/arena";
import { hash3, unit24 } from "../../src/core/maths/random";
import type { Setting } from "../../src/core/nodes/ports";
import { PointGrid } from "../../src/core/spatial/point-grid";
import { graphOf } from "../run-node";

type Lanes = Float32Array[];

/** Globals are slow to reach in Jest. */
const { fround } = Math;

/** Squared distance as float32 adds it up, so that ties are the grid's ties. */
function squared(points: Lanes, i: number, places: Lanes, j: number): number {
  const [x, y, z] = points.map((lane, a) => fround(lane[i] - places[a][j]));
  return fround(fround(fround(x * x) + fround(y * y)) + fround(z * z));
}

function bruteForce(points: Lanes, places: Lanes, j: number, own: boolean): { i: number; d: number }[] {
  return Array.from({ length: points[0].length }, (_, i) => ({ i, d: squared(points, i, places, j) }))
    .filter(({ i }) => !own || i !== j)
    .sort((a, b) => a.d - b.d || a.i - b.i);
}

const chance = (count: number, seed: number, size = 1): Lanes =>
  [0, 1, 2].map((axis) =>
    Float32Array.from({ length: count }, (_, i) => unit24(hash3(seed, i, axis)) * size),
  );

const arena = new Arena();
const gridOf = (points: Lanes): PointGrid => arena.within(() => new PointGrid(points));

describe("point grid", () => {
  it("finds the 8 nearest and all within 0.1 as brute force does [SAM-15]", () => {
    const points = chance(1000, 1);
    const places = chance(200, 2);
    const grid = gridOf(points);
    const nearest = grid.nearest(places, { k: 8 });
    const within = grid.within(places, 0.1);
    for (let j = 0; j < 200; j++) {
      const expected = bruteForce(points, places, j, false);
      expect([...nearest.numbers.subarray(j * 8, j * 8 + 8)]).toEqual(expected.slice(0, 8).map(({ i }) => i));
      nearest.distances
        .subarray(j * 8, j * 8 + 8)
        .forEach((d, k) => expect(d).toBeCloseTo(Math.sqrt(expected[k].d), 6));
      const near = [...within.numbers.subarray(within.starts[j], within.starts[j + 1])].sort((a, b) => a - b);
      const limit = fround(fround(0.1) * fround(0.1));
      const all = expected.filter(({ d }) => d <= limit).map(({ i }) => i);
      expect(near).toEqual(all.sort((a, b) => a - b));
    }
  });

  it("is right for any points: clusters, planes, lines, equal ones, far places, too few", () => {
    const coordinate = fc.oneof(
      fc.constantFrom(0, 0.5, 1, -1),
      fc.float({ min: -100, max: 100, noNaN: true }),
      fc.float({ min: fround(0.001), max: fround(0.002), noNaN: true }),
    );
    const list = fc.array(fc.tuple(coordinate, coordinate, coordinate), { minLength: 1, maxLength: 60 });
    const lanes = (rows: readonly (readonly number[])[]): Lanes =>
      [0, 1, 2].map((a) => Float32Array.from(rows, (row) => row[a]));
    fc.assert(
      fc.property(list, (given) => {
        const points = lanes(given);
        const found = arena.within(() => new PointGrid(points).ownDistances());
        for (let j = 0; j < given.length; j++) {
          const [nearest] = bruteForce(points, points, j, true);
          expect(found[j]).toBe(nearest ? fround(Math.sqrt(nearest.d)) : Number.POSITIVE_INFINITY);
        }
      }),
      { numRuns: 300 },
    );
    fc.assert(
      fc.property(list, list, fc.integer({ min: 1, max: 5 }), fc.boolean(), (given, asked, k, own) => {
        const points = lanes(given);
        const places = own ? points : lanes(asked);
        const found = gridOf(points).nearest(places, { k, own });
        for (let j = 0; j < places[0].length; j++) {
          const expected = bruteForce(points, places, j, own).slice(0, k);
          for (let n = 0; n < k; n++) {
            expect(found.numbers[j * k + n]).toBe(expected[n]?.i ?? -1);
            if (!expected[n]) expect(found.distances[j * k + n]).toBe(Number.POSITIVE_INFINITY);
          }
        }
      }),
      { numRuns: 300 },
    );
  });

  it("tells the way to the nearest of many: in a cube, flat, along a line, in knots, with some that are nowhere", () => {
    const clouds: Record<string, Lanes> = {
      cube: chance(2003, 21),
      flat: chance(1500, 22).map((lane, a) => (a === 1 ? lane.fill(0.25) : lane)),
      line: chance(700, 23).map((lane, a) => (a === 2 ? lane : lane.fill(a))),
      knots: chance(1200, 24).map((lane) => lane.map((v, i) => v * 0.001 + ((i * 7) % 5))),
      nowhere: chance(900, 25).map((lane, a) =>
        lane.map((v, i) => (i % 50 === a ? Number.NaN : i % 77 === 0 ? Number.POSITIVE_INFINITY : v)),
      ),
    };
    for (const [name, points] of Object.entries(clouds)) {
      const found = arena.within(() => new PointGrid(points).ownDistances());
      const count = points[0].length;
      const [x, y, z] = points;
      const expected = new Float32Array(count);
      for (let j = 0; j < count; j++) {
        let least = Number.POSITIVE_INFINITY;
        for (let i = 0; i < count; i++) {
          if (i === j) continue;
          const dx = fround(x[i] - x[j]);
          const dy = fround(y[i] - y[j]);
          const dz = fround(z[i] - z[j]);
          const d = fround(fround(fround(dx * dx) + fround(dy * dy)) + fround(dz * dz));
          if (d < least) least = d;
        }
        expected[j] = Math.sqrt(least);
      }
      expect([name, ...found]).toEqual([name, ...expected]);
    }
  });

  it("pushes those that overlap apart by their shares, as going through all pairs does", () => {
    const count = 300;
    const points = chance(count, 5);
    const room = Float32Array.from({ length: count }, (_, i) => 0.02 + 0.06 * unit24(hash3(9, i, 0)));
    const held = Float32Array.from({ length: count }, (_, i) => (i % 7 === 0 ? 1 : (i % 3) * 0.25));
    const expected = points.map((lane) => Float64Array.from(lane));
    let overlapping = 0;
    for (let i = 0; i < count; i++)
      for (let j = 0; j < count; j++) {
        const [dx, dy, dz] = points.map((lane) => lane[i] - lane[j]);
        const far = Math.hypot(dx, dy, dz);
        const [apart, share] = [room[i] + room[j], 2 - held[i] - held[j]];
        if (i === j || far >= apart || share <= 0) continue;
        overlapping++;
        // What is missing between them, shared out by how little each is held; half of it (the strength).
        const by = (0.5 * (apart - far) * (1 - held[i])) / share / far;
        [dx, dy, dz].forEach((d, a) => {
          expected[a][i] += d * by;
        });
      }
    const moved = arena.within(() => points.map(() => floatsInMemory(count)));
    moved.forEach((lane, a) => lane.set(points[a]));
    const found = arena.within(() => new PointGrid(points).push(moved, room, held, Math.max(...room), 0.5));
    expect(found).toBe(overlapping);
    expect(overlapping).toBeGreaterThan(100);
    for (let a = 0; a < 3; a++)
      for (let i = 0; i < count; i++) expect(moved[a][i]).toBeCloseTo(expected[a][i], 5);
  });

  it("leaves out what is too far, and places that are nowhere", () => {
    const grid = gridOf(chance(100, 3));
    const places = [Float32Array.of(50, Number.NaN), Float32Array.of(0, 0), Float32Array.of(0, 0)];
    expect([...grid.nearest(places, { most: 1 }).numbers]).toEqual([-1, -1]);
    expect(grid.nearest(places).numbers[0]).toBeGreaterThanOrEqual(0);
    expect([...grid.within(places, 1).starts]).toEqual([0, 0, 0]);
  });
});

describe("nearest, the node", () => {
  const around = (set: Record<string, Setting>, extra: readonly string[] = []) =>
    graphOf(
      {
        grid: { type: "grid-sites", set: { across: 5, deep: 5, spacing: [2, 1, 2] } },
        near: { type: "nearest", set },
        keep: { type: "store-attribute", set: { name: "gap" } },
        stage: { type: "stage" },
      },
      ["near.distance>keep.number", "grid.sites>keep.shape", "keep.shape>stage.shape", ...extra],
    );
  const gaps = (document: ReturnType<typeof graphOf>, evaluator = new Evaluator(), frame = 0) => {
    const { shape, report } = evaluator.evaluate(document, frame);
    return { gap: [...(shape?.sites?.columns.gap?.lanes[0] ?? [])], report };
  };

  it("gives the spacing of a grid to its neighbours, and the diagonal to the third of a corner", () => {
    const document = around({ own: true }, ["grid.sites>near.shape"]);
    expect(gaps(document).gap).toEqual(new Array(25).fill(2));
    const third = around({ own: true, nth: 3 }, ["grid.sites>near.shape"]);
    expect(gaps(third).gap[0]).toBeCloseTo(2 * Math.SQRT2, 5);
  });

  it("says when nothing or too little arrives, and goes on", () => {
    const { gap, report } = gaps(around({}));
    expect(gap).toEqual(new Array(25).fill(0));
    expect(report.nodes.near.problems[0].what).toContain("No sites or points arrive");
    const few = gaps(around({ own: true, nth: 40 }, ["grid.sites>near.shape"]));
    expect(few.report.nodes.near.problems[0].what).toContain("only 24");
  });

  it("keeps its structures as long as they are used, frame after frame", () => {
    const document = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 12, deep: 12 } },
        ball: { type: "sphere" },
        hills: { type: "noise", set: { speed: 2 } },
        wobble: { type: "move" },
        lift: { type: "move" },
        near: { type: "nearest", set: { own: true } },
        surface: { type: "nearest", set: { to: "surface" } },
        one: { type: "scale" },
        two: { type: "scale" },
        stage: { type: "stage" },
      },
      [
        "ball.shape>wobble.shape",
        "hills.vector>wobble.by",
        "wobble.shape>surface.shape",
        "grid.sites>lift.shape",
        "hills.value>lift.amount",
        "lift.shape>near.shape",
        "lift.shape>one.shape",
        "near.distance>one.size",
        "one.shape>two.shape",
        "surface.distance>two.size",
        "two.shape>stage.shape",
      ],
    );
    const going = new Evaluator();
    for (let frame = 0; frame < 30; frame++) {
      const { shape, report } = going.evaluate(document, frame, { inspect: true });
      expect(report.complete).toBe(true);
      const alone = new Evaluator().evaluate(document, frame).shape;
      expect(shape?.sites?.columns.scale.lanes[0]).toEqual(alone?.sites?.columns.scale.lanes[0]);
    }
  });
});
