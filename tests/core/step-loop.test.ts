/** Step loops: feedback from step to step, held against the recurrences that they are. */
import { flatten } from "../../src/core/capsules/flatten";
import { stepLoopEdit } from "../../src/core/capsules/step-loop";
import { applyEdit } from "../../src/core/document/edits";
import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Domain } from "../../src/core/geometry/column";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { Checkpoints } from "../../src/core/simulate/checkpoints";
import { Simulation } from "../../src/core/simulate/simulation";
import { graphOf, type NodeSpec } from "../run-node";

type Set = Record<string, Setting>;
interface Loop {
  readonly inside: Record<string, NodeSpec>;
  readonly links: readonly string[];
  readonly outputs: readonly (readonly [name: string, kind: "shape" | "number"])[];
  readonly inputs?: readonly (readonly [name: string, kind: "shape" | "number", value?: number])[];
  readonly set?: Set;
}

/** A piece with one Step loop, `loop`; `seeds` are three sites in a row that go in as `shape`. */
function looping({ inside, links, outputs, inputs = [], set = {} }: Loop): PieceDocument {
  const inner = graphOf(
    { in: { type: "inputs-of:loop" }, ...inside, out: { type: "outputs-of:loop" } },
    links.filter((link) => !link.startsWith("before.")),
  ).graph;
  const document: PieceDocument = {
    ...graphOf(
      {
        seeds: { type: "row-sites", set: { count: 3 } },
        loop: { type: "capsule:loop", set },
        stage: { type: "stage" },
      },
      [
        ...(inputs.some(([name]) => name === "shape") ? ["seeds.sites>loop.shape"] : []),
        ...(outputs.some(([name]) => name === "shape") ? ["loop.shape>stage.shape"] : []),
      ],
    ),
    capsules: {
      loop: {
        title: "Loop",
        about: "",
        inputs: inputs.map(([name, kind, value]) => ({
          name,
          label: name,
          kind,
          about: "",
          default: value ?? null,
        })),
        outputs: outputs.map(([name, kind]) => ({ name, label: name, kind, about: "" })),
        graph: inner,
      },
    },
  };
  const made = applyEdit(document, stepLoopEdit(document, "loop", true)).document;
  const before = links.filter((link) => link.startsWith("before."));
  return applyEdit(made, {
    kind: "within",
    capsule: "loop",
    edit: {
      kind: "add",
      links: before.map((link, i) => ({
        item: { from: link.split(">")[0], to: link.split(">")[1] },
        index: inner.links.length + i,
      })),
    },
  }).document;
}

const numberOf = (value: unknown): number => (value as { step: { data: { value: number } } }).step.data.value;

/** A number that comes back as itself × 2 + 1. */
const DOUBLING = looping({
  inside: {
    twice: { type: "arithmetic", set: { do: "multiply", b: 2 } },
    one: { type: "arithmetic", set: { do: "add", b: 1 } },
  },
  links: ["before.n>twice.a", "twice.value>one.a", "one.value>out.n"],
  outputs: [["n", "number"]],
  inputs: [["n", "number", 0]],
});

const valueAt = (evaluator: Evaluator, document: PieceDocument, frame: number): number => {
  const { outputs, report } = evaluator.evaluate(document, frame, { target: "loop" });
  if (!outputs) throw new Error(JSON.stringify(report));
  return numberOf(outputs.n);
};
const withSet = (document: PieceDocument, set: Set): PieceDocument => ({
  ...document,
  graph: {
    ...document.graph,
    nodes: document.graph.nodes.map((node) => (node.id === "loop" ? { ...node, set } : node)),
  },
});

// x ← 2x + 1 from x₀: after n steps 2ⁿ (x₀ + 1) − 1; the first frame is the first step. Derived.
const doubled = (steps: number, start = 0) => 2 ** steps * (start + 1) - 1;

