/** Ground that erodes: what there is stays [conservation of mass], nothing is steeper than it may be, and what is poured piles up as a cone. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { planeMesh } from "../../src/core/geometry/primitives";
import { topologyOf } from "../../src/core/geometry/topology";
import {
  type ErosionSettings,
  erodedOnce,
  type Ground,
  groundOf,
  layersOf,
  runsOf,
} from "../../src/core/growth/erosion";
import { hash3, unit24 } from "../../src/core/maths/random";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const SIDE = 32;
const MESH = planeMesh(SIDE - 1, SIDE - 1, SIDE - 1, SIDE - 1);
const BESIDE = topologyOf(MESH).pointsOfPoints;
const RUNS = runsOf(BESIDE, MESH.points.columns.position.lanes);
const even = (v: number) => new Float32Array(SIDE * SIDE).fill(v);
const SETTINGS: ErosionSettings = {
  rain: even(0),
  pour: even(0),
  carry: 2,
  take: 0.3,
  settle: 0.3,
  dry: 0.02,
  steepest: 1e9,
  slump: 0.5,
};
const rough = (high: number) =>
  Float32Array.from({ length: SIDE * SIDE }, (_, i) => unit24(hash3(9, i, 0)) * high);
const later = (height: Float32Array, set: Partial<ErosionSettings>, rounds: number): Ground => {
  let ground = groundOf(height, even(0), even(0));
  for (let r = 0; r < rounds; r++) ground = erodedOnce(ground, BESIDE, RUNS, { ...SETTINGS, ...set });
  return ground;
};
const sum = (lane: ArrayLike<number>) =>
  Array.prototype.reduce.call(lane, (a, b) => (a as number) + (b as number), 0) as number;

describe("weather", () => {
  it("moves material and neither makes nor loses any", () => {
    const before = rough(1.5);
    const [height, , sediment] = layersOf(later(before, { rain: even(0.01), steepest: 0.8 }, 80));
    expect((sum(height) + sum(sediment)) / sum(before)).toBeCloseTo(1, 4);
    expect(height.some((h, i) => Math.abs(h - before[i]) > 0.1)).toBe(true);
  });

  it("leaves nothing steeper than it may be, given time", () => {
    const [height] = layersOf(later(rough(6), { steepest: 0.7 }, 1500));
    let most = 0;
    for (let i = 0; i < height.length; i++)
      for (let k = BESIDE.starts[i]; k < BESIDE.starts[i + 1]; k++)
        most = Math.max(most, (height[i] - height[BESIDE.items[k]]) / RUNS[k]);
    expect(most).toBeLessThan(0.72);
  });

  it("leaves a level ground level, whatever rains on it", () => {
    const [height] = layersOf(later(even(1), { rain: even(0.02) }, 50));
    for (const h of height) expect(h).toBeCloseTo(1, 5);
  });

  it("gathers water in a valley, and carries material from its upper half to its lower one", () => {
    const valley = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
      const [x, z] = [(i % SIDE) - 15.5, Math.floor(i / SIDE)];
      return z * 0.3 + Math.abs(x) * 0.15;
    });
    const [height, water] = layersOf(later(valley, { rain: even(0.01), carry: 4 }, 120));
    const at = (x: number, z: number) => z * SIDE + x;
    expect(water[at(15, 12)]).toBeGreaterThan(water[at(3, 12)]);
    const half = SIDE * (SIDE / 2);
    expect(sum(height.slice(half))).toBeLessThan(sum(valley.slice(half)) - 1);
    expect(sum(height.slice(0, half))).toBeGreaterThan(sum(valley.slice(0, half)) + 1);
  });
});

describe("the node", () => {
  const erode = (set: Record<string, Setting> = {}): NodeSpec => ({ type: "erode-and-pile", set });
  const GROUND: NodeSpec = { type: "plane", set: { width: 4, depth: 4, across: 40, deep: 40 } };
  const at = (frame: number, evaluator = new Evaluator()) =>
    evaluator.evaluate(
      graphOf(
        {
          ground: GROUND,
          spout: { type: "falloff", set: { inner: 0.05, outer: 0.2 } },
          it: erode({ rain: 0, steepest: 35, slump: 1, rounds: 20 }),
          stage: { type: "stage" },
        },
        ["ground.shape>it.shape", "spout.value>it.pour", "it.shape>stage.shape"],
      ),
      frame,
    ).shape?.mesh?.points.columns.position.lanes ?? [[], [], []];

  it("piles a cone whose sides are as steep as they may be", () => {
    const [x, y, z] = at(40);
    const top = Math.max(...y);
    expect(top).toBeGreaterThan(0.1);
    const far = [...x.keys()].filter((p) => y[p] > top * 0.1 && Math.hypot(x[p], z[p]) > 0.25);
    // Along the axes sides are at the angle of repose; between them no steeper along the edges.
    for (const p of far) expect(y[p]).toBeLessThan(top * 1.001);
    const foot = Math.max(...[...x.keys()].filter((p) => y[p] > 1e-3).map((p) => Math.abs(x[p])));
    expect(top / foot).toBeLessThan(Math.tan((35 * Math.PI) / 180) * 1.3);
    expect(top / foot).toBeGreaterThan(Math.tan((35 * Math.PI) / 180) * 0.5);
  });

  it("is the same at a frame however one comes there, and says so when nothing arrives", () => {
    const played = new Evaluator();
    for (const frame of [0, 5, 9]) at(frame, played);
    expect(at(12, played)).toEqual(at(12));
    expect(reportOf(graphOf({ it: erode() }), "it").problems[0].what).toContain("no ground");
  });
});
