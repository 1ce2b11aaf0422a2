/** Questions about results: tables, traces, fits, peeks and hints, against values worked out by other means. */
import fc from "fast-check";
import type { flatten } from "../../src/core/capsules/flatten";
import { packEdit } from "../../src/core/capsules/pack";
import { applyEdit } from "../../src/core/document/edits";
import type { PieceDocument } from "../../src/core/document/schema";
import { drawingOf } from "../../src/core/draw/drawing";
import { siteOfCopy } from "../../src/core/draw/site-of-copy";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Shape } from "../../src/core/geometry/shape";
import { binsBetween, fittedRange, InputReader } from "../../src/core/inspect/input-statistics";
import { ascendingOrder, quantile } from "../../src/core/inspect/order";
import { OverTimeReader } from "../../src/core/inspect/over-time";
import { peekShape } from "../../src/core/inspect/peek";
import { type TableQuery, Tables } from "../../src/core/inspect/table";
import { traceElement } from "../../src/core/inspect/trace";
import type { Repair } from "../../src/core/nodes/define";
import { evaluate, graphOf, outputsOf } from "../run-node";

describe("order", () => {
  const number = fc.oneof(fc.float(), fc.constantFrom(0, -0, Number.NaN, Number.POSITIVE_INFINITY, -1));

  it("is that of the language's own sort, with what is no number last and equal ones in place", () => {
    fc.assert(
      fc.property(fc.array(number, { maxLength: 400 }), (list) => {
        const lane = Float32Array.from(list);
        const rank = (v: number) => (Number.isNaN(v) ? Number.POSITIVE_INFINITY : v);
        const wanted = [...lane.keys()].sort((a, b) => {
          const [x, y] = [lane[a], lane[b]];
          if (Number.isNaN(x) !== Number.isNaN(y)) return Number.isNaN(x) ? 1 : -1;
          return rank(x) < rank(y) ? -1 : rank(x) > rank(y) ? 1 : a - b;
        });
        expect([...ascendingOrder(lane)]).toEqual(wanted);
      }),
    );
    const integers = Int32Array.of(3, -7, 2 ** 31 - 1, -(2 ** 31), 0, 3);
    expect([...ascendingOrder(integers)]).toEqual([3, 1, 4, 0, 5, 2]);
    expect([...ascendingOrder(integers, Int32Array.of(5, 2, 0))]).toEqual([5, 0, 2]);
  });

  it("gives the quantiles of type 7 [STA-01]", () => {
    const lane = Float32Array.of(16, 1, 8, 2, 4);
    const order = ascendingOrder(lane);
    expect([0, 0.1, 0.5, 0.98, 1].map((part) => quantile(lane, order, part))).toEqual(
      [1, 1.4, 4, 15.36, 16].map((v) => expect.closeTo(v, 5)),
    );
  });
});

const hills = graphOf(
  {
    grid: { type: "grid-sites", set: { across: 20, deep: 10, columns: 20 } },
    noise: { type: "noise", set: { size: 3 } },
    remap: { type: "remap", set: { fromLow: -1, fromHigh: 1, toLow: 1, toHigh: 4 } },
    early: { type: "tint", set: { color: "#ff0000" } },
    size: { type: "scale" },
    late: { type: "tint", set: { color: "#0000ff" } },
    lift: { type: "move", set: { by: [0, 2, 0] } },
    stage: { type: "stage" },
  },
  [
    "noise.value>remap.value",
    "remap.value>size.size",
    "grid.sites>early.shape",
    "early.shape>size.shape",
    "size.shape>late.shape",
    "late.shape>lift.shape",
    "lift.shape>stage.shape",
  ],
);

/** Asks about a document at its first frame. */
function asking(document: PieceDocument, frame = 0) {
  const evaluator = new Evaluator();
  const { shape, report } = evaluator.evaluate(document, frame, { inspect: true });
  const look = <T>(
    ask: (flat: ReturnType<typeof flatten>, memory: Parameters<Parameters<Evaluator["query"]>[1]>[1]) => T,
  ) => evaluator.query(document, ask);
  return { evaluator, shape: shape as Shape, report, look };
}

