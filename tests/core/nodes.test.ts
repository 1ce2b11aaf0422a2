/** What nodes do, beyond the reference values. */

import { loadLibraries } from "../../src/core/evaluate/libraries";
import { settingFault } from "../../src/core/evaluate/settings";
import { plainNumber, plainNumbers, type Value } from "../../src/core/fields/expression";
import type { Shape } from "../../src/core/geometry/shape";
import { catalogue } from "../../src/core/nodes/catalogue";
import type { AnyInput } from "../../src/core/nodes/define";
import { graphOf, type NodeSpec, outputsOf, runNode } from "../run-node";

const plain = (type: string, set: object, port = "value") => plainNumber(runNode(type, set)[port] as Value);
const laneOf = (shape: unknown, column: string, lane = 0) => [
  ...((shape as Shape).sites?.columns[column].lanes[lane] ?? []),
];

describe("every node", () => {
  beforeAll(() => loadLibraries(catalogue.values()));

  it.each([...catalogue.values()].map((node) => [node.type, node] as const))(
    "%s is declared soundly",
    (type, node) => {
      expect(type).toMatch(/^[a-z]+(-[a-z]+)*$/);
      expect(node.about).toMatch(/^[A-Z0-9].*\.$/);
      expect(Object.keys(node.outputs).length).toBeGreaterThan(0);
      for (const [name, input] of Object.entries(node.inputs as Record<string, AnyInput>)) {
        expect(`${name}: ${input.about}`).toMatch(/[^ ]: .+\.$/);
        if (input.kind !== "shape") expect(settingFault(input, input.default)).toBeNull();
        if (input.shownWhen) expect(Object.keys(node.inputs)).toContain(input.shownWhen.input);
        if (input.soft) expect(input.soft[0]).toBeLessThan(input.soft[1]);
      }
    },
  );

  it.each([...catalogue.keys()])("%s runs with nothing linked and nothing set, without an error", (type) => {
    expect(Object.keys(runNode(type))).toEqual(Object.keys(catalogue.get(type)?.outputs ?? {}));
  });
});

describe("clock", () => {
  it("gives the frame, seconds, and 0…1 over the range so that the last frame is one step short of 1 [WAV-02]", () => {
    const at = (frame: number) => outputsOf(graphOf({ c: { type: "clock" } }), "c", frame);
    expect([at(50).frame, at(50).seconds, at(50).along].map((v) => plainNumber(v as Value))).toEqual([
      50, 2, 0.25,
    ]);
    expect(plainNumber(at(199).along as Value)).toBe(0.995);
  });
});

describe("arithmetic", () => {
  it.each([
    [{ do: "remainder", a: -0.25, b: 1 }, 0.75], // WAV-13: GLSL 4.60 §8.3
    [{ do: "remainder", a: -7, b: 3 }, 2],
    [{ do: "to and fro", a: 2.3, b: 1 }, 0.3],
    [{ do: "to and fro", a: -0.4, b: 1 }, 0.4],
    [{ do: "fraction", a: -1.2 }, 0.8],
    [{ do: "sine", a: 30 }, 0.5],
    [{ do: "cosine", a: 60 }, 0.5],
    [{ do: "power", a: 2, b: 10 }, 1024],
    [{ do: "logarithm", a: -1 }, 0],
  ])("%j is %f", (set, expected) => expect(plain("arithmetic", set)).toBeCloseTo(expected, 9));
});

describe("remap", () => {
  it.each([
    [{ value: 2, clip: false }, 5], // WAV-14
    [{ value: 12, clip: false }, -20],
    [{ value: 12, clip: true }, -10],
  ])("%j of 0…8 to 10…−10 is %f", (set, expected) => {
    expect(plain("remap", { fromLow: 0, fromHigh: 8, toLow: 10, toHigh: -10, ...set })).toBeCloseTo(
      expected,
      9,
    );
  });
});

describe("falloff", () => {
  it.each([
    ["linear", [1, 0.75, 0.5, 0.25, 0]],
    ["smooth", [1, 0.84375, 0.5, 0.15625, 0]],
    ["cosine", [1, 0.8535533906, 0.5, 0.1464466094, 0]],
  ])("ball, inner 1, outer 3, %s [WAV-11]", (ease, expected) => {
    const document = graphOf(
      {
        line: { type: "grid-sites", set: { across: 8, deep: 1, spacing: [0.5, 1, 1] } },
        place: { type: "move", set: { by: [2.25, 0, 0] } },
        ball: { type: "falloff", set: { inner: 1, outer: 3, ease } },
        size: { type: "scale", set: { how: "set" } },
      },
      ["line.sites>place.shape", "place.shape>size.shape", "ball.value>size.size"],
    );
    const scale = laneOf(outputsOf(document, "size").shape, "scale");
    // Sites at 0.5, 1, 1.5, 2 … 4.
    [0, 2, 3, 4, 6].forEach((i, k) => expect(scale[i]).toBeCloseTo(expected[k], 5));
  });
});

