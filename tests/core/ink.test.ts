/** Ink that spreads: nothing lost, widening as diffusion has it, blots that end where they are held, running down. */
import { makeColumn, withColumns } from "../../src/core/geometry/column";
import { makeCurve } from "../../src/core/geometry/curves";
import { meshArea, pointAreas } from "../../src/core/geometry/measure";
import { type Mesh, pointLanes, withPoints } from "../../src/core/geometry/mesh";
import { geodesicMesh, planeMesh } from "../../src/core/geometry/primitives";
import type { Shape } from "../../src/core/geometry/shape";
import { type InkSettings, inkLater, inkOf, layersOfInk, type Ways, waysOf } from "../../src/core/growth/ink";
import { Arena } from "../../src/core/kernels/arena";
import { hash3, unit24 } from "../../src/core/maths/random";
import { graphOf, type NodeSpec, outputsOf } from "../run-node";

const inArena = (work: () => void) => () => new Arena().within(work);
const even = (count: number, value: number) => new Float32Array(count).fill(value);

const settingsFor = (count: number, more: Partial<InkSettings>): InkSettings => ({
  pour: even(count, 0),
  draw: even(count, 1),
  spread: 0.01,
  hold: 0,
  run: 0,
  dry: 0,
  ...more,
});

/** What a drop of so much height in one element has become. */
function drop(
  ways: Ways,
  at: number,
  height: number,
  more: Partial<InkSettings>,
  seconds: number,
  frames = 1,
) {
  const count = ways.areas.length;
  const wet = even(count, 0);
  wet[at] = height;
  let ink = inkOf(wet, even(count, 0));
  for (let frame = 0; frame < frames; frame++)
    ink = inkLater(ink, ways, settingsFor(count, more), seconds / frames);
  return layersOfInk(ink);
}

const amount = ({ areas }: Ways, lane: Float32Array) => lane.reduce((sum, v, i) => sum + v * areas[i], 0);
const meanOf = ({ areas }: Ways, lane: Float32Array, of: (i: number) => number) =>
  lane.reduce((sum, v, i) => sum + v * areas[i] * of(i), 0) / amount({ areas } as Ways, lane);

const must = (shape: Shape): Ways => {
  const ways = waysOf(shape);
  if (!ways) throw new Error("There are no ways.");
  return ways;
};

const placed = (mesh: Mesh, lanes: Float32Array[]): Mesh =>
  withPoints(mesh, withColumns(mesh.points, { position: makeColumn("vector", lanes) }));

/** A plane of 61 × 61 points, 3 units wide, and the number of its middle. */
const SIDE = 61;
const plane = (upright = false) => {
  const mesh = planeMesh(3, 3, SIDE - 1, SIDE - 1);
  const [x, , z] = pointLanes(mesh);
  return upright ? placed(mesh, [x, Float32Array.from(z), new Float32Array(x.length)]) : mesh;
};
const MIDDLE = (SIDE * SIDE - 1) / 2;

describe("nothing is lost", () => {
  it(
    "areas of points sum to the area of the mesh",
    inArena(() => {
      const mesh = geodesicMesh(1, 6);
      expect(pointAreas(mesh).reduce((a, b) => a + b, 0)).toBeCloseTo(meshArea(mesh), 4);
    }),
  );

  it(
    "on points that lie unevenly, wet and dried together stay as much; what is poured comes to it",
    inArena(() => {
      const even3 = geodesicMesh(1, 3);
      const shaken = placed(
        even3,
        pointLanes(even3).map((lane, d) =>
          Float32Array.from(lane, (v, i) => v + 0.05 * unit24(hash3(7, i, d))),
        ),
      );
      const ways = must({ mesh: shaken });
      const [wet, stain] = drop(ways, 3, 5, { run: 0.2, dry: 0.7, hold: 0.05 }, 2, 20);
      expect(amount(ways, wet) + amount(ways, stain)).toBeCloseTo(5 * ways.areas[3], 5);
      expect(Math.min(...wet)).toBeGreaterThanOrEqual(0);
      const poured = drop(ways, 3, 0, { pour: even(ways.areas.length, 0.25) }, 2, 10);
      expect(amount(ways, poured[0])).toBeCloseTo(0.5 * meshArea(shaken), 3);
    }),
  );

  it(
    "what dries in t seconds is 1 − e^(−t × rate) of it",
    inArena(() => {
      const [wet, stain] = drop(must({ mesh: plane() }), MIDDLE, 1, { spread: 0, dry: 0.8 }, 1.5, 5);
      expect(stain[MIDDLE]).toBeCloseTo(0.69880578809, 5);
      expect(wet[MIDDLE]).toBeCloseTo(0.30119421191, 5);
    }),
  );
});