describe("the table of values", () => {
  const { look, shape } = asking(hills);
  const tables = new Tables();
  const page = (query: Partial<TableQuery>) =>
    look((flat, memory) =>
      tables.page(flat, memory, { node: "stage", port: "shape", from: 0, count: 2000, ...query }),
    );
  const scale = [...(shape.sites?.columns.scale.lanes[0] ?? [])];

  it("has every element once, each attribute's parts as columns", () => {
    const table = page({});
    expect(table?.total).toBe(scale.length);
    expect(table?.columns.slice(0, 4)).toEqual(["id", "position.x", "position.y", "position.z"]);
    const at = table?.columns.indexOf("scale.x") ?? -1;
    expect([...(table?.numbers.slice(at * scale.length, (at + 1) * scale.length) ?? [])]).toEqual(scale);
  });

  it("sorts and filters as the language's own sort and filter do, a window at a time", () => {
    const filter = "scale.x > 2.2 && position.x < 0";
    const x = shape.sites?.columns.position.lanes[0] ?? [];
    const wanted = scale
      .map((value, element) => ({ value, element }))
      .filter(({ value, element }) => value > Math.fround(2.2) && x[element] < 0)
      .sort((a, b) => b.value - a.value)
      .map(({ element }) => element);
    const sort = { column: "scale.x", descending: true };
    expect(wanted.length).toBeGreaterThan(12);
    expect([...(page({ filter, sort })?.elements ?? [])]).toEqual(wanted);
    const window = page({ filter, sort, from: 5, count: 4, find: wanted[7] });
    expect([...(window?.elements ?? [])]).toEqual(wanted.slice(5, 9));
    expect(window).toMatchObject({ passed: wanted.length, total: scale.length, row: 7 });
  });

  it("describes a column", () => {
    const statistics = page({ describe: "scale.x" })?.statistics;
    const mean = scale.reduce((sum, v) => sum + v, 0) / scale.length;
    const sorted = [...scale].sort((a, b) => a - b);
    expect(statistics).toMatchObject({
      count: scale.length,
      min: sorted[0],
      max: sorted.at(-1),
      mean: expect.closeTo(mean, 5),
      deviation: expect.closeTo(Math.sqrt(scale.reduce((s, v) => s + (v - mean) ** 2, 0) / scale.length), 5),
    });
    expect(statistics?.bins.reduce((sum, n) => sum + n, 0)).toBe(scale.length);
    const middle = (sorted[sorted.length / 2 - 1] + sorted[sorted.length / 2]) / 2;
    expect(statistics?.median).toBeCloseTo(middle, 5);
  });

  it("says what is wrong with a condition, and shows all", () => {
    expect(page({ filter: "sprout > 1" })).toMatchObject({
      passed: scale.length,
      fault: expect.stringMatching(/"sprout" is not known/),
    });
    expect(page({ filter: "position" })?.fault).toMatch(/one number/);
    expect(page({ filter: "scale.x >" })?.fault).toMatch(/Character/);
  });

  it("shows a field on the elements it is used on, and an empty output as empty", () => {
    const field = page({ node: "remap", port: "value" });
    expect(field?.columns).toEqual(["id", "value", "position.x", "position.y", "position.z"]);
    expect([...(field?.numbers.slice(scale.length, 2 * scale.length) ?? [])]).toEqual(scale);
    expect(page({ node: "nobody" })).toBeNull();
  });

  it("writes the rows that pass as CSV", () => {
    const text = look((flat, memory) =>
      tables.csv(flat, memory, { node: "stage", port: "shape", filter: "id < 3" }),
    );
    expect(text?.trim().split("\r\n")).toHaveLength(4);
  });
});