describe("vector arithmetic", () => {
  it("crosses, measures and normalises", () => {
    const run = (set: object) => runNode("vector-arithmetic", set);
    expect(plainNumbers(run({ do: "cross", a: [1, 0, 0], b: [0, 1, 0] }).vector as Value[])).toEqual([
      0, 0, 1,
    ]);
    expect(plainNumber(run({ do: "distance", a: [1, 2, 3], b: [4, 6, 3] }).number as Value)).toBe(5);
    expect(plainNumbers(run({ do: "normalise", a: [3, 0, 4] }).vector as Value[])).toEqual([0.6, 0, 0.8]);
    expect(plainNumbers(run({ do: "normalise" }).vector as Value[])).toEqual([0, 0, 0]);
  });
});

describe("adjusting nodes", () => {
  const grid = { grid: { type: "grid-sites", set: { across: 3, deep: 1 } } };

  it("turn about own axes first, world axes last", () => {
    const turned = (axes: string) => {
      const document = graphOf(
        {
          ...grid,
          first: { type: "rotate", set: { turn: [0, 0, 90] } },
          second: { type: "rotate", set: { turn: [90, 0, 0], axes } },
        },
        ["grid.sites>first.shape", "first.shape>second.shape"],
      );
      return [0, 1, 2, 3].map((l) => laneOf(outputsOf(document, "second").shape, "rotation", l)[0]);
    };
    const half = Math.SQRT1_2;
    // q_z ∘ q_x against q_x ∘ q_z, by Hamilton's rule.
    turned("own").forEach((v, i) => expect(v).toBeCloseTo([0.5, 0.5, 0.5, 0.5][i], 6));
    turned("world").forEach((v, i) =>
      expect(v).toBeCloseTo([half * half, -half * half, half * half, half * half][i], 6),
    );
  });

  it("do half of a turn with half the amount", () => {
    const document = graphOf({ ...grid, turn: { type: "rotate", set: { turn: [0, 120, 0], amount: 0.5 } } }, [
      "grid.sites>turn.shape",
    ]);
    expect(laneOf(outputsOf(document, "turn").shape, "rotation", 1)[0]).toBeCloseTo(Math.sin(Math.PI / 6), 6);
  });

  it("do half of two whole turns as one, and go on evenly through them", () => {
    const at = (set: NodeSpec["set"]) => {
      const document = graphOf({ ...grid, turn: { type: "rotate", set } }, ["grid.sites>turn.shape"]);
      return [0, 1, 2, 3].map((l) => laneOf(outputsOf(document, "turn").shape, "rotation", l)[0]);
    };
    // A quaternion of an angle about Y: (0, sin ½a, 0, cos ½a); 720° × amount.
    for (const amount of [0, 0.125, 0.25, 0.3, 0.5, 0.9, 1]) {
      const half = (Math.PI / 360) * 720 * amount;
      const [x, y, z, w] = at({ turn: [0, 720, 0], amount });
      // The quaternion and its opposite are one rotation.
      const sign = Math.cos(half) * w + Math.sin(half) * y < 0 ? -1 : 1;
      expect([x, z]).toEqual([0, 0]);
      expect(y * sign).toBeCloseTo(Math.sin(half), 5);
      expect(w * sign).toBeCloseTo(Math.cos(half), 5);
    }
    // Linked angles keep their turns as well.
    const linked = graphOf(
      {
        ...grid,
        spin: { type: "angles", set: { y: 540 } },
        turn: { type: "rotate", set: { amount: 0.5 } },
      },
      ["grid.sites>turn.shape", "spin.rotation>turn.turn"],
    );
    const { shape } = outputsOf(linked, "turn");
    expect(Math.abs(laneOf(shape, "rotation", 1)[0])).toBeCloseTo(Math.sin((Math.PI / 360) * 270), 5);
  });

  it("take from a change what each axis is weighted with", () => {
    const changed = (type: string, set: NodeSpec["set"], attribute: string) => {
      const document = graphOf({ ...grid, change: { type, set } }, ["grid.sites>change.shape"]);
      const { shape } = outputsOf(document, "change");
      return [0, 1, 2].map((l) => laneOf(shape, attribute, l)[1]);
    };
    expect(changed("scale", { size: 3, weights: [0, 1, 0.5] }, "scale")).toEqual([1, 3, 2]);
    expect(changed("scale", { size: 3, how: "set", weights: [0, 1, 0] }, "scale")).toEqual([1, 3, 1]);
    expect(changed("move", { by: [2, 2, 2], weights: [1, 0, 0.5] }, "position")).toEqual([2, 0, 1]);
    const turned = changed("rotate", { turn: [50, 80, 20], weights: [0, 1, 0] }, "rotation");
    [0, Math.sin((Math.PI / 180) * 40), 0].forEach((v, a) => expect(turned[a]).toBeCloseTo(v, 6));
  });

  it("move along own axes when asked", () => {
    const document = graphOf(
      {
        ...grid,
        turn: { type: "rotate", set: { turn: [0, 0, 90] } },
        move: { type: "move", set: { by: [1, 0, 0], axes: "own" } },
      },
      ["grid.sites>turn.shape", "turn.shape>move.shape"],
    );
    const shape = outputsOf(document, "move").shape;
    expect(laneOf(shape, "position", 0)[1]).toBeCloseTo(0, 6);
    expect(laneOf(shape, "position", 1)[1]).toBeCloseTo(1, 6);
  });

  it("twist a mesh when the turn differs between its points", () => {
    const document = graphOf(
      {
        box: { type: "box", set: { cuts: 1 } },
        at: { type: "position" },
        angle: { type: "arithmetic", set: { do: "multiply", b: 180 } },
        spin: { type: "angles" },
        twist: { type: "rotate" },
      },
      ["box.shape>twist.shape", "at.y>angle.a", "angle.value>spin.y", "spin.rotation>twist.turn"],
    );
    const { mesh } = outputsOf(document, "twist").shape as Shape;
    const [x, y, z] = mesh?.points.columns.position.lanes ?? [];
    // The top, half a unit up, is turned by 90° about Y: every corner stays at its distance from the axis.
    const tops = [...y].flatMap((v, i) => (v > 0.4 ? [Math.hypot(x[i], z[i])] : []));
    expect(Math.max(...tops)).toBeCloseTo(Math.SQRT1_2, 5);
  });

  it("keep random values with their elements when others come and go", () => {
    const sizes = (count: number) => {
      const document = graphOf(
        { ring: { type: "ring-sites", set: { count } }, r: { type: "random" }, size: { type: "scale" } },
        ["ring.sites>size.shape", "r.value>size.size"],
      );
      return laneOf(outputsOf(document, "size").shape, "scale");
    };
    expect(sizes(40).slice(0, 12)).toEqual(sizes(12));
  });
});

