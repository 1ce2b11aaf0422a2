/** Reaction and diffusion: spreading [GRO-01, GRO-02], steady states [GRO-03, GrayScott84, Pearson93], and patterns that grow. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { makeCurve } from "../../src/core/geometry/curves";
import { planeMesh } from "../../src/core/geometry/primitives";
import { type Incidence, topologyOf } from "../../src/core/geometry/topology";
import { neighboursOf } from "../../src/core/growth/element-neighbours";
import { type Reaction, reacted, seeded, substancesOf } from "../../src/core/growth/reaction";
import { Arena } from "../../src/core/kernels/arena";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const inArena = (work: () => void) => () => new Arena().within(work);
const even = (count: number, value: number) => new Float32Array(count).fill(value);

const later = (before: Reaction, beside: Incidence, feed: number, kill: number, steps: number, size = 1) => {
  const { count } = before.domains.elements;
  return reacted(before, beside, { feed: even(count, feed), kill: even(count, kill), size }, steps);
};

/** Points in a row, far from whose ends nothing is felt of them. */
const ROW = neighboursOf({
  curves: makeCurve(401, false, (i) => [i, 0, 0]),
}) as Incidence;

describe("spreading", () => {
  // GRO-01: each step adds 2 r to the variance of what began in one place; here r = 0.4 ÷ 2 for each of two neighbours.
  it(
    "keeps what there is, and widens it by as much each step",
    inArena(() => {
      const seeds = new Float32Array(401);
      seeds[200] = 1;
      // What feeds dies of nothing and finds nothing: food is 0 from the start where it would be eaten.
      const start = seeded(seeds);
      const [, eater] = substancesOf(start);
      const bare: Reaction = {
        domains: {
          elements: {
            count: 401,
            columns: {
              food: { kind: "number", lanes: [even(401, 0)] },
              eater: { kind: "number", lanes: [eater] },
            },
          },
        },
      };
      const [, spread] = substancesOf(later(bare, ROW, 0, 0, 100));
      const sum = spread.reduce((a, b) => a + b, 0);
      const variance = spread.reduce((a, v, i) => a + v * (i - 200) ** 2, 0) / sum;
      expect(sum).toBeCloseTo(0.5, 5);
      expect(variance).toBeCloseTo(40, 3);
      expect(spread[200] / sum).toBeCloseTo(0.06303920091, 5);
    }),
  );
});

describe("steady states", () => {
  // GRO-03: u = ½ (1 ± √(1 − 4 (F + k)² ÷ F)), v = F (1 − u) ÷ (F + k).
  it.each([
    [0.06, 0.06, 0.4, 0.3],
    [0.06, 0.06, 0.6, 0.2],
    [0.04, 0.06, 0.5, 0.2],
    [0.03, 0.06, 1, 0],
  ])("F %d, k %d stays at %d, %d", (feed, kill, food, eater) =>
    new Arena().within(() => {
      const still: Reaction = {
        domains: {
          elements: {
            count: 401,
            columns: {
              food: { kind: "number", lanes: [even(401, food)] },
              eater: { kind: "number", lanes: [even(401, eater)] },
            },
          },
        },
      };
      const [a, b] = substancesOf(later(still, ROW, feed, kill, 1));
      expect([a[200], b[200]]).toEqual([expect.closeTo(food, 6), expect.closeTo(eater, 6)]);
    }),
  );
});

