/** Springs, lags and other frames: against the closed forms of their equations, and the same however a frame is reached. */
import fc from "fast-check";
import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { plainNumber, type Value } from "../../src/core/fields/expression";
import type { Domain } from "../../src/core/geometry/column";
import type { Shape } from "../../src/core/geometry/shape";
import { engine } from "../../src/core/kernels/kernels";
import { lagLeft, overshootOf, springStep } from "../../src/core/maths/spring";
import type { Setting } from "../../src/core/nodes/ports";
import { Checkpoints } from "../../src/core/simulate/checkpoints";
import { Simulation } from "../../src/core/simulate/simulation";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

type Set = Record<string, Setting>;
const sitesOf = (document: PieceDocument, frame: number, target = "node"): Domain =>
  (outputsOf(document, target, frame).shape as Shape).sites as Domain;
const xOf = (document: PieceDocument, frame: number) => sitesOf(document, frame).columns.position.lanes[0][0];

/** A row of sites whose x is one at the first frame and jumps to 0 right after it; `node` follows it. */
function jumping(type: string, set: Set, fps: number, count = 1): PieceDocument {
  const document = graphOf(
    {
      row: { type: "row-sites", set: { count, from: [0, 0, 0], to: [0, 0, 0] } },
      move: { type: "move" },
      node: { type, set },
    },
    ["row.sites>move.shape", "move.shape>node.shape"],
  );
  const [, move] = document.graph.nodes;
  move.keys = {
    by: {
      keys: [
        { frame: 0, value: [1, 0, 0], ease: "hold" },
        { frame: 1, value: [0, 0, 0], ease: "hold" },
      ],
    },
  } as never;
  return { ...document, settings: { ...document.settings, fps, first: 0, last: fps * 4 } };
}

describe("the closed forms", () => {
  // x″ + 2ζω x′ + ω² x = 0, ω = 10, from 1 at rest; values derived from the linear equation with a Taylor solver of 25 digits.
  const TABLE: [zeta: number, values: readonly (readonly [number, number])[]][] = [
    [
      0.2,
      [
        [0.5949662326, -6.938798621],
        [-0.3879626953, -3.950436745],
        [-0.005544451824, 3.689482193],
        [-0.1360920476, 0.5035788416],
      ],
    ],
    [
      1,
      [
        [0.7357588823, -3.678794412],
        [0.2872974952, -2.052124966],
        [0.04042768199, -0.33689735],
        [0.0004993992274, -0.004539992976],
      ],
    ],
    [
      2,
      [
        [0.8222634239, -2.139091303],
        [0.5513525408, -1.47710698],
        [0.282171174, -0.7560753609],
        [0.07390407191, -0.1980253639],
      ],
    ],
  ];
  it.each(TABLE)("of a spring with damping %p", (zeta, values) => {
    [0.1, 0.25, 0.5, 1].forEach((t, i) => {
      const { a, c } = springStep(10, zeta, t);
      expect(a).toBeCloseTo(values[i][0], 8);
      expect(c).toBeCloseTo(values[i][1], 7);
      // Steps of any length come to the same.
      let [x, v] = [1, 0];
      const step = springStep(10, zeta, t / 7);
      for (let n = 0; n < 7; n++) [x, v] = [step.a * x + step.b * v, step.c * x + step.d * v];
      expect([x, v]).toEqual([expect.closeTo(values[i][0], 8), expect.closeTo(values[i][1], 6)]);
    });
  });

  it("of overshoot, and of the way that a lag leaves", () => {
    // e^(−πζ ÷ √(1 − ζ²)), derived.
    expect([0.2, 0.5, 0.7, 1, 3].map(overshootOf)).toEqual([
      expect.closeTo(0.5266205993, 9),
      expect.closeTo(0.1630335348, 9),
      expect.closeTo(0.04598791026, 9),
      0,
      0,
    ]);
    // x′ = 3 (1 − x): half-life ln 2 ÷ 3 = 0.2310490602 s; 0.9502129316 after a second.
    expect(1 - lagLeft(0.2310490602, 1)).toBeCloseTo(0.9502129316, 8);
    expect(lagLeft(0, 1)).toBe(0);
  });
});

