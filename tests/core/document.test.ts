import fc from "fast-check";
import { indexGraph, orderFrom, wouldCycle } from "../../src/core/document/links";
import { readDocument, writeDocument } from "../../src/core/document/read";
import { blankDocument } from "../../src/core/document/schema";
import { checkDocument } from "../../src/core/evaluate/check-document";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { demoNames, readDemo, shippedStarters } from "../../src/server/demo";
import { graphOf } from "../run-node";

const faultsOf = (text: string) => {
  const read = readDocument(text);
  return read.ok ? [] : read.faults;
};
const changed = (change: (raw: Record<string, never>) => void): string => {
  const raw = JSON.parse(writeDocument(graphOf({ ring: { type: "ring-sites" } }))) as Record<string, never>;
  change(raw);
  return JSON.stringify(raw);
};

describe("reading documents", () => {
  it("gives back what was written, byte for byte", () => {
    for (const name of demoNames()) {
      const text = writeDocument(readDemo(name));
      const read = readDocument(text);
      expect(read.ok && writeDocument(read.document)).toBe(text);
    }
  });

  it("keeps what a newer version wrote", () => {
    const text = changed((raw: Record<string, unknown>) => {
      raw.glemmo = 7;
      raw.weather = { rain: [1, 2] };
      (raw.graph as { nodes: object[] }).nodes.push({
        id: "x",
        type: "time-machine",
        at: [0, 0],
        set: { dial: 11 },
        mood: "fine",
      });
    });
    const read = readDocument(text);
    if (!read.ok) throw new Error("it was refused");
    expect(JSON.parse(writeDocument(read.document))).toMatchObject({
      glemmo: 7,
      weather: { rain: [1, 2] },
      graph: { nodes: [{}, { mood: "fine", set: { dial: 11 } }] },
    });
    expect(checkDocument(read.document)).toEqual([expect.objectContaining({ level: "warning", node: "x" })]);
  });

  it.each([
    ["", /not JSON/],
    ["[]", /JSON object/],
    ['{"glemmo":"one"}', /version number/],
    [changed((r: Record<string, unknown>) => delete r.name), /string/],
  ])("says what is wrong with %s", (text, what) => {
    expect(faultsOf(text)[0].what).toMatch(what);
  });

  it("says where", () => {
    const where = (change: (raw: never) => void) => faultsOf(changed(change as never)).map((f) => f.where);
    expect(
      where((r: { graph: { nodes: { at: unknown }[] } }) => (r.graph.nodes[0].at = [0, "x"]) as never),
    ).toEqual(["graph.nodes[0].at[1]"]);
    expect(
      where((r: { graph: { nodes: object[] } }) => r.graph.nodes.push(r.graph.nodes[0]) as never),
    ).toEqual(["graph.nodes[1].id"]);
    expect(where((r: { settings: { last: number } }) => (r.settings.last = -5) as never)).toEqual([
      "settings.last",
    ]);
    expect(
      where((r: { graph: { links: object[] } }) => r.graph.links.push({ from: "ring", to: "a.b" }) as never),
    ).toEqual(["graph.links[0].from"]);
  });

  it("refuses numbers that JSON cannot hold [FMT-13: RFC 8259 §6; 1e400 parses to Infinity]", () => {
    expect(faultsOf(writeDocument(blankDocument("x")).replace('"fps": 25', '"fps": 1e400'))).toHaveLength(1);
  });

  it("survives 2,000 mutated documents with an answer, never a crash", () => {
    const text = writeDocument(readDemo(demoNames()[0]));
    fc.assert(
      fc.property(fc.nat(text.length - 1), fc.nat(12), fc.string({ maxLength: 6 }), (at, length, put) => {
        const read = readDocument(text.slice(0, at) + put + text.slice(at + length));
        if (read.ok) checkDocument(read.document);
        else expect(read.faults.length).toBeGreaterThan(0);
      }),
      { numRuns: 2000 },
    );
  });
});

