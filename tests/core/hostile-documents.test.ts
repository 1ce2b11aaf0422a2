/** Documents that ask for too much in few words, or use names that objects know by themselves. */
import { flatten, MOST_NODES } from "../../src/core/capsules/flatten";
import { readDocument, writeDocument } from "../../src/core/document/read";
import { blankDocument, type Capsule, type PieceDocument } from "../../src/core/document/schema";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { evaluate, graphOf } from "../run-node";

/** Capsules that each hold two of the next, `depth` of them; only the last holds anything else. */
function doubling(depth: number): PieceDocument {
  const capsule = (i: number): Capsule => ({
    title: `C${i}`,
    about: "",
    inputs: [],
    outputs: [{ name: "shape", label: "shape", kind: "shape", about: "" }],
    graph: {
      nodes:
        i + 1 < depth
          ? [0, 1].map((k) => ({ id: `n${k}`, type: `capsule:c${i + 1}`, at: [0, 0], set: {} }))
          : [{ id: "box", type: "box", at: [0, 0], set: {} }],
      links: [],
    },
  });
  return {
    ...blankDocument("doubling"),
    graph: {
      nodes: [
        { id: "one", type: "capsule:c0", at: [0, 0], set: {} },
        { id: "stage", type: "stage", at: [0, 0], set: {} },
      ],
      links: [{ from: "one.shape", to: "stage.shape" }],
    },
    capsules: Object.fromEntries(Array.from({ length: depth }, (_, i) => [`c${i}`, capsule(i)])),
  };
}

describe("capsules that hold two of the next", () => {
  it.each([20, 26, 60])("%i deep are counted before any is made, and the instance says so", (depth) => {
    const document = doubling(depth);
    expect(writeDocument(document).length).toBeLessThan(40_000);
    const { graph, instances } = flatten(document);
    expect(graph.nodes.length + instances.size).toBeLessThanOrEqual(MOST_NODES);
    const { report } = new Evaluator().evaluate(document, 0);
    expect(report.nodes.one.problems[0].what).toContain("hold too many nodes");
  });

  it("ten deep are all there", () => {
    const { graph, instances } = flatten(doubling(10));
    expect(graph.nodes.filter(({ type }) => type === "box")).toHaveLength(2 ** 9);
    expect(instances.size).toBe(2 ** 10 - 1);
  });

  it("that hold themselves fail where they do, and only there", () => {
    const document = doubling(3);
    const inner = document.capsules.c1.graph.nodes;
    const looped: PieceDocument = {
      ...document,
      capsules: {
        ...document.capsules,
        c1: {
          ...document.capsules.c1,
          graph: { nodes: [...inner, { id: "again", type: "capsule:c0", at: [0, 0], set: {} }], links: [] },
        },
      },
    };
    const { instances } = flatten(looped);
    expect(instances.has("one/n0")).toBe(true);
    expect(instances.has("one/n0/again")).toBe(false);
  });
});

describe("what goes deep", () => {
  const nested = (depth: number) => `${"[".repeat(depth)}1${"]".repeat(depth)}`;
  const withSetting = (value: string) =>
    writeDocument(graphOf({ box: { type: "box", set: { size: "HERE" } } })).replace('"HERE"', value);

  it.each([100, 1500, 2000, 5000])("settings %i levels deep are refused in words, with where", (depth) => {
    const read = readDocument(withSetting(nested(depth)));
    expect(read.ok).toBe(false);
    if (read.ok) return;
    expect(read.faults[0].what).toContain("levels deep");
    expect(read.faults[0].where).toContain("graph.nodes[0].set.size");
  });

  it("of a reasonable depth stay, and do not swell when they are written", () => {
    const read = readDocument(withSetting(nested(40)));
    expect(read.ok).toBe(true);
    if (read.ok) expect(writeDocument(read.document).length).toBeLessThan(10_000);
  });

  it("brackets without end are no JSON, and said to be none", () => {
    expect(readDocument("[".repeat(1_000_000)).ok).toBe(false);
    expect(readDocument(nested(200_000)).ok).toBe(false);
  });
});