describe("following at any frame rate", () => {
  // The target runs from 1 to 0 within the first frame, so the closed form of a jump holds from its middle on, nearly.
  const after = (omega: number, zeta: number, t: number) => springStep(omega, zeta, t).a;

  it.each([24, 25, 60])("at %p frames a second is the closed form", (fps) => {
    for (const damping of [0.2, 1, 2]) {
      const document = jumping("spring", { stiffness: 100, damping }, fps);
      for (const seconds of [0.5, 1]) {
        // A ramp of one frame, exactly: the mean of the jump's answer over its time.
        const steps = 400;
        let mean = 0;
        for (let s = 0; s < steps; s++) mean += after(10, damping, seconds - (s + 0.5) / steps / fps) / steps;
        expect(xOf(document, seconds * fps)).toBeCloseTo(mean, 5);
      }
    }
  });

  it("a lag comes half-way nearer in its time, and never goes beyond", () => {
    const document = jumping("lag", { half: 0.25 }, 100);
    const values = Array.from({ length: 100 }, (_, f) => xOf(document, f));
    expect(values[0]).toBe(1);
    expect(values[75] / values[50]).toBeCloseTo(0.5, 4);
    expect(Math.min(...values)).toBeGreaterThan(0);
  });
});

describe("any frame, any way", () => {
  const swaying = (set: Set = {}, more: Record<string, NodeSpec> = {}): PieceDocument =>
    graphOf(
      {
        grid: { type: "grid-sites", set: { across: 6, deep: 5 } },
        noise: { type: "noise" },
        lift: { type: "join-vector" },
        clock: { type: "clock" },
        wave: { type: "wave" },
        move: { type: "move" },
        turn: { type: "rotate" },
        node: { type: "spring", set },
        ...more,
      },
      [
        "grid.sites>move.shape",
        "wave.value>lift.y",
        "lift.vector>move.by",
        "move.shape>turn.shape",
        "turn.shape>node.shape",
      ],
    );
  const lanesAt = (evaluator: Evaluator, document: PieceDocument, frame: number) => {
    const { outputs, report } = evaluator.evaluate(document, frame, { target: "node" });
    if (!outputs) throw new Error(JSON.stringify(report.nodes.node.problems));
    const { position, rotation, velocity } = ((outputs.shape as Shape).sites as Domain).columns;
    return [position, rotation, velocity].flatMap(({ lanes }) => lanes.map((lane) => [...lane]));
  };

  it("gives the same bits as going through in order", () => {
    const document = swaying();
    const wanted = Array.from({ length: 30 }, (_, f) => lanesAt(new Evaluator(), document, f));
    expect(wanted[3]).not.toEqual(wanted[9]);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 29 }), { minLength: 1, maxLength: 8 }), (frames) => {
        const evaluator = new Evaluator();
        for (const frame of frames) expect(lanesAt(evaluator, document, frame)).toEqual(wanted[frame]);
      }),
      { numRuns: 12 },
    );
  });

  it("works parts of frames out without disturbing whole ones", () => {
    const document = swaying();
    const evaluator = new Evaluator();
    const whole = lanesAt(evaluator, document, 8);
    const [before, between, next] = [7, 7.5, 8].map((f) => lanesAt(evaluator, document, f)[1][3]);
    expect(Math.abs(between - (before + next) / 2)).toBeLessThan(0.1 * Math.abs(next - before) + 1e-3);
    expect(lanesAt(evaluator, document, 8)).toEqual(whole);
  });

  it("sees a change before it at once, and springs on springs", () => {
    const evaluator = new Evaluator();
    const document = swaying({ stiffness: 60 });
    const first = lanesAt(evaluator, document, 12);
    const changed = structuredClone(document);
    changed.graph.nodes[4].set = { amplitude: 3, high: 3 };
    expect(lanesAt(evaluator, changed, 12)).toEqual(lanesAt(new Evaluator(), changed, 12));
    expect(lanesAt(evaluator, document, 12)).toEqual(first);
    const chained = graphOf(
      Object.fromEntries([
        ...document.graph.nodes.map(({ id, type, set }) => [
          id === "node" ? "first" : id,
          { type, set: set as Set },
        ]),
        ["node", { type: "lag" }],
      ]),
      [
        ...document.graph.links.map(({ from, to }) => `${from}>${to.replace("node.", "first.")}`),
        "first.shape>node.shape",
      ],
    );
    const inOrder = new Evaluator();
    for (let f = 0; f < 14; f++) lanesAt(inOrder, chained, f);
    expect(lanesAt(inOrder, chained, 14)).toEqual(lanesAt(new Evaluator(), chained, 14));
  });

  it("holds no more memory after many frames than after few", () => {
    const document = swaying();
    const evaluator = new Evaluator(new Simulation(new Checkpoints(20_000)));
    for (let f = 0; f < 100; f++) lanesAt(evaluator, document, f);
    const few = [engine().memory.used, evaluator.simulation.checkpoints.frames.length];
    expect(evaluator.simulation.checkpoints.bytes).toBeLessThanOrEqual(20_000);
    for (let f = 100; f < 10_000; f++) lanesAt(evaluator, document, f % 997);
    for (let f = 0; f < 100; f++) lanesAt(evaluator, document, f);
    expect(engine().memory.used).toBeLessThanOrEqual(few[0] + 20_000);
    expect(evaluator.simulation.checkpoints.frames.length).toBeLessThanOrEqual(few[1] + 2);
  });

  it("closes a loop when it ran up to it for long enough", () => {
    const document = jumping("spring", { stiffness: 100, damping: 0.5, runUp: 0 }, 25);
    const [, move, node] = document.graph.nodes;
    move.keys = {
      by: {
        keys: [
          { frame: 0, value: [0, 0, 0], ease: "linear" },
          { frame: 15, value: [1, 0, 0], ease: "linear" },
          { frame: 30, value: [0, 0, 0], ease: "linear" },
        ],
        before: "again",
        after: "again",
      },
    } as never;
    const [popped, , end] = [0, 15, 30].map((f) => xOf(document, f));
    expect(Math.abs(popped - end)).toBeGreaterThan(0.01);
    const ready = structuredClone(document);
    ready.graph.nodes[2].set = { ...node.set, runUp: 90 };
    expect(Math.abs(xOf(ready, 0) - xOf(ready, 30))).toBeLessThan(1e-5);
  });

  it("begins new elements at rest, and leaves counts that change alone", () => {
    const document = jumping("spring", { stiffness: 50 }, 25, 3);
    document.graph.nodes[0].keys = {
      count: {
        keys: [
          { frame: 0, value: 3, ease: "hold" },
          { frame: 6, value: 5, ease: "hold" },
        ],
      },
    } as never;
    const x = [...sitesOf(document, 6).columns.position.lanes[0]];
    expect(x.length).toBe(5);
    expect(x.slice(3)).toEqual([0, 0]);
    expect(x[0]).not.toBe(0);
    expect(x[1]).toBe(x[0]);
  });

  it("says what a spring does, and what it cannot do", () => {
    const said = (set: Set) => reportOf(swaying(set), "node").problems.map(({ what }) => what);
    expect(said({ damping: 0.2, stiffness: 100 })).toEqual([
      "It overshoots by 53 % and swings 1.6 times a second.",
    ]);
    expect(said({ damping: 0 })[0]).toMatch(/never settles/);
    expect(said({ stiffness: 0 })[0]).toMatch(/nothing pulls/);
    expect(said({ of: "an attribute", attribute: "heat" })).toContain(
      'No attribute "heat" arrives, so nothing follows.',
    );
    expect(said({ of: "an attribute", attribute: "id" })[0]).toMatch(/whole numbers/);
    expect(said({ stiffness: 1e12, damping: 0.9 })).toHaveLength(1);
  });
});