describe("numbers over time", () => {
  // Born ten a second, gone after half of one; each falls from rest: v = −3 t, so that half of its square is known at every age.
  const falling = graphOf(
    {
      site: { type: "single-site" },
      births: { type: "emitter", set: { rate: 10, speed: 0, life: 0.5, lifeSpread: 0, spread: 0 } },
      fall: { type: "gravity", set: { pull: [0, -3, 0] } },
      it: { type: "particles" },
    },
    ["site.sites>births.shape", "births.births>it.births", "fall.force>it.forces"],
  );

  it("are how many there are, their energy, and those of one for as long as it is there", () => {
    const evaluator = new Evaluator();
    const reader = new OverTimeReader("it", "sites", 1);
    const frames = Array.from({ length: 25 }, (_, frame) => frame);
    for (const frame of frames) {
      evaluator.evaluate(falling, frame, { target: "it" });
      evaluator.query(falling, (_flat, memory) => reader.add(frame, memory));
    }
    const { count, energy, element } = reader.answer();
    expect(reader.answer().frames).toEqual(frames);
    // The second one is born after 0.2 seconds.
    const there = element.age[0].flatMap((age, frame) => (age === null ? [] : [frame]));
    expect([there[0], there[there.length - 1]]).toEqual([
      Math.ceil(0.2 * falling.settings.fps - 1e-6),
      Math.ceil(0.7 * falling.settings.fps - 1e-6) - 1,
    ]);
    for (const frame of there) {
      const age = frame / falling.settings.fps - 0.2;
      expect(element.velocity[1][frame]).toBeCloseTo(-3 * age, 4);
      expect(element.velocity).toHaveLength(3);
    }
    const last = 24 / falling.settings.fps;
    const ages = Array.from({ length: 20 }, (_, k) => last - (k + 1) / 10).filter(
      (age) => age > -1e-6 && age < 0.5 - 1e-6,
    );
    expect(count[24]).toBe(ages.length);
    expect(energy[24]).toBeCloseTo(
      ages.reduce((sum, age) => sum + (3 * age) ** 2 / 2, 0),
      3,
    );
  });

  it("follow an element by its id, whatever its number is by then", () => {
    const evaluator = new Evaluator();
    const at = (frame: number) => {
      evaluator.evaluate(falling, frame, { target: "it" });
      return evaluator.query(falling, (flat, memory) => ({
        trace: traceElement(flat, memory, "it", "sites", 0, 3),
        where: new Tables().followed(flat, memory, {
          node: "it",
          port: "sites",
          elements: [],
          ids: [0, 3],
        }),
      }));
    };
    const { fps } = falling.settings;
    // At 0.45 s there are four, at 0.75 the first two are gone.
    const [early, late, gone] = [0.45, 0.75, 1].map((seconds) => at(Math.round(seconds * fps)));
    expect([early.trace?.element.index, late.trace?.element.index]).toEqual([3, 1]);
    expect([early.trace?.element.id, late.trace?.element.id]).toEqual([3, 3]);
    expect([early.where?.elements, late.where?.elements]).toEqual([
      [0, 3],
      [-1, 1],
    ]);
    expect(late.where?.places).toHaveLength(3);
    expect(gone.trace).toBeNull();
  });
});