describe("cloning", () => {
  it("picks in order, by number and at random, evenly [χ², 2 degrees of freedom, p = 0.001: 13.8155]", () => {
    const picks = (set: Record<string, string | number>) => {
      const document = graphOf(
        {
          sites: { type: "grid-sites", set: { across: 60, deep: 50 } },
          a: { type: "box" },
          b: { type: "sphere" },
          c: { type: "cone" },
          clones: { type: "clone-onto-sites", set },
        },
        [
          "sites.sites>clones.sites",
          "a.shape>clones.shapes",
          "b.shape>clones.shapes",
          "c.shape>clones.shapes",
        ],
      );
      return laneOf(outputsOf(document, "clones").clones, "source");
    };
    expect(picks({ pick: "in order" }).slice(0, 5)).toEqual([0, 1, 2, 0, 1]);
    expect(new Set(picks({ pick: "by number", number: 4 }))).toEqual(new Set([1]));
    const random = picks({ pick: "at random", seed: 3 });
    const counts = [0, 1, 2].map((k) => random.filter((p) => p === k).length);
    expect(counts.reduce((sum, n) => sum + (n - 1000) ** 2 / 1000, 0)).toBeLessThan(13.8155);
    expect(picks({ pick: "at random", seed: 4 })).not.toEqual(random);
  });

  it("merges shapes with their sources, ids made unique", () => {
    const document = graphOf(
      {
        ring: { type: "ring-sites", set: { count: 3 } },
        box: { type: "box" },
        ball: { type: "sphere" },
        one: { type: "clone-onto-sites" },
        two: { type: "clone-onto-sites" },
        all: { type: "merge" },
      },
      [
        "ring.sites>one.sites",
        "box.shape>one.shapes",
        "ring.sites>two.sites",
        "ball.shape>two.shapes",
        "one.clones>all.shapes",
        "two.clones>all.shapes",
        "box.shape>all.shapes",
      ],
    );
    const shape = outputsOf(document, "all").shape as Shape;
    expect(laneOf(shape, "id")).toEqual([0, 1, 2, 3, 4, 5]);
    expect(laneOf(shape, "source")).toEqual([0, 0, 0, 1, 1, 1]);
    expect(shape.mesh?.faces.count).toBe(6);
  });

  it("stands sites on faces, pointing off the surface, sized by the face", () => {
    const document = graphOf(
      { box: { type: "box", set: { size: [2, 2, 2] } }, seats: { type: "shape-sites" } },
      ["box.shape>seats.shape"],
    );
    const shape = outputsOf(document, "seats").sites as Shape;
    expect(shape.sites?.count).toBe(6);
    expect(laneOf(shape, "size")).toEqual([2, 2, 2, 2, 2, 2]);
    const q = [0, 1, 2, 3].map((l) => laneOf(shape, "rotation", l));
    const p = [0, 1, 2].map((l) => laneOf(shape, "position", l));
    for (let i = 0; i < 6; i++) {
      const [x, y, z, w] = q.map((lane) => lane[i]);
      const up = [2 * (x * y - w * z), 1 - 2 * (x * x + z * z), 2 * (y * z + w * x)];
      up.forEach((v, a) => expect(v).toBeCloseTo(p[a][i], 5));
    }
  });
});