describe("other frames", () => {
  const spinning = (set: Set, links: string[] = [], more: Record<string, NodeSpec> = {}): PieceDocument => {
    const document = graphOf(
      {
        row: { type: "row-sites", set: { count: 4, from: [0, 0, 0], to: [3, 0, 0] } },
        move: { type: "move" },
        node: { type: "hold-frame", set },
        ...more,
      },
      ["row.sites>move.shape", "move.shape>node.shape", ...links],
    );
    document.graph.nodes[1].keys = {
      by: {
        keys: [
          { frame: 0, value: [0, 0, 0], ease: "linear" },
          { frame: 100, value: [0, 100, 0], ease: "linear" },
        ],
      },
    } as never;
    return document;
  };
  const heights = (document: PieceDocument, frame: number) => [
    ...sitesOf(document, frame).columns.position.lanes[1],
  ];

  it("are one for all, or so many earlier", () => {
    const held = spinning({ frame: 20 });
    for (const frame of [0, 20, 77]) expect(heights(held, frame)).toEqual([20, 20, 20, 20]);
    expect(heights(spinning({ which: "some frames earlier", frame: 5.5 }), 30)).toEqual([
      24.5, 24.5, 24.5, 24.5,
    ]);
  });

  it("are each element's own, with parts of frames", () => {
    const document = spinning(
      { which: "each some frames earlier" },
      ["index.index>times.a", "times.value>node.earlier"],
      { index: { type: "index" }, times: { type: "arithmetic", set: { do: "multiply", b: 2.5 } } },
    );
    heights(document, 40).forEach((y, i) => {
      expect(y).toBeCloseTo(40 - 2.5 * i, 4);
    });
  });

  it("follow a change at the other frame though nothing changed at this one", () => {
    const evaluator = new Evaluator();
    const document = spinning({ frame: 10 });
    const at = (d: PieceDocument) => {
      const { outputs } = evaluator.evaluate(d, 100, { target: "node" });
      return (outputs?.shape as Shape | undefined)?.sites?.columns.position.lanes[1][0];
    };
    expect(at(document)).toBeCloseTo(10, 5);
    const changed = structuredClone(document);
    (changed.graph.nodes[1].keys as never as { by: { keys: { value: number[] }[] } }).by.keys[0].value = [
      0, 50, 0,
    ];
    expect(at(changed)).toBeCloseTo(55, 4);
  });

  it("tell which node failed there", () => {
    const document = spinning({ frame: 10 });
    document.graph.nodes[0].keys = {
      count: {
        keys: [
          { frame: 0, value: 4e9, ease: "hold" },
          { frame: 20, value: 3, ease: "hold" },
        ],
      },
    } as never;
    const { report } = evaluate(document, 30, { target: "node" });
    expect(report.nodes.node.problems[0].what).toMatch(/^At frame 10 "(row|move)" could not be worked out/);
  });
});