describe("the trace of an element", () => {
  it("is what the table says at every node, and lists who changed what, and what was overridden", () => {
    const { look, shape } = asking(hills);
    const trace = look((flat, memory) => traceElement(flat, memory, "stage", "shape", 37));
    const values = outputsOf(hills, "size");
    const scale = (values.shape as Shape).sites?.columns.scale.lanes[0][37];
    expect(trace?.nodes.size.inputs.size).toEqual({ kind: "value", value: [scale] });
    expect(trace?.nodes.remap.outputs.value).toEqual({ kind: "value", value: [scale] });
    expect(trace?.nodes.noise.outputs.value).toMatchObject({ kind: "value" });
    expect(trace?.element.attributes.scale).toEqual([scale, scale, scale]);
    expect(
      trace?.changes.map(({ node, attribute, overriddenBy }) => [node, attribute, overriddenBy]),
    ).toEqual([
      ["early", "color", "late"],
      ["size", "scale", null],
      ["late", "color", null],
      ["lift", "position", null],
    ]);
    const lift = trace?.changes.at(-1);
    expect(lift?.after.map((v, i) => v - lift.before[i])).toEqual([0, 2, 0]);
    expect(trace?.nodes.grid.outputs.sites).toMatchObject({ kind: "element", index: 37 });
    expect(shape.sites?.count).toBe(trace?.count);
  });

  it("finds an element again by its id where others were left out, and by place where shapes were merged", () => {
    const document = graphOf(
      {
        ring: { type: "ring-sites", set: { count: 8 } },
        row: { type: "row-sites", set: { count: 5 } },
        index: { type: "index" },
        some: { type: "compare", set: { b: 3 } },
        keep: { type: "keep" },
        both: { type: "merge" },
        stage: { type: "stage" },
      },
      [
        "index.index>some.a",
        "some.value>keep.when",
        "ring.sites>keep.shape",
        "keep.shape>both.shapes",
        "row.sites>both.shapes",
        "both.shape>stage.shape",
      ],
    );
    const { look, shape } = asking(document);
    const kept = (shape.sites?.count ?? 0) - 5;
    expect(kept).toBeGreaterThan(0);
    expect(kept).toBeLessThan(8);
    const first = look((flat, memory) => traceElement(flat, memory, "stage", "shape", 0));
    const id = shape.sites?.columns.id.lanes[0][0];
    expect(first?.nodes.ring.outputs.sites).toMatchObject({ kind: "element", index: id });
    const last = look((flat, memory) => traceElement(flat, memory, "stage", "shape", kept + 4));
    expect(last?.nodes.row.outputs.sites).toMatchObject({ kind: "element", index: 4 });
    expect(last?.nodes.ring).toBeUndefined();
    expect(look((flat, memory) => traceElement(flat, memory, "stage", "shape", 99))).toBeNull();
  });

  it("is not misled by a mesh that is merged with clones", () => {
    const document = graphOf(
      {
        ball: { type: "sphere" },
        ring: { type: "ring-sites" },
        clones: { type: "clone-onto-sites" },
        lift: { type: "move" },
        both: { type: "merge" },
        stage: { type: "stage" },
      },
      [
        "ring.sites>clones.sites",
        "ball.shape>clones.shapes",
        "clones.clones>lift.shape",
        "ball.shape>both.shapes",
        "lift.shape>both.shapes",
        "both.shape>stage.shape",
      ],
    );
    const trace = asking(document).look((flat, memory) => traceElement(flat, memory, "stage", "shape", 4));
    expect(trace?.changes.map(({ node }) => node)).toEqual(["lift"]);
    expect(trace?.nodes.ring.outputs.sites).toMatchObject({ index: 4 });
  });

  it("says of a particle what each force does to it, in their order", () => {
    const grains = graphOf(
      {
        site: { type: "single-site" },
        births: {
          type: "emitter",
          set: { when: "once", count: 1, speed: 0, spread: 0, life: 0, velocity: [2, 0, 0] },
        },
        fall: { type: "gravity", set: { pull: [0, -3, 0] } },
        air: { type: "drag", set: { linear: 0.5 } },
        stream: { type: "flow", set: { along: [0, 0, 1] } },
        floor: { type: "collide" },
        it: { type: "particles" },
        stage: { type: "stage" },
      },
      [
        "it.sites>stage.shape",
        "site.sites>births.shape",
        "births.births>it.births",
        ...["fall", "air", "stream", "floor"].map((id) => `${id}.force>it.forces`),
      ],
    );
    const { look } = asking(grains);
    const forces = look((flat, memory) => traceElement(flat, memory, "it", "sites", 0))?.forces ?? [];
    expect(forces.map(({ node }) => node)).toEqual(["fall", "air", "stream", "floor"]);
    expect(forces.slice(0, 2).map(({ push }) => push?.map((v) => Number(v.toFixed(5)) + 0))).toEqual([
      [0, -3, 0],
      [-1, 0, 0],
    ]);
    expect(forces[2].flow).toEqual([0, 0, 1]);
  });

  it("goes through capsules", () => {
    const packed = packEdit(hills, new Set(["noise", "remap", "size"]), "Sizes");
    if (!packed.ok) throw new Error(packed.what);
    const { look } = asking(applyEdit(hills, packed.edit).document);
    const trace = look((flat, memory) => traceElement(flat, memory, "stage", "shape", 37));
    expect(trace?.changes.map(({ node }) => node)).toEqual(["early", `${packed.node}/size`, "late", "lift"]);
    expect(trace?.nodes.grid.outputs.sites).toMatchObject({ kind: "element", index: 37 });
  });
});

