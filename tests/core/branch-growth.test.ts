/** Space colonisation [Runions07] and the pipe model [Murray26]. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import {
  type Branches,
  type BranchSettings,
  grownBranches,
  pipeRadii,
  rooted,
} from "../../src/core/growth/branches";
import { Arena } from "../../src/core/kernels/arena";
import { hash3, unit24 } from "../../src/core/maths/random";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const SETTINGS: BranchSettings = {
  step: 1,
  influence: 100,
  kill: 2,
  lean: (places) => places.map((lane) => new Float32Array(lane.length)),
  straight: 0,
  mostNodes: 10_000,
};
const chance = (i: number, c: number): number => unit24(hash3(5, i, c)) * 2 - 1;
/** Attractors by chance in a box above the root. */
const CLOUD = [0, 1, 2].map((a) =>
  Float32Array.from({ length: 400 }, (_, i) => (a === 1 ? 6 + 4 * chance(i, a) : 4 * chance(i, a))),
);

const grown = (attractors: readonly ArrayLike<number>[], rounds: number, set: Partial<BranchSettings> = {}) =>
  new Arena().within(() =>
    grownBranches(rooted([[0], [0], [0]]), attractors, { ...SETTINGS, ...set }, rounds),
  );

const nodesOf = ({ domains: { nodes } }: Branches) => {
  const [x, y, z] = nodes.columns.position.lanes;
  const [parent] = nodes.columns.parent.lanes;
  return Array.from(parent, (p, i) => ({ p, place: [x[i], y[i], z[i]] }));
};
const far = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((v, i) => v - b[i]));

describe("branches", () => {
  // GRO-10.
  it("grow straight to one attractor, and stop where it is used up", () => {
    const nodes = nodesOf(grown([[0], [10], [0]], 40));
    expect(nodes.map(({ place }) => place)).toEqual(Array.from({ length: 9 }, (_, i) => [0, i, 0]));
  });

  // GRO-11: the mean of the ways to (±3, 10) is straight up.
  it("begin between two that are equally far", () => {
    const nodes = nodesOf(
      grown(
        [
          [-3, 3],
          [10, 10],
          [0, 0],
        ],
        1,
      ),
    );
    expect(nodes[1].place).toEqual([0, 1, 0].map((v) => expect.closeTo(v, 6)));
  });

  it("have joints of one length, parents before children, and leave nothing near them unused", () => {
    const kill = 0.8;
    const tree = grown(CLOUD, 200, { step: 0.4, influence: 3, kill });
    const nodes = nodesOf(tree);
    expect(nodes.length).toBeGreaterThan(100);
    for (const [i, { p, place }] of nodes.entries()) {
      expect(p).toBeLessThan(i);
      if (p >= 0) expect(far(place, nodes[p].place)).toBeCloseTo(0.4, 5);
    }
    // When nothing grows any more, whatever is left within reach was used up.
    const again = new Arena().within(() =>
      grownBranches(tree, CLOUD, { ...SETTINGS, step: 0.4, influence: 3, kill }, 5),
    );
    expect(again.domains.nodes.count).toBe(nodes.length);
  });

  it("lean where they are told to, and never grow past their most", () => {
    const lean: BranchSettings["lean"] = (places) =>
      places.map((lane, a) => new Float32Array(lane.length).fill(a === 0 ? 3 : 0));
    expect(nodesOf(grown([[0], [10], [0]], 1, { lean }))[1].place[0]).toBeGreaterThan(0.9);
    expect(
      grown(CLOUD, 200, { step: 0.4, influence: 3, kill: 0.8, mostNodes: 50 }).domains.nodes.count,
    ).toBeLessThan(120);
  });

  it("are the same in one go and in several", () => {
    const set = { ...SETTINGS, step: 0.4, influence: 3, kill: 0.8 };
    const once = grown(CLOUD, 12, set);
    const twice = new Arena().within(() => grownBranches(grown(CLOUD, 5, set), CLOUD, set, 7));
    expect(nodesOf(twice)).toEqual(nodesOf(once));
  });
});

describe("thickness", () => {
  // GRO-12.
  it.each([
    [[1, 1], 2, Math.SQRT2],
    [[1, 1], 3, 1.25992105],
  ])("of %j with exponent %d is %d", (children, exponent, wanted) => {
    const parent = Int32Array.from([-1, ...children.map(() => 0)]);
    expect(pipeRadii(parent, 1, exponent)[0]).toBeCloseTo(wanted, 5);
  });

  it("adds up over generations, and stays along what does not branch", () => {
    // Four tips of radius 1 come together by two and two: √2 each, then 2.
    const tree = Int32Array.of(-1, 0, 0, 1, 1, 2, 2, 3);
    expect([...pipeRadii(tree, 1, 2)]).toEqual(
      [2, Math.SQRT2, Math.SQRT2, 1, 1, 1, 1, 1].map((v) => expect.closeTo(v, 6)),
    );
  });
});

describe("the node", () => {
  const growth = (set: Record<string, Setting> = {}): NodeSpec => ({
    type: "branch-growth",
    set: { step: 0.2, influence: 2, kill: 0.4, ...set },
  });
  const CROWN: Record<string, NodeSpec> = {
    ball: { type: "sphere", set: { radius: 1 } },
    up: { type: "transform", set: { move: [0, 2, 0] } },
    food: { type: "scatter-sites", set: { count: 120, where: "inside" } },
  };
  const LINKS = ["ball.shape>up.shape", "up.shape>food.shape", "food.sites>it.towards"];
  const at = (frame: number, set: Record<string, Setting> = {}, evaluator = new Evaluator()) =>
    evaluator.evaluate(
      graphOf({ ...CROWN, it: growth(set), stage: { type: "stage" } }, [...LINKS, "it.shape>stage.shape"]),
      frame,
    ).shape?.curves;

  it("grows by time, by parts of joints too, and is thickest at its root", () => {
    const [early, late] = [at(4), at(30)];
    expect(early?.points.count).toBe(5);
    expect(late?.curves.count).toBeGreaterThan(5);
    const half = at(4, { speed: 0.875 })?.points.columns.position.lanes[1] ?? [];
    const whole = early?.points.columns.position.lanes[1] ?? [];
    expect(half[4] - half[3]).toBeCloseTo((whole[4] - whole[3]) / 2, 5);
    const radius = late?.points.columns.radius.lanes[0] ?? [];
    expect(radius[0]).toBe(Math.max(...radius));
  });

  it("is the same at a frame however one comes there", () => {
    const played = new Evaluator();
    for (const frame of [0, 6, 9, 20]) at(frame, {}, played);
    expect(at(25, {}, played)?.points.columns.position.lanes).toEqual(at(25)?.points.columns.position.lanes);
  });

  it("says so when there is nothing to seek", () => {
    expect(
      reportOf(graphOf({ it: growth() }), "it")
        .problems.map(({ what }) => what)
        .join(),
    ).toContain("could seek");
  });
});