describe("a bare value on a spring", () => {
  const following = (type: string, set: Set, from: NodeSpec): PieceDocument => {
    const document = graphOf({ clock: { type: "clock" }, from, node: { type, set } }, [
      "clock.along>from.a",
      "from.value>node.value",
    ]);
    return { ...document, settings: { ...document.settings, first: 0, last: 99 } };
  };
  const valueAt = (document: PieceDocument, frame: number) =>
    plainNumber(outputsOf(document, "node", frame).value as Value) ?? Number.NaN;
  const wave: NodeSpec = { type: "arithmetic", set: { do: "to and fro", b: 0.1 } };

  it.each([
    ["spring", { stiffness: 100, damping: 0.3 }],
    ["lag", { half: 0.2 }],
  ])("moves as a clone does that follows it by a %s", (how, set) => {
    const value = following("spring-value", { how, ...set }, wave);
    const clone = graphOf(
      {
        clock: { type: "clock" },
        from: wave,
        by: { type: "join-vector" },
        row: { type: "row-sites", set: { count: 1, from: [0, 0, 0], to: [0, 0, 0] } },
        move: { type: "move" },
        node: { type: how, set },
      },
      [
        "clock.along>from.a",
        "from.value>by.x",
        "by.vector>move.by",
        "row.sites>move.shape",
        "move.shape>node.shape",
      ],
    );
    const same = { ...clone, settings: value.settings };
    for (const frame of [0, 7, 13.5, 40]) expect(valueAt(value, frame)).toBeCloseTo(xOf(same, frame), 4);
  });

  it("refuses what differs from element to element, in words", () => {
    const document = graphOf({ index: { type: "index" }, node: { type: "spring-value" } }, [
      "index.index>node.value",
    ]);
    expect(reportOf(document, "node").problems[0].what).toMatch(/differs from element to element/);
  });
});