describe("a copy on the stage", () => {
  it("is the outermost site that it stands on, in arrays of arrays too", () => {
    const document = graphOf(
      {
        box: { type: "box" },
        ball: { type: "sphere" },
        small: { type: "ring-sites", set: { count: 3 } },
        inner: { type: "clone-onto-sites" },
        big: { type: "ring-sites", set: { count: 5, radius: 9 } },
        outer: { type: "clone-onto-sites" },
        stage: { type: "stage" },
      },
      [
        "small.sites>inner.sites",
        "box.shape>inner.shapes",
        "ball.shape>inner.shapes",
        "big.sites>outer.sites",
        "inner.clones>outer.shapes",
        "outer.clones>stage.shape",
      ],
    );
    const { shape } = evaluate(document);
    if (!shape) throw new Error("It failed.");
    const [px, , pz] = shape.sites?.columns.position.lanes ?? [];
    for (const { mesh, count, matrices } of drawingOf(shape).batches) {
      for (let copy = 0; copy < count; copy++) {
        const site = siteOfCopy(shape, mesh, copy) ?? -1;
        // Every copy stands nearer to its own site of the large ring than to any other.
        const away = (s: number) =>
          Math.hypot(matrices[copy * 16 + 12] - px[s], matrices[copy * 16 + 14] - pz[s]);
        const nearest = [0, 1, 2, 3, 4].reduce((a, b) => (away(b) < away(a) ? b : a));
        expect(site).toBe(nearest);
      }
      expect(siteOfCopy(shape, mesh, count)).toBeNull();
    }
  });
});

const near = (n: number) => expect.closeTo(n, 9);

describe("what arrives", () => {
  it("is measured exactly at its ends, over frames, and its middle by quantiles", () => {
    const moving = graphOf(
      {
        grid: { type: "grid-sites" },
        clock: { type: "clock" },
        index: { type: "index" },
        sum: { type: "arithmetic", set: { do: "add" } },
        remap: { type: "remap" },
        size: { type: "scale" },
        stage: { type: "stage" },
      },
      [
        "index.index>sum.a",
        "clock.frame>sum.b",
        "sum.value>remap.value",
        "remap.value>size.size",
        "grid.sites>size.shape",
        "size.shape>stage.shape",
      ],
    );
    const { evaluator } = asking(moving);
    const arrivals = new InputReader({ node: "remap", port: "value", side: "input" });
    for (const frame of [0, 50, 100]) {
      evaluator.evaluate(moving, frame);
      expect(evaluator.query(moving, (flat, memory) => arrivals.take(flat, memory))).toBe(true);
    }
    const count = evaluate(moving).shape?.sites?.count ?? 0;
    const found = arrivals.summary();
    expect(found).toMatchObject({ min: 0, max: count - 1 + 100 });
    const all = [0, 50, 100]
      .flatMap((frame) => Array.from({ length: count }, (_, i) => i + frame))
      .sort((a, b) => a - b);
    const at = 0.02 * (all.length - 1);
    expect(found?.low).toBeCloseTo(
      all[Math.floor(at)] + (all[Math.ceil(at)] - all[Math.floor(at)]) * (at % 1),
      3,
    );
  });

  it("is fitted outwards, and drawn between any two ends with its counts kept", () => {
    const arrived = { min: -0.123456, max: 0.98765, low: 0, high: 0.5, bins: [1, 2, 3, 4], count: 10 };
    const [low, high] = fittedRange(arrived, "whole");
    expect(low).toBeLessThanOrEqual(arrived.min);
    expect(high).toBeGreaterThanOrEqual(arrived.max);
    expect(high - low).toBeLessThan((arrived.max - arrived.min) * 1.01);
    expect(binsBetween(arrived, arrived.min, arrived.max, 4)).toEqual([1, 2, 3, 4].map(near));
    expect(binsBetween(arrived, -10, 10, 7).reduce((sum, n) => sum + n, 0)).toBeCloseTo(10, 9);
    // Turned round, the range reads it backwards.
    expect(binsBetween(arrived, arrived.max, arrived.min, 4)).toEqual([4, 3, 2, 1].map(near));
  });
});