describe("patterns", () => {
  const mesh = planeMesh(1, 1, 63, 63);
  const beside = topologyOf(mesh).pointsOfPoints;
  const blot = Float32Array.from({ length: 64 * 64 }, (_, i) =>
    Math.hypot((i % 64) - 31.5, Math.floor(i / 64) - 31.5) < 4 ? 1 : 0,
  );

  it(
    "spread from where they begin, and stay the mirror image of themselves",
    inArena(() => {
      const covered = (steps: number) => {
        const [, eater] = substancesOf(later(seeded(blot), beside, 0.03, 0.062, steps));
        for (let i = 0; i < 64 * 64; i++)
          expect(Math.abs(eater[i] - eater[i - (i % 64) + 63 - (i % 64)])).toBeLessThan(1e-4);
        return eater.filter((v) => v > 0.15).length;
      };
      const [early, late] = [covered(100), covered(1200)];
      expect(late).toBeGreaterThan(early * 2);
    }),
  );

  it(
    "are the same where four are done at once as where each asks its neighbours",
    inArena(() => {
      // The same neighbours, each named twice: the same means, and no lattice to be seen.
      const twice: Incidence = {
        starts: beside.starts.map((s) => 2 * s),
        items: Int32Array.from({ length: beside.items.length * 2 }, (_, k) => {
          const i = beside.starts.findIndex((s) => 2 * s > k) - 1;
          const own = beside.starts[i + 1] - beside.starts[i];
          return beside.items[beside.starts[i] + ((k - 2 * beside.starts[i]) % own)];
        }),
      };
      const [, quick] = substancesOf(later(seeded(blot), beside, 0.03, 0.062, 60));
      const [, slow] = substancesOf(later(seeded(blot), twice, 0.03, 0.062, 60));
      for (let i = 0; i < 64 * 64; i++) expect(Math.abs(quick[i] - slow[i])).toBeLessThan(1e-5);
      expect(Math.max(...quick)).toBeGreaterThan(0.2);
    }),
  );

  it(
    "are wider when they are asked to be",
    inArena(() => {
      // Ways from dark to light along the rows: half as many where everything is twice as wide.
      const changes = (size: number) => {
        const blots = Float32Array.from({ length: 64 * 64 }, (_, i) =>
          (i % 64) % 21 < 8 && Math.floor(i / 64) % 19 < 8 ? 1 : 0,
        );
        const [, eater] = substancesOf(later(seeded(blots), beside, 0.029, 0.057, 1500, size));
        return eater.filter((v, i) => i % 64 > 0 && v > 0.15 !== eater[i - 1] > 0.15).length;
      };
      expect(changes(1) / changes(2)).toBeGreaterThan(1.5);
    }),
  );
});

describe("the node", () => {
  const spots = (set: Record<string, Setting> = {}): NodeSpec => ({
    type: "spots-and-stripes",
    set: { steps: 6, ...set },
  });
  const BALL: NodeSpec = { type: "sphere", set: { build: "geodesic", detail: 3 } };

  it("is the same at a frame however one comes there, and tells its pattern as a field", () => {
    const graph = graphOf(
      { ball: BALL, it: spots(), scale: { type: "displace" }, stage: { type: "stage" } },
      ["ball.shape>it.shape", "it.shape>scale.shape", "it.pattern>scale.amount", "scale.shape>stage.shape"],
    );
    const at = (evaluator: Evaluator, frame: number) =>
      evaluator.evaluate(graph, frame).shape?.mesh?.points.columns;
    const played = new Evaluator();
    for (const frame of [0, 3, 7]) at(played, frame);
    const [there, jumped] = [at(played, 12), at(new Evaluator(), 12)];
    expect(there?.pattern.lanes[0]).toEqual(jumped?.pattern.lanes[0]);
    expect(there?.position.lanes).toEqual(jumped?.position.lanes);
    expect(Math.max(...(there?.pattern.lanes[0] ?? []))).toBeGreaterThan(0.2);
  });

  it("grows from site to site as well", () => {
    const graph = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 24, deep: 24 } },
        it: spots({ seeds: 6 }),
        stage: { type: "stage" },
      },
      ["grid.sites>it.shape", "it.shape>stage.shape"],
    );
    const shape = new Evaluator().evaluate(graph, 10).shape;
    expect(shape?.sites?.columns.pattern.lanes[0].filter((v) => v > 0.2).length).toBeGreaterThan(6);
  });

  it("says so when nothing arrives", () => {
    const { problems } = reportOf(
      graphOf({ none: { type: "merge" }, it: spots() }, ["none.shape>it.shape"]),
      "it",
    );
    expect(problems.map(({ what }) => what).join()).toContain("Nothing arrives");
  });
});
