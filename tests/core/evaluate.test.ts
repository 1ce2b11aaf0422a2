import { applyEdit } from "../../src/core/document/edits";
import type { PieceDocument } from "../../src/core/document/schema";
import { drawingOf } from "../../src/core/draw/drawing";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { Cancelled } from "../../src/core/evaluate/options";
import { plainNumber, type Value } from "../../src/core/fields/expression";
import type { Shape } from "../../src/core/geometry/shape";
import { evaluate, graphOf, outputsOf, reportOf } from "../run-node";

const chain = (): PieceDocument =>
  graphOf(
    {
      grid: { type: "grid-sites", set: { across: 4, deep: 3 } },
      clock: { type: "clock" },
      box: { type: "box" },
      clones: { type: "clone-onto-sites" },
      move: { type: "move", set: { by: [0, 2, 0] } },
      stage: { type: "stage" },
    },
    [
      "grid.sites>clones.sites",
      "box.shape>clones.shapes",
      "clones.clones>move.shape",
      "clock.frame>move.amount",
      "move.shape>stage.shape",
    ],
  );

const states = (evaluation: { report: { nodes: Record<string, { state: string }> } | object }) =>
  Object.fromEntries(
    Object.entries((evaluation.report as { nodes: Record<string, { state: string }> }).nodes).map(
      ([id, n]) => [id, n.state],
    ),
  );

describe("evaluation", () => {
  it("runs nothing twice: a frame reruns what depends on time, an edit what is downstream", () => {
    const evaluator = new Evaluator();
    const document = chain();
    expect(new Set(Object.values(states(evaluator.evaluate(document, 0))))).toEqual(new Set(["ran"]));
    expect(new Set(Object.values(states(evaluator.evaluate(document, 0))))).toEqual(new Set(["reused"]));
    expect(states(evaluator.evaluate(document, 1))).toEqual({
      grid: "reused",
      box: "reused",
      clones: "reused",
      clock: "ran",
      move: "ran",
      stage: "ran",
    });
    const edited = applyEdit(document, { kind: "set-input", node: "box", input: "cuts", value: 2 }).document;
    expect(states(evaluator.evaluate(edited, 1))).toEqual({
      grid: "reused",
      clock: "reused",
      box: "ran",
      clones: "ran",
      move: "ran",
      stage: "ran",
    });
  });

  it("gives the same shape object when nothing changed, so that nothing is drawn again", () => {
    const evaluator = new Evaluator();
    expect(evaluator.evaluate(chain(), 3).shape).toBe(evaluator.evaluate(chain(), 3).shape);
  });

  it("gives the same numbers however one got to a frame", () => {
    const lanes = (evaluator: Evaluator, frame: number) =>
      evaluator.evaluate(chain(), frame).shape?.sites?.columns.position.lanes;
    const walked = new Evaluator();
    for (let f = 0; f < 7; f++) walked.evaluate(chain(), f);
    expect(lanes(walked, 7)).toEqual(lanes(new Evaluator(), 7));
    expect(lanes(walked, 7)?.[1][0]).toBe(14);
  });

  it("leaves out what the stage does not need", () => {
    const document = graphOf({ box: { type: "box" }, lost: { type: "sphere" }, stage: { type: "stage" } }, [
      "box.shape>stage.shape",
    ]);
    expect(states(evaluate(document)).lost).toBe("unused");
  });

  it("reports a failed node with its repair; nodes downstream wait", () => {
    const document = graphOf({ ring: { type: "ring-sites", set: { count: -3 } }, stage: { type: "stage" } }, [
      "ring.sites>stage.shape",
    ]);
    const { shape, report } = evaluate(document);
    expect(shape).toBeUndefined();
    expect(report.complete).toBe(false);
    expect(report.nodes.ring).toMatchObject({
      state: "failed",
      problems: [{ input: "count", repair: { input: "count", value: 0 } }],
    });
    expect(report.nodes.stage.state).toBe("waiting");
  });

  it("names the ring when nodes feed each other", () => {
    const document = graphOf({ a: { type: "move" }, b: { type: "move" }, stage: { type: "stage" } }, [
      "a.shape>b.shape",
      "b.shape>a.shape",
      "b.shape>stage.shape",
    ]);
    const { report } = evaluate(document);
    expect(report.problems[0].what).toMatch(/feed each other in a ring: (a → b → a|b → a → b)/);
    expect(report.complete).toBe(false);
  });

  it("stops at once when cancelled, and works the next time", () => {
    const evaluator = new Evaluator();
    let asked = 0;
    const checkCancelled = () => {
      if (++asked > 3) throw new Cancelled();
    };
    expect(() => evaluator.evaluate(chain(), 0, { checkCancelled })).toThrow(Cancelled);
    expect(evaluator.evaluate(chain(), 0).shape?.sites?.count).toBe(12);
  });

  it("asks about cancelling again and again inside a node", () => {
    let asked = 0;
    const big = graphOf(
      { grid: { type: "grid-sites", set: { across: 400, deep: 400 } }, move: { type: "move" } },
      ["grid.sites>move.shape"],
    );
    evaluate(big, 0, { target: "move", checkCancelled: () => asked++ });
    expect(asked).toBeGreaterThanOrEqual(160_000 / 16_384);
  });

  it("passes a bypassed node's first input on", () => {
    const document = chain();
    const passed = applyEdit(document, { kind: "set-bypass", node: "move", bypass: true }).document;
    const { shape, report } = evaluate(passed, 5);
    expect(report.nodes.move.state).toBe("bypassed");
    expect(shape?.sites?.columns.position.lanes[1][0]).toBe(0);
  });

  it("keeps nodes it does not know and says so", () => {
    const document = graphOf({ x: { type: "time-machine" }, stage: { type: "stage" } }, [
      "x.shape>stage.shape",
    ]);
    const { report } = evaluate(document);
    expect(report.nodes.x).toMatchObject({ state: "unknown", problems: [{ level: "warning" }] });
  });

  it("works ranges out where fields are used, middle ones too", () => {
    const document = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 5000, deep: 1, spacing: [1, 1, 1] } },
        at: { type: "position" },
        half: { type: "arithmetic", set: { do: "divide", b: 2 } },
        scale: { type: "scale" },
        stage: { type: "stage" },
      },
      ["grid.sites>scale.shape", "at.x>half.a", "half.value>scale.size", "scale.shape>stage.shape"],
    );
    const { report } = evaluate(document, 0, { inspect: true });
    const range = report.nodes.half.values?.value.ranges?.[0];
    expect(report.nodes.half.values?.value.count).toBe(5000);
    // A sample of 2,048 comes within a few elements of the ends, −1249.75 and 1249.75.
    expect(range?.min).toBeCloseTo(-1249.75, 1);
    expect(range?.max).toBeGreaterThan(1247);
    expect(range?.bins.reduce((a, b) => a + b)).toBe(2048);
    expect(report.nodes.at.values?.x.ranges).toBeDefined();
  });
});