describe("peeking", () => {
  it("shows a shape as it is, a field as colours on the clones, and nothing for one value", () => {
    const { look, shape } = asking(hills);
    const peeked = (node: string, port: string) =>
      look((flat, memory) => peekShape(flat, memory, node, port, shape));
    expect(peeked("grid", "sites")?.sites?.columns.color).toBeUndefined();
    const colors = peeked("remap", "value")?.sites?.columns.color.lanes;
    expect(colors?.[0]).toHaveLength(shape.sites?.count ?? -1);
    // The greatest value is the lightest.
    const scale = [...(shape.sites?.columns.scale.lanes[0] ?? [])];
    const [greatest, least] = [Math.max(...scale), Math.min(...scale)].map((v) => scale.indexOf(v));
    expect(colors?.[1][greatest]).toBeGreaterThan(colors?.[1][least] ?? 1);
    const plain = asking(
      graphOf({ clock: { type: "clock" }, move: { type: "move" }, stage: { type: "stage" } }, [
        "clock.frame>move.amount",
        "move.shape>stage.shape",
      ]),
    );
    expect(plain.look((flat, memory) => peekShape(flat, memory, "clock", "frame", plain.shape))).toBeNull();
  });
});

describe("hints", () => {
  const hintsOf = (document: PieceDocument, node: string) => asking(document).report.nodes[node].hints ?? [];

  it("tell what has no effect, and what a later node replaces", () => {
    expect(hintsOf(hills, "early")).toMatchObject([
      { what: expect.stringMatching(/replaced by "late"/), repair: { bypass: true } },
    ]);
    for (const node of ["grid", "size", "late", "lift"]) expect(hintsOf(hills, node)).toEqual([]);
    const still = applyEdit(hills, { kind: "set-input", node: "lift", input: "amount", value: 0 }).document;
    expect(hintsOf(still, "lift")).toMatchObject([{ repair: { input: "amount", value: 1 } }]);
    // A size that is set replaces the one before on all axes, and not where an axis keeps its own.
    const sized = (weights: readonly number[]) =>
      graphOf(
        {
          grid: { type: "grid-sites" },
          first: { type: "scale", set: { size: 2 } },
          later: { type: "scale", set: { size: 3, how: "set", weights } },
          stage: { type: "stage" },
        },
        ["grid.sites>first.shape", "first.shape>later.shape", "later.shape>stage.shape"],
      );
    expect(hintsOf(sized([1, 1, 1]), "first")).toMatchObject([
      { what: expect.stringMatching(/replaced by "later"/) },
    ]);
    expect(hintsOf(sized([0, 1, 1]), "first")).toEqual([]);
  });

  it("tell a range that nothing falls into, with one that fits; and not one that something does", () => {
    const off = applyEdit(hills, {
      kind: "several",
      edits: [
        { kind: "set-input", node: "remap", input: "fromLow", value: 50 },
        { kind: "set-input", node: "remap", input: "fromHigh", value: 60 },
      ],
    }).document;
    const [hint] = hintsOf(off, "remap");
    expect(hint.what).toMatch(/lies outside/);
    const { input, value, also = [] } = hint.repair as Repair;
    const mended = [{ input, value }, ...also].reduce(
      (piece, set) => applyEdit(piece, { kind: "set-input", node: "remap", ...set }).document,
      off,
    );
    expect(hintsOf(mended, "remap")).toEqual([]);
  });

  it("tell ids that are used twice where they come together", () => {
    const twins = graphOf(
      {
        one: { type: "ring-sites" },
        two: { type: "row-sites" },
        both: { type: "merge" },
        move: { type: "move" },
        stage: { type: "stage" },
      },
      ["one.sites>both.shapes", "two.sites>both.shapes", "both.shape>move.shape", "move.shape>stage.shape"],
    );
    const found = hintsOf(twins, "both");
    const ids = evaluate(twins).shape?.sites?.columns.id.lanes[0] ?? [];
    const unique = new Set(ids).size === ids.length;
    expect(found.length).toBe(unique ? 0 : 1);
    expect(hintsOf(twins, "move")).toEqual([]);
  });
});