describe("it widens as diffusion does", () => {
  // GRO-01, and A. Einstein, 1905: the mean square of the way is 2 D t along a line and 4 D t over a surface.
  it(
    "along a line",
    inArena(() => {
      const ways = must({ curves: makeCurve(401, false, (i) => [(i - 200) * 0.01, 0, 0]) });
      const [wet] = drop(ways, 200, 1, { spread: 0.01 }, 2, 20);
      expect(meanOf(ways, wet, (i) => ((i - 200) * 0.01) ** 2)).toBeCloseTo(0.04, 4);
    }),
  );

  it(
    "over a surface, and less through what draws less",
    inArena(() => {
      const mesh = plane();
      const ways = must({ mesh });
      const [x, , z] = pointLanes(mesh);
      const square = (i: number) => x[i] ** 2 + z[i] ** 2;
      const [wet] = drop(ways, MIDDLE, 1, { spread: 0.02 }, 1, 4);
      expect(meanOf(ways, wet, square)).toBeCloseTo(0.08, 4);
      const [half] = drop(ways, MIDDLE, 1, { spread: 0.02, draw: even(x.length, 0.5) }, 1, 4);
      expect(meanOf(ways, half, square)).toBeCloseTo(0.04, 4);
    }),
  );
});

it(
  "a blot ends where nothing stands above the hold: its area is the ink over the hold",
  inArena(() => {
    const ways = must({ mesh: plane() });
    const height = 400;
    const [wet] = drop(ways, MIDDLE, height, { spread: 0.3, hold: 0.5 }, 30, 100);
    const reached = wet.reduce((sum, v, i) => sum + (v > 0 ? ways.areas[i] : 0), 0);
    const wanted = (height * ways.areas[MIDDLE]) / 0.5;
    // The last ring of elements is only partly full.
    expect(reached / wanted).toBeGreaterThan(0.97);
    expect(reached / wanted).toBeLessThan(1.2);
    expect(Math.max(...wet)).toBeLessThan(0.51);
  }),
);

it(
  "on what stands upright it runs down as far as is said",
  inArena(() => {
    const mesh = plane(true);
    const ways = must({ mesh });
    const [, y] = pointLanes(mesh);
    const [wet] = drop(ways, MIDDLE, 1, { spread: 0, run: 0.4 }, 1, 5);
    expect(meanOf(ways, wet, (i) => y[i]) - y[MIDDLE]).toBeCloseTo(-0.4, 3);
  }),
);

describe("the node", () => {
  const NODES: Record<string, NodeSpec> = {
    sheet: { type: "plane", set: { width: 3, depth: 3, across: 30, deep: 30 } },
    blot: { type: "falloff", set: { inner: 0.3, outer: 0.5 } },
    ink: { type: "ink", set: { spread: 0.05, dry: 0 } },
  };
  const LINKS = ["sheet.shape>ink.shape", "blot.value>ink.start"];

  it("gives how dark it is, more widely later", () => {
    const document = graphOf(NODES, LINKS);
    const reached = (frame: number) => {
      const { shape } = outputsOf(document, "ink", frame) as { shape: Shape };
      const [ink] = shape.mesh?.points.columns.ink.lanes ?? [];
      expect(Math.max(...(ink as Float32Array))).toBeLessThanOrEqual(1);
      return Array.from(ink as Float32Array).filter((v) => v > 0.01).length;
    };
    const [first, later] = [reached(0), reached(24)];
    expect(first).toBeGreaterThan(0);
    expect(later).toBeGreaterThan(first * 1.5);
  });

  it("has nothing to do where nothing arrives", () => {
    expect(outputsOf(graphOf({ ink: NODES.ink }), "ink", 3).shape).toBeDefined();
  });
});