describe("close loop", () => {
  /** Sites that are still on their way when the range ends. */
  const swinging = (over: number): PieceDocument => {
    const document = graphOf(
      {
        row: { type: "row-sites", set: { count: 3 } },
        noise: { type: "noise", set: { speed: 2 } },
        move: { type: "move" },
        turn: { type: "rotate" },
        spin: { type: "angles" },
        clock: { type: "clock" },
        by: { type: "arithmetic", set: { do: "multiply", b: 3 } },
        spring: { type: "spring", set: { runUp: over } },
        node: { type: "close-loop", set: { over } },
      },
      [
        "row.sites>move.shape",
        "noise.vector>move.by",
        "move.shape>turn.shape",
        "clock.frame>by.a",
        "by.value>spin.x",
        "spin.rotation>turn.turn",
        "turn.shape>spring.shape",
        "spring.shape>node.shape",
      ],
    );
    return { ...document, settings: { ...document.settings, first: 0, last: 59 } };
  };
  const places = (document: PieceDocument, frame: number, target = "node") => {
    const { position, rotation } = sitesOf(document, frame, target).columns;
    return [...position.lanes, ...rotation.lanes].map((lane) => [...lane]);
  };

  it("makes the frame after the last the first, and leaves what comes before its span alone", () => {
    const document = swinging(20);
    const [first, after] = [0, 60].map((frame) => places(document, frame).flat());
    after.forEach((v, i) => {
      expect(v).toBeCloseTo(first[i], 5);
    });
    const open = places(document, 60, "spring").flat();
    expect(Math.max(...open.map((v, i) => Math.abs(v - first[i])))).toBeGreaterThan(0.1);
    expect(places(document, 39)).toEqual(places(document, 39, "spring"));
  });

  it("changes no faster than what it closes, but for the way between the two ends", () => {
    const document = swinging(20);
    const gap = (a: number[][], b: number[][]) =>
      Math.max(...a.slice(0, 3).flatMap((lane, l) => lane.map((v, i) => Math.abs(v - b[l][i]))));
    let [own, closed, apart] = [0, 0, 0];
    for (const f of [38, 44, 50, 56, 59]) {
      own = Math.max(own, gap(places(document, f, "spring"), places(document, f + 1, "spring")));
      closed = Math.max(closed, gap(places(document, f), places(document, f + 1)));
      apart = Math.max(apart, gap(places(document, f, "spring"), places(document, f - 60, "spring")));
    }
    // Smoothstep over 20 frames rises by no more than 1.5 / 20 a frame.
    expect(closed).toBeLessThanOrEqual(own * 2 + (apart * 1.5) / 20);
  });
});

it("tells how far it has stepped on the way to a frame, everything at once", () => {
  const document = graphOf(
    {
      row: { type: "row-sites", set: { count: 2 } },
      inner: { type: "spring" },
      outer: { type: "lag" },
      stage: { type: "stage" },
    },
    ["row.sites>inner.shape", "inner.shape>outer.shape", "outer.shape>stage.shape"],
  );
  const told: (readonly [number, number])[] = [];
  new Evaluator().evaluate(document, 5, { stepped: (frame, until) => told.push([frame, until]) });
  expect(told).toEqual([0, 1, 2, 3, 4].map((frame) => [frame, 5]));
});
