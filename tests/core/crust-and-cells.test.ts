/** What sticks [GRO-08, GRO-09, WittenSander81], and cells by rules [GRO-04, Wolfram83; Gardner70]. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Shape } from "../../src/core/geometry/shape";
import { aliveOf, byRow, cellsOf } from "../../src/core/growth/automata";
import { type Crust, type CrustSettings, grownCrust, seededCrust } from "../../src/core/growth/crust";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const CRUST: CrustSettings = { size: 1, drift: [0, 0, 0], stick: 1, flat: true, seed: 1 };
const SEED = () => seededCrust([[0], [0], [0]]);
const placesOf = ({ domains: { nodes } }: Crust) => {
  const [x, y, z] = nodes.columns.position.lanes;
  return Array.from(x, (v, i) => [v, y[i], z[i]]);
};

describe("what sticks", () => {
  const crust = grownCrust(SEED(), CRUST, 0, 2000);
  const places = placesOf(crust);
  const parent = crust.domains.nodes.columns.parent.lanes[0];

  // GRO-09.
  it("is a tree: each has one parent before it, as far away as two that stick are", () => {
    expect(places.length).toBe(2001);
    for (let n = 1; n < places.length; n++) {
      expect(parent[n]).toBeLessThan(n);
      expect(Math.hypot(...places[n].map((v, a) => v - places[parent[n]][a]))).toBeCloseTo(1, 4);
      expect(places[n][1]).toBe(0);
    }
  });

  it("never comes nearer than a touch less a step", () => {
    let least = 9;
    for (let i = 0; i < places.length; i++)
      for (let j = 0; j < i; j++)
        least = Math.min(least, (places[i][0] - places[j][0]) ** 2 + (places[i][2] - places[j][2]) ** 2);
    expect(Math.sqrt(least)).toBeGreaterThan(0.6 - 1e-6);
  });

  // GRO-08: ln N against ln of the radius of gyration; literature 1.71, single runs 1.5 to 1.9.
  it("fills the plane as loosely as such clusters do", () => {
    const points: [number, number][] = [];
    for (const n of [200, 400, 800, 1200, 2000]) {
      const part = places.slice(0, n);
      const middle = [0, 2].map((a) => part.reduce((sum, p) => sum + p[a], 0) / n);
      const square = part.reduce((sum, p) => sum + (p[0] - middle[0]) ** 2 + (p[2] - middle[1]) ** 2, 0) / n;
      points.push([Math.log(Math.sqrt(square)), Math.log(n)]);
    }
    const mean = [0, 1].map((a) => points.reduce((sum, p) => sum + p[a], 0) / points.length);
    const slope =
      points.reduce((sum, p) => sum + (p[0] - mean[0]) * (p[1] - mean[1]), 0) /
      points.reduce((sum, p) => sum + (p[0] - mean[0]) ** 2, 0);
    expect(slope).toBeGreaterThan(1.5);
    expect(slope).toBeLessThan(1.9);
  });

  it("is the same in one go and in several, and denser where it seldom sticks", () => {
    const once = grownCrust(SEED(), CRUST, 0, 200);
    const twice = grownCrust(grownCrust(SEED(), CRUST, 0, 80), CRUST, 80, 120);
    expect(placesOf(twice)).toEqual(placesOf(once));
    const wide = (made: Crust) => Math.max(...placesOf(made).map((p) => Math.hypot(p[0], p[2])));
    expect(wide(grownCrust(SEED(), { ...CRUST, stick: 0.05 }, 0, 200))).toBeLessThan(wide(once));
  });
});

describe("cells in a row", () => {
  const rows = (rule: number, count: number): Float32Array[] => {
    const first = new Float32Array(65);
    first[32] = 1;
    let cells = cellsOf(first, new Float32Array(65));
    return Array.from({ length: count }, () => {
      const row = aliveOf(cells);
      cells = byRow(cells, rule);
      return row;
    });
  };

  // GRO-04.
  it("follow rule 30 and rule 90", () => {
    expect(
      rows(30, 16)
        .map((row) => row[32])
        .join(""),
    ).toBe("1101110011000101");
    expect(rows(90, 9).map((row) => row.reduce((a, b) => a + b, 0))).toEqual([1, 2, 2, 4, 2, 4, 4, 8, 2]);
  });
});

describe("the nodes", () => {
  const at = (
    nodes: Record<string, NodeSpec>,
    links: string[],
    frame: number,
    evaluator = new Evaluator(),
  ): Shape =>
    evaluator.evaluate(
      graphOf({ ...nodes, stage: { type: "stage" } }, [...links, "it.shape>stage.shape"]),
      frame,
    ).shape as Shape;
  const GRID: NodeSpec = { type: "grid-sites", set: { across: 9, deep: 9 } };
  const cells = (set: Record<string, Setting> = {}): NodeSpec => ({
    type: "cell-rules",
    set: { share: 0, every: 1, ...set },
  });
  /** Sites that live at first: those of a row of three in the middle. */
  const BAR: Record<string, NodeSpec> = {
    grid: GRID,
    bar: { type: "falloff", set: { form: "box", half: [1.2, 1, 0.2], inner: 0, outer: 0.01 } },
  };
  const LINKS = ["grid.sites>it.shape", "bar.value>it.start"];
  const alive = (frame: number) => [
    ...(at({ ...BAR, it: cells() }, LINKS, frame).sites?.columns.alive.lanes[0] ?? []),
  ];

  // Born with 3, staying with 2 and 3: a bar of three turns every generation (M. Gardner, Scientific American, October 1970).
  it("cells by count let a bar of three turn, and turn back", () => {
    const [first, second, third] = [alive(0), alive(1), alive(2)];
    expect(first.filter((v) => v === 1)).toHaveLength(3);
    expect(second.filter((v) => v === 1)).toHaveLength(3);
    expect(second).not.toEqual(first);
    expect(third).toEqual(first);
  });

  it("says what is no number of neighbours, and that nothing arrives", () => {
    const problem = (nodes: Record<string, NodeSpec>, links: string[]) =>
      reportOf(graphOf(nodes, links), "it").problems[0];
    expect(problem({ grid: GRID, it: cells({ born: "3 x" }) }, ["grid.sites>it.shape"]).what).toContain(
      '"x"',
    );
    expect(problem({ it: cells() }, []).what).toContain("Nothing arrives");
  });

  it("a crust grows by time, in turned copies, as sites and as branches", () => {
    const it: NodeSpec = { type: "crust-growth", set: { rate: 10, flat: true, fold: 6 } };
    const evaluator = new Evaluator();
    const shape = at({ it }, [], 5, evaluator);
    expect(shape.sites?.count).toBe(51 * 6);
    const [x, , z] = shape.sites?.columns.position.lanes ?? [[], [], []];
    // A sixth of a turn on stands the same particle.
    expect(x[51 + 7]).toBeCloseTo(x[7] * 0.5 + z[7] * Math.sqrt(0.75), 4);
    const branches = evaluator.evaluate(
      graphOf({ it, stage: { type: "stage" } }, ["it.branches>stage.shape"]),
      5,
    ).shape?.curves;
    expect(branches?.curves.count).toBeGreaterThan(6);
    // Fifty have come: the seed is as old as all of them, the last one is new.
    const ages = [...(branches?.points.columns.age.lanes[0] ?? [])];
    expect([Math.max(...ages), Math.min(...ages)]).toEqual([50, 1]);
  });
});