describe("names that objects know by themselves", () => {
  const NAMES = ["constructor", "toString", "__proto__", "hasOwnProperty"];

  it.each(NAMES)("%s is no part of a vector", (name) => {
    const document = graphOf(
      {
        ring: { type: "ring-sites" },
        formula: { type: "formula", set: { formula: `place.${name}` } },
        move: { type: "move" },
        stage: { type: "stage" },
      },
      ["ring.sites>move.shape", "formula.value>move.amount", "move.shape>stage.shape"],
    );
    const { report } = evaluate(document, 0, { inspect: true });
    expect(report.nodes.formula.problems[0].what).toMatch(/is no part|▸/);
    expect(report.nodes.formula.problems[0].what).not.toContain("unexpectedly");
  });

  it.each(NAMES)("%s is no attribute, file, input or output", (name) => {
    const document = graphOf(
      {
        ring: { type: "ring-sites" },
        read: { type: "attribute", set: { name } },
        soft: { type: "soften", set: { attribute: name } },
        carry: { type: "carry-over", set: { attribute: name } },
        lag: { type: "lag", set: { of: "an attribute", attribute: name } },
        near: { type: "nearest", set: { attribute: name } },
        file: { type: "import", set: { file: name } },
        size: { type: "scale" },
        all: { type: "merge" },
        stage: { type: "stage" },
      },
      [
        "ring.sites>soft.shape",
        "soft.shape>carry.shape",
        "ring.sites>carry.from",
        "carry.shape>lag.shape",
        "ring.sites>near.shape",
        "read.value>size.size",
        "near.value>size.amount",
        "lag.shape>size.shape",
        "size.shape>all.shapes",
        `ring.${name}>all.shapes`,
        `ring.sites>size.${name}`,
        "all.shape>stage.shape",
      ],
    );
    const { report } = evaluate(document, 0, { inspect: true });
    const told = Object.values(report.nodes).flatMap(({ problems }) => problems.map(({ what }) => what));
    expect(told.filter((what) => what.includes("unexpectedly"))).toEqual([]);
    expect(evaluate(document, 0, { target: "file" }).report.nodes.file.problems[0].what).toContain(
      `no asset "${name}"`,
    );
    expect(checkDocument(document).some(({ what }) => what.includes(`"${name}"`))).toBe(true);
  });

  it("an attribute may have such a name, and is then read by it", () => {
    const document = graphOf(
      {
        ring: { type: "ring-sites", set: { count: 3 } },
        index: { type: "index" },
        name: { type: "store-attribute", set: { name: "constructor" } },
        soft: { type: "soften", set: { attribute: "constructor", radius: 100 } },
      },
      ["ring.sites>name.shape", "index.index>name.number", "name.shape>soft.shape"],
    );
    const { outputs } = evaluate(document, 0, { target: "soft" });
    const shape = outputs?.shape as { sites: { columns: Record<string, { lanes: Float32Array[] }> } };
    const { columns } = shape.sites;
    const [lane] = Object.entries(columns).find(([name]) => name === "constructor")?.[1].lanes ?? [];
    expect([...lane]).toEqual([1, 1, 1]);
  });
});

it("a time limit that is reached between two nodes is told, not thrown", () => {
  const document = graphOf(
    { ring: { type: "ring-sites" }, move: { type: "move" }, stage: { type: "stage" } },
    ["ring.sites>move.shape", "move.shape>stage.shape"],
  );
  // A clock that goes on by a second whenever it is asked: time is up wherever it is looked at first.
  for (let limit = 0; limit < 20_000; limit += 500) {
    let now = 0;
    const { report, shape } = evaluate(document, 0, { timeLimit: limit, now: () => (now += 1000) });
    expect(report.complete).toBe(shape !== undefined);
    if (!report.complete) {
      expect(report.stopped).toBe(true);
      const told = Object.values(report.nodes).flatMap(({ problems }) => problems.map(({ what }) => what));
      expect(told.join()).toContain("was stopped after");
    }
  }
});