describe("budgets", () => {
  it("refuse 10⁹ sites with the input and the value that fits", () => {
    const report = reportOf(graphOf({ ring: { type: "ring-sites", set: { count: 1e9 } } }), "ring");
    expect(report.problems[0]).toMatchObject({
      level: "error",
      input: "count",
      repair: { input: "count", value: 4_000_000 },
    });
    expect(report.problems[0].what).toBe(
      '"count" asks for 1 000 million sites; the limit is 4 million. 4 million would fit.',
    );
  });

  it("offer a repair that then fits, for several inputs", () => {
    const document = graphOf({ grid: { type: "grid-sites", set: { across: 3000, up: 2, deep: 3000 } } });
    const repair = reportOf(document, "grid").problems[0].repair;
    const { input, value } = repair ?? { input: "", value: 0 };
    const mended = applyEdit(document, { kind: "set-input", node: "grid", input, value }).document;
    expect(reportOf(mended, "grid").state).toBe("ran");
  });

  it("do not offer to change an input that is linked", () => {
    const document = graphOf(
      { n: { type: "arithmetic", set: { a: 1e9, b: 0 } }, ring: { type: "ring-sites" } },
      ["n.value>ring.count"],
    );
    expect(reportOf(document, "ring").problems[0]).toMatchObject({ level: "error", repair: undefined });
  });
});