it("gives at every frame what the recurrence gives, in any order", () => {
  const evaluator = new Evaluator();
  for (const frame of [0, 1, 7, 3, 20, 19, 2])
    expect(valueAt(evaluator, DOUBLING, frame)).toBe(doubled(frame + 1));
  expect(valueAt(evaluator, withSet(DOUBLING, { n: 4 }), 5)).toBe(doubled(6, 4));
  expect(valueAt(evaluator, withSet(DOUBLING, { runUp: 3 }), 2)).toBe(doubled(6));
  // Four steps a frame after the first.
  expect(valueAt(evaluator, withSet(DOUBLING, { substeps: 4 }), 3)).toBe(doubled(1 + 3 * 4));
});

it("follows the equation x′ = x ever closer with more steps: Euler's method, (1 + h)ⁿ", () => {
  const document = looping({
    inside: {
      way: { type: "arithmetic", set: { do: "multiply" } },
      sum: { type: "arithmetic", set: { do: "add" } },
    },
    links: [
      "before.n>way.a",
      "before.stepSeconds>way.b",
      "before.n>sum.a",
      "way.value>sum.b",
      "sum.value>out.n",
    ],
    outputs: [["n", "number"]],
    inputs: [["n", "number", 1]],
  });
  // The first frame is a step too: at frame f there have been 1 + f × substeps. At 25 frames a second.
  for (const substeps of [1, 4, 16]) {
    const h = 1 / 25 / substeps;
    const value = valueAt(new Evaluator(), withSet(document, { substeps }), 25);
    expect(value).toBeCloseTo((1 + h) ** (1 + 25 * substeps), 8);
  }
});

/** Sites that move by one along x at each step, on and on. */
const WALKING = looping({
  inside: { move: { type: "move", set: { by: [1, 0, 0] } } },
  links: ["before.shape>move.shape", "move.shape>out.shape"],
  outputs: [["shape", "shape"]],
  inputs: [["shape", "shape"]],
});
const sites = (document: PieceDocument, frame: number, evaluator = new Evaluator()): Domain => {
  const { shape, report } = evaluator.evaluate(document, frame);
  if (!shape?.sites) throw new Error(JSON.stringify(report));
  return shape.sites;
};

it("carries shapes, with all that is on their elements", () => {
  const start = [...sites(WALKING, 0).columns.position.lanes[0]];
  const evaluator = new Evaluator(new Simulation(new Checkpoints(2_000)));
  for (const frame of [30, 4, 29, 12.5, 31]) {
    const x = [...sites(WALKING, frame, evaluator).columns.position.lanes[0]];
    // A part of a frame is a step of its own, from the whole frame before it.
    expect(x).toEqual(start.map((v) => v + Math.ceil(frame)));
  }
});

it("springs inside of it, nested loops and Hold frame after it are the same however a frame is reached", () => {
  const inner = looping({
    inside: {
      inner: { type: "capsule:walk" },
      late: { type: "spring" },
    },
    links: ["before.shape>inner.shape", "inner.shape>late.shape", "late.shape>out.shape"],
    outputs: [["shape", "shape"]],
    inputs: [["shape", "shape"]],
    set: { substeps: 3 },
  });
  const walk = WALKING.capsules.loop;
  const renamed = walk.graph.nodes.map((node) => ({ ...node, type: node.type.replace(":loop", ":walk") }));
  const nested: PieceDocument = {
    ...inner,
    capsules: { ...inner.capsules, walk: { ...walk, graph: { ...walk.graph, nodes: renamed } } },
  };
  const held = {
    ...nested,
    graph: {
      nodes: [
        ...nested.graph.nodes,
        {
          id: "hold",
          type: "hold-frame",
          at: [0, 0] as [number, number],
          set: { which: "some frames earlier", frame: 2.5 },
        },
      ],
      links: [
        ...nested.graph.links.filter(({ to }) => to !== "stage.shape"),
        { from: "loop.shape", to: "hold.shape" },
        { from: "hold.shape", to: "stage.shape" },
      ],
    },
  };
  for (const document of [nested, held]) {
    const wanted = new Map([5, 6, 9, 9.5].map((f) => [f, bits(sites(document, f))] as const));
    expect(new Set(wanted.values()).size).toBe(4);
    const evaluator = new Evaluator(new Simulation(new Checkpoints(3_000)));
    for (const frame of [9, 5, 9.5, 6, 9])
      expect(bits(sites(document, frame, evaluator))).toBe(wanted.get(frame));
  }
});

