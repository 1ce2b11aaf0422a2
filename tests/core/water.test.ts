/** Water by the wave equation: how fast waves go, how they swing in a basin, and what is kept. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { makeColumn } from "../../src/core/geometry/column";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Setting } from "../../src/core/nodes/ports";
import {
  heightsOf,
  steppedWater,
  stillWater,
  type Water,
  type WaterGrid,
} from "../../src/core/simulate/water";
import { graphOf, type NodeSpec } from "../run-node";

const GRID: WaterGrid = { across: 101, deep: 41, step: [0.1, 0.1] };
const NOTHING = new Float32Array(GRID.across * GRID.deep);
const SETTINGS = { speed: 2, damping: 0, push: NOTHING, wet: null };

/** Water that stands as high as a function of the place says. */
const waterOf = (height: (x: number, z: number) => number): Water => {
  const still = stillWater(GRID);
  const lane = Float32Array.from(NOTHING, (_, at) =>
    height((at % GRID.across) * 0.1, Math.floor(at / GRID.across) * 0.1),
  );
  return {
    domains: {
      points: {
        ...still.domains.points,
        columns: { ...still.domains.points.columns, height: makeColumn("number", [lane]) },
      },
    },
  };
};

const later = (water: Water, frames: number, settings: Partial<typeof SETTINGS> = {}): Water => {
  let made = water;
  for (let f = 0; f < frames; f++) made = steppedWater(made, GRID, { ...SETTINGS, ...settings }, 0.04);
  return made;
};
const sum = (lane: Float32Array) => lane.reduce((a, b) => a + b, 0);

describe("waves", () => {
  // A basin of length L swings with period 2 L ÷ c (its first mode, cos(π x ÷ L)); walls stand half a cell outside of the points.
  it("swing in a basin as often as its length says", () => {
    const length = 10.1;
    const swinging = waterOf((x) => 0.2 * Math.cos((Math.PI * (x + 0.05)) / length));
    const period = (2 * length) / 2;
    const whole = heightsOf(later(swinging, Math.round(period / 0.04)));
    const half = heightsOf(later(swinging, Math.round(period / 0.08)));
    expect(whole[0]).toBeCloseTo(0.2, 2);
    expect(half[0]).toBeCloseTo(-0.2, 2);
  });

  it("go out from where they begin as fast as they are said to", () => {
    const hump = waterOf((x) => Math.exp(-(((x - 5) / 0.4) ** 2)));
    // A ridge falls apart into two halves that go both ways (d'Alembert).
    const lane = heightsOf(later(hump, 50));
    const row = lane.subarray(20 * GRID.across, 21 * GRID.across);
    const crest = row.lastIndexOf(Math.max(...row.subarray(51)));
    expect(crest * 0.1 - 5).toBeCloseTo(2 * 50 * 0.04, 0.9);
    expect(row[crest]).toBeCloseTo(0.5, 1);
    expect(row[100 - crest]).toBeCloseTo(row[crest], 4);
  });

  it("keep the water, and lose height only where they are damped", () => {
    const hump = waterOf((x, z) => Math.exp(-((x - 3) ** 2) - (z - 2) ** 2));
    const before = sum(heightsOf(hump));
    expect(sum(heightsOf(later(hump, 60))) / before).toBeCloseTo(1, 3);
    const most = (water: Water) => Math.max(...heightsOf(water));
    expect(most(later(hump, 60, { damping: 2 }))).toBeLessThan(most(later(hump, 60)));
  });

  it("stay finite however fast they are said to go", () => {
    const lane = heightsOf(
      later(
        waterOf((x) => (x < 1 ? 1 : 0)),
        30,
        { speed: 1e4 },
      ),
    );
    expect(lane.every((h) => Math.abs(h) < 2)).toBe(true);
  });

  it("are thrown back by a shore and leave what is dry still", () => {
    const wet = Float32Array.from(NOTHING, (_, at) => (at % GRID.across < 60 ? 1 : 0));
    let made = waterOf((x) => (x < 1 ? 0.3 : 0));
    const before = sum(heightsOf(made));
    for (let f = 0; f < 120; f++) made = steppedWater(made, GRID, { ...SETTINGS, wet: wet as never }, 0.04);
    const lane = heightsOf(made);
    expect(lane.filter((_, at) => at % GRID.across >= 60).every((h) => h === 0)).toBe(true);
    expect(sum(lane) / before).toBeCloseTo(1, 3);
  });
});

describe("the node", () => {
  const pond = (set: Record<string, Setting>, extra: Record<string, NodeSpec> = {}, links: string[] = []) =>
    graphOf({ it: { type: "water", set: { cells: 40, ...set } }, stage: { type: "stage" }, ...extra }, [
      "it.shape>stage.shape",
      ...links,
    ]);
  const meshAt = (document: ReturnType<typeof pond>, frame: number, evaluator = new Evaluator()): Mesh => {
    const { shape } = evaluator.evaluate(document, frame);
    if (!shape?.mesh) throw new Error("There is no water.");
    return shape.mesh;
  };

  it("is pressed down where something touches it, and not where that hangs above it", () => {
    const touching = (y: number) =>
      pond({}, { row: { type: "row-sites", set: { count: 2, from: [1.2, y, 0.6], to: [9, 9, 9] } } }, [
        "row.sites>it.by",
      ]);
    const [pressed, above] = [0, 1].map((y) => meshAt(touching(y), 6).points.columns);
    const lowest = pressed.height.lanes[0].indexOf(Math.min(...pressed.height.lanes[0]));
    expect([0, 2].map((a) => pressed.position.lanes[a][lowest])).toEqual(
      [1.2, 0.6].map((v) => expect.closeTo(v, 0.5)),
    );
    expect(Math.min(...pressed.height.lanes[0])).toBeLessThan(-0.01);
    expect([...above.height.lanes[0]].every((h) => h === 0)).toBe(true);
  });

  it("keeps its faces from frame to frame, and is the same however one got there", () => {
    const document = pond(
      {},
      { row: { type: "row-sites", set: { count: 2, from: [0, 0, 0], to: [9, 9, 9] } } },
      ["row.sites>it.by"],
    );
    const evaluator = new Evaluator();
    const [first, then] = [4, 12].map((frame) => meshAt(document, frame, evaluator));
    expect(then.cornerPoint).toBe(first.cornerPoint);
    const again = meshAt(document, 4, evaluator);
    expect([...again.points.columns.height.lanes[0]]).toEqual([
      ...meshAt(document, 4).points.columns.height.lanes[0],
    ]);
  });
});
