/** What runs again and what does not: equal fields and the very same shapes leave what uses them alone. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { add, apply, column, constant, scaleBy, type Value } from "../../src/core/fields/expression";
import { fingerprintOf } from "../../src/core/values/kinds";
import { graphOf } from "../run-node";

const states = (evaluator: Evaluator, document: Parameters<Evaluator["evaluate"]>[0], frame: number) => {
  const { report } = evaluator.evaluate(document, frame);
  return Object.fromEntries(Object.entries(report.nodes).map(([id, node]) => [id, node.state]));
};

describe("what runs again", () => {
  const clamped = graphOf(
    {
      grid: { type: "grid-sites", set: { across: 4, deep: 4 } },
      time: { type: "clock" },
      // 0 to 1 over frames 0 to 10, and 1 from then on.
      rise: { type: "remap", set: { fromLow: 0, fromHigh: 10, toLow: 0, toHigh: 1 } },
      lift: { type: "move" },
      stage: { type: "stage" },
    },
    ["time.frame>rise.value", "rise.value>lift.amount", "grid.sites>lift.shape", "lift.shape>stage.shape"],
  );

  it("is nothing behind a field that comes to the same, though it is worked out anew", () => {
    const evaluator = new Evaluator();
    expect(states(evaluator, clamped, 5)).toMatchObject({ rise: "ran", lift: "ran" });
    expect(states(evaluator, clamped, 20)).toMatchObject({ time: "ran", rise: "ran", lift: "ran" });
    expect(states(evaluator, clamped, 21)).toMatchObject({ time: "ran", rise: "ran", lift: "reused" });
    expect(states(evaluator, clamped, 6)).toMatchObject({ lift: "ran", grid: "reused" });
  });

  it("is what reads the time when the rate or the range changes, at the same frame", () => {
    const evaluator = new Evaluator();
    states(evaluator, clamped, 5);
    for (const change of [{ fps: 50 }, { last: 99 }, { first: -10 }]) {
      const changed = { ...clamped, settings: { ...clamped.settings, ...change } };
      expect(states(evaluator, changed, 5)).toMatchObject({ time: "ran", grid: "reused" });
    }
  });

  it("is only what is downstream of a changed setting", () => {
    const evaluator = new Evaluator();
    states(evaluator, clamped, 0);
    const nodes = clamped.graph.nodes.map((n) => (n.id === "lift" ? { ...n, set: { by: [0, 2, 0] } } : n));
    const changed = { ...clamped, graph: { ...clamped.graph, nodes } };
    expect(states(evaluator, changed, 0)).toEqual({
      grid: "reused",
      time: "reused",
      rise: "reused",
      lift: "ran",
      stage: "ran",
    });
  });

  it("is nothing behind a node that gives back the very shape that arrived", () => {
    const kept = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 4, deep: 4 } },
        all: { type: "keep", set: { when: 1 } },
        lift: { type: "move" },
        stage: { type: "stage" },
      },
      ["grid.sites>all.shape", "all.shape>lift.shape", "lift.shape>stage.shape"],
    );
    const evaluator = new Evaluator();
    states(evaluator, kept, 0);
    const nodes = kept.graph.nodes.map((n) => (n.id === "all" ? { ...n, set: { when: 0.75 } } : n));
    const changed = { ...kept, graph: { ...kept.graph, nodes } };
    expect(states(evaluator, changed, 0)).toMatchObject({ all: "ran", lift: "reused", stage: "reused" });
  });
});

describe("fingerprints of fields", () => {
  const chain = (factor: number): Value => add(scaleBy(column("position", 0), constant(factor)), constant(1));

  it("are equal for equal structures and differ for any other", () => {
    expect(fingerprintOf("number", chain(2))).toBe(fingerprintOf("number", chain(2)));
    const all = [
      chain(2),
      chain(3),
      column("position", 0),
      column("position", 1),
      column("scale", 0, 1),
      apply("sine", [column("position", 0)]),
      constant(0),
      constant(-0),
    ];
    expect(new Set(all.map((value) => fingerprintOf("number", value))).size).toBe(all.length);
  });

  it("are worked out for fields of thousands of steps", () => {
    const deep = () => {
      let value: Value = column("position", 0);
      for (let i = 0; i < 15_000; i++) value = apply("sine", [value]);
      return value;
    };
    expect(fingerprintOf("number", deep())).toBe(fingerprintOf("number", deep()));
  });
});