describe("links between kinds", () => {
  const plain = (document: PieceDocument, node: string, port: string) =>
    plainNumber(outputsOf(document, node)[port] as Value);

  it("turn degrees to radians once, at the input", () => {
    const document = graphOf(
      {
        n: { type: "arithmetic", set: { do: "divide", a: 360, b: 13 } },
        ring: { type: "ring-sites", set: { count: 2, radius: 1, around: "z" } },
      },
      ["n.value>ring.start"],
    );
    const { sites } = outputsOf(document, "ring").sites as Shape;
    expect(
      (Math.atan2(sites?.columns.position.lanes[1][0] ?? 0, sites?.columns.position.lanes[0][0] ?? 0) * 180) /
        Math.PI,
    ).toBeCloseTo(27.692307, 4);
    expect(plain(document, "n", "value")).toBeCloseTo(27.692307692307693, 12);
  });

  it("refuse a value per element where one is needed, in words", () => {
    const document = graphOf({ r: { type: "random" }, ring: { type: "ring-sites" } }, ["r.value>ring.count"]);
    expect(reportOf(document, "ring").problems[0].what).toContain('"count" takes one value for all');
  });

  it("refuse kinds that do not fit", () => {
    const document = graphOf({ g: { type: "gradient" }, ring: { type: "ring-sites" } }, [
      "g.color>ring.count",
    ]);
    expect(reportOf(document, "ring").problems[0].what).toContain("not a colour");
  });

  it("drive a choice by number", () => {
    const document = graphOf(
      {
        n: { type: "arithmetic", set: { a: 2, b: 0 } },
        ring: { type: "ring-sites", set: { count: 1, radius: 1 } },
      },
      ["n.value>ring.around"],
    );
    const { sites } = outputsOf(document, "ring").sites as Shape;
    // The third choice is z, whose ring begins at +X.
    expect(sites?.columns.position.lanes.map((lane) => lane[0])).toEqual([1, 0, 0]);
  });
});

describe("bad numbers", () => {
  it("dividing by zero gives 0 and a warning with a repair", () => {
    const document = graphOf({ n: { type: "arithmetic", set: { do: "divide", a: 5, b: 0 } } });
    expect(plainNumber(outputsOf(document, "n").value as Value)).toBe(0);
    expect(reportOf(document, "n").problems[0]).toMatchObject({ level: "warning", repair: { value: 1 } });
  });

  it("numbers that are not finite become 0 where they are written, and are counted", () => {
    const document = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 4, deep: 1 } },
        at: { type: "position" },
        root: { type: "arithmetic", set: { do: "square root" } },
        scale: { type: "scale" },
      },
      ["grid.sites>scale.shape", "at.x>root.a", "root.value>scale.size"],
    );
    const { sites } = outputsOf(document, "scale").shape as Shape;
    expect([...(sites?.columns.scale.lanes[0] ?? [])]).toEqual([
      0,
      0,
      Math.fround(Math.sqrt(0.5)),
      Math.fround(Math.sqrt(1.5)),
    ]);
    // An even size is one number for each of the four.
    expect(reportOf(document, "scale").problems[0].what).toBe("2 of 4 numbers were not finite and became 0.");
  });

  it("a remap from a range of no width gives its low end [WAV-14]", () => {
    const document = graphOf({
      n: { type: "remap", set: { value: 7, fromLow: 3, fromHigh: 3, toLow: 2, toHigh: 9 } },
    });
    expect(plainNumber(outputsOf(document, "n").value as Value)).toBe(2);
  });

  it("count 0 gives no sites and no error", () => {
    for (const type of ["ring-sites", "spiral-sites"]) {
      expect((outputsOf(graphOf({ n: { type, set: { count: 0 } } }), "n").sites as Shape).sites?.count).toBe(
        0,
      );
    }
  });

  it("settings of the wrong type are refused with the default as repair", () => {
    const report = reportOf(graphOf({ n: { type: "box", set: { size: "large" } } }), "n");
    expect(report.problems[0]).toMatchObject({ input: "size", repair: { value: [1, 1, 1] } });
  });
});

describe("drawing", () => {
  it("counts clones of clones one by one, and not the meshes that stand for themselves", () => {
    const document = graphOf(
      {
        inner: { type: "ring-sites", set: { count: 5 } },
        box: { type: "box" },
        flower: { type: "clone-onto-sites" },
        outer: { type: "ring-sites", set: { count: 7 } },
        flowers: { type: "clone-onto-sites" },
        all: { type: "merge" },
      },
      [
        "inner.sites>flower.sites",
        "box.shape>flower.shapes",
        "outer.sites>flowers.sites",
        "flower.clones>flowers.shapes",
        "flowers.clones>all.shapes",
        "box.shape>all.shapes",
      ],
    );
    const drawing = drawingOf(outputsOf(document, "all").shape as Shape);
    expect(drawing.clones).toBe(35);
    // The same box stands 35 times on sites and once for itself: merging leaves two meshes or shares one.
    expect(drawing.batches.reduce((sum, b) => sum + b.count, 0)).toBe(36);
  });
});