describe("links", () => {
  const ring = graphOf({ a: { type: "arithmetic" }, b: { type: "arithmetic" }, c: { type: "arithmetic" } }, [
    "a.value>b.a",
    "b.value>c.a",
  ]);

  it("give an order with sources first", () => {
    expect(orderFrom(indexGraph(ring.graph), ["c"])).toEqual({ ok: true, order: ["a", "b", "c"] });
  });

  it("tell which nodes feed each other", () => {
    const graph = { ...ring.graph, links: [...ring.graph.links, { from: "c.value", to: "a.a" }] };
    const order = orderFrom(indexGraph(graph), ["c"]);
    expect(order.ok ? [] : [...order.cycle].sort()).toEqual(["a", "b", "c", "c"]);
    expect(wouldCycle(indexGraph(ring.graph), "c", "a")).toBe(true);
    expect(wouldCycle(indexGraph(ring.graph), "a", "c")).toBe(false);
  });

  it("order a chain of 5,000 nodes without running out of stack", () => {
    const nodes = Object.fromEntries(
      Array.from({ length: 5000 }, (_, i) => [`n${i}`, { type: "arithmetic" }]),
    );
    const links = Array.from({ length: 4999 }, (_, i) => `n${i}.value>n${i + 1}.a`);
    const order = orderFrom(indexGraph(graphOf(nodes, links).graph), ["n4999"]);
    expect(order.ok && order.order.length).toBe(5000);
  });
});

describe("checking documents", () => {
  it("finds nothing in the demo pieces and the starters", () => {
    for (const document of [...demoNames().map(readDemo), ...shippedStarters().values()])
      expect(checkDocument(document)).toEqual([]);
  });

  it("names node, port, what and repair", () => {
    const found = checkDocument(
      graphOf({ ring: { type: "ring-sites", set: { count: -3, around: "q" } }, clock: { type: "clock" } }, [
        "clock.frame>ring.around",
        "ring.sites>clock.speed",
        "ghost.value>ring.radius",
      ]),
    );
    expect(found.map((f) => [f.node, f.port])).toEqual(
      expect.arrayContaining([
        ["ring", "count"],
        ["ring", "around"],
        ["clock", "speed"],
        ["ring", "radius"],
      ]),
    );
    expect(found.every((f) => f.repair)).toBe(true);
  });
});

it("takes Particles of version 1 apart: emitter, gravity and drag become nodes, with their links, keys and dials", () => {
  const key = { frame: 0, value: 3, ease: "ease" };
  const before = {
    glemmo: 1,
    name: "Grains",
    settings: { fps: 25, first: 0, last: 99, size: [1280, 720], seed: 1 },
    graph: {
      nodes: [
        { id: "ball", type: "sphere", at: [0, 0], set: {} },
        { id: "stir", type: "swirl", at: [0, 200], set: {} },
        {
          id: "grains",
          type: "particles",
          at: [300, 0],
          set: { rate: 90, gravity: [0, -2, 0], drag: 0.7, most: 500 },
          keys: { life: { keys: [key], before: "hold", after: "hold" } },
        },
        { id: "stage", type: "stage", at: [600, 0], set: {} },
      ],
      links: [
        { from: "ball.shape", to: "grains.shape" },
        { from: "stir.flow", to: "grains.push" },
        { from: "grains.sites", to: "stage.shape" },
      ],
    },
    dials: [{ input: "grains.rate", label: "Rate" }],
    snapshots: [{ name: "Few", values: { "grains.drag": 2 } }],
  };
  const read = readDocument(JSON.stringify(before));
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  const { graph, dials, snapshots } = read.document;
  const node = (id: string) => graph.nodes.find((one) => one.id === id);
  expect(node("grains")?.set).toEqual({ most: 500 });
  expect(node("grains-emitter")).toMatchObject({
    type: "emitter",
    set: { rate: 90 },
    keys: { life: { keys: [key] } },
  });
  expect([node("grains-gravity")?.set, node("grains-drag")?.set]).toEqual([
    { pull: [0, -2, 0] },
    { linear: 0.7 },
  ]);
  expect(graph.links.map(({ from, to }) => `${from}>${to}`)).toEqual([
    "ball.shape>grains-emitter.shape",
    "stir.flow>grains.forces",
    "grains.sites>stage.shape",
    "grains-emitter.births>grains.births",
    "grains-gravity.force>grains.forces",
    "grains-drag.force>grains.forces",
  ]);
  expect(dials[0].input).toBe("grains-emitter.rate");
  expect(snapshots?.[0].values).toEqual({ "grains-drag.linear": 2 });
  const { shape, report } = new Evaluator().evaluate(read.document, 20);
  expect(shape?.sites?.count).toBeGreaterThan(50);
  expect(report.nodes.grains.problems.filter(({ level }) => level !== "note")).toEqual([]);
});