const bits = ({ columns }: Domain): string =>
  JSON.stringify(Object.values(columns).map(({ lanes }) => lanes.map((lane) => [...lane])));

it("sees a change inside of it at once, wherever it is in the ring", () => {
  const evaluator = new Evaluator();
  expect(valueAt(evaluator, DOUBLING, 6)).toBe(doubled(7));
  const changed = applyEdit(DOUBLING, {
    kind: "within",
    capsule: "loop",
    edit: { kind: "set-input", node: "one", input: "b", value: 0 },
  }).document;
  expect(valueAt(evaluator, changed, 6)).toBe(0);
  expect(valueAt(evaluator, DOUBLING, 6)).toBe(doubled(7));
});

describe("what is wrong is said", () => {
  const said = (document: PieceDocument, frame = 3, evaluator = new Evaluator()) =>
    Object.values(evaluator.evaluate(document, frame).report.nodes).flatMap(({ problems }) =>
      problems.map(({ what }) => what),
    );

  it("an output that nothing is linked to", () => {
    const document = looping({ inside: {}, links: [], outputs: [["shape", "shape"]] });
    expect(said(document).join()).toMatch(/Nothing is linked to "shape" inside/);
  });

  it("a value that differs from element to element", () => {
    const document = looping({
      inside: { index: { type: "index" }, move: { type: "move" } },
      links: ["index.index>out.n", "before.n>move.amount", "before.shape>move.shape", "move.shape>out.shape"],
      outputs: [
        ["shape", "shape"],
        ["n", "number"],
      ],
      inputs: [["shape", "shape"]],
    });
    expect(said(document).join()).toMatch(/"n" differs from element to element.*Store it as an attribute/);
  });

  it("a state that grows without end: which frame still fits, and the stage keeps what it had", () => {
    const document = looping({
      inside: { both: { type: "merge" } },
      links: ["before.shape>both.shapes", "in.shape>both.shapes", "both.shape>out.shape"],
      outputs: [["shape", "shape"]],
      inputs: [["shape", "shape"]],
    });
    const evaluator = new Evaluator(new Simulation(new Checkpoints(), 2_000));
    expect(said(document, 60, evaluator).join()).toMatch(
      /At frame \d+ it would carry .* Up to frame \d+ it fits/,
    );
    expect(sites(document, 2, evaluator).count).toBe(3 * 4);
  });

  it("links in a ring, with the Step loop as the way", () => {
    const document = graphOf({ a: { type: "move" }, b: { type: "move" }, stage: { type: "stage" } }, [
      "a.shape>b.shape",
      "b.shape>a.shape",
      "b.shape>stage.shape",
    ]);
    const { report } = new Evaluator().evaluate(document, 0);
    expect(report.problems[0].what).toMatch(/Step loop/);
  });
});

it("is made and unmade as one edit each, and its nodes are found by their ways", () => {
  expect([...flatten(WALKING).loops]).toEqual([["loop/before", "loop/out"]]);
  const back = applyEdit(WALKING, stepLoopEdit(WALKING, "loop", false));
  expect(back.document.capsules.loop.stepLoop).toBeUndefined();
  expect(back.document.capsules.loop.graph.nodes.map(({ id }) => id)).toEqual(["in", "move", "out"]);
  expect(applyEdit(back.document, back.inverse).document).toEqual(WALKING);
  // An ordinary capsule again: what came back is linked no more.
  const shape = new Evaluator().evaluate(back.document, 3).shape as Shape;
  expect(shape.sites).toBeUndefined();
});
