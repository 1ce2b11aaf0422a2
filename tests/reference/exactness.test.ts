/** Where rounding could show: at limits of distance, far on in time, near to half a turn, near to critical damping, at keys. */
import fc from "fast-check";
import { apply, constant, plainNumber, type Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeColumn, withColumns } from "../../src/core/geometry/column";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { between, rotate } from "../../src/core/maths/quaternion";
import { springStep } from "../../src/core/maths/spring";
import type { Vec3 } from "../../src/core/maths/vector";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, numbersAt, outputsOf, runNode, sitesAt } from "../run-node";

type Sites = NonNullable<Shape["sites"]>;

describe("at just the distance that is asked for", () => {
  // Spacings that float32 does not hold exactly; places go through rounding of their own.
  const spacings = [0.2, 0.1, 0.3, 1 / 3, 0.7, 1.1];
  const grid = (spacing: number, across = 10): NodeSpec => ({
    type: "grid-sites",
    set: { across, deep: across, spacing: [spacing, spacing, spacing] },
  });
  const inner = (across: number) => across * across - 4 * (across - 1);

  it.each(spacings)(
    "spacing %d: balls that just touch are not trimmed; a hair larger they are",
    (spacing) => {
      const left = (radius: number) =>
        (
          outputsOf(
            graphOf({ grid: grid(spacing), trim: { type: "trim-overlaps", set: { radius } } }, [
              "grid.sites>trim.shape",
            ]),
            "trim",
          ).shape as Shape
        ).sites?.count;
      expect(left(spacing / 2)).toBe(100);
      // Every second one stays, as on a chessboard: diagonals are further apart.
      expect(left((spacing / 2) * 1.001)).toBe(50);
    },
  );

  it.each(spacings)("spacing %d: cubes that just touch are not trimmed by their boxes", (side) => {
    const document = graphOf(
      {
        grid: grid(side),
        cube: { type: "box", set: { size: [side, side, side] } },
        clones: { type: "clone-onto-sites" },
        trim: { type: "trim-overlaps", set: { room: "its own bounds" } },
      },
      ["grid.sites>clones.sites", "cube.shape>clones.shapes", "clones.clones>trim.shape"],
    );
    expect((outputsOf(document, "trim").shape as Shape).sites?.count).toBe(100);
  });

  it.each(spacings)("spacing %d: all four are neighbours, in a group, linked and softened", (spacing) => {
    const sites = outputsOf(graphOf({ grid: grid(spacing) }), "grid").sites as Shape;
    const found = outputsOf(
      graphOf({ grid: grid(spacing), near: { type: "neighbours", set: { reach: spacing } } }, [
        "grid.sites>near.shape",
      ]),
      "near",
    );
    const counts = runValues([found.count as Value], sites.sites as Sites).lanes[0];
    expect([2, 3, 4].map((n) => counts.filter((count) => count === n).length)).toEqual([4, 32, inner(10)]);

    const grouped = outputsOf(
      graphOf({ grid: grid(spacing), group: { type: "group-nearby", set: { reach: spacing } } }, [
        "grid.sites>group.shape",
      ]),
      "group",
    ).shape as Shape;
    expect(Math.max(...(grouped.sites as Sites).columns.group.lanes[0])).toBe(0);

    const linked = outputsOf(
      graphOf({ grid: grid(spacing), link: { type: "link-nearby", set: { reach: spacing, most: 8 } } }, [
        "grid.sites>link.shape",
      ]),
      "link",
    ).curves as Shape;
    // Edges of a 10 × 10 grid: 2 · 10 · 9.
    expect(linked.curves?.curves.count).toBe(180);

    const soft = outputsOf(
      graphOf(
        {
          grid: grid(spacing),
          index: { type: "index" },
          name: { type: "store-attribute", set: { name: "n" } },
          soft: { type: "soften", set: { attribute: "n", radius: spacing } },
        },
        ["grid.sites>name.shape", "index.index>name.number", "name.shape>soft.shape"],
      ),
      "soft",
    ).shape as Shape;
    // Inside, the mean of i, i ± 1 and i ± 10 is i.
    const n = (soft.sites as Sites).columns.n.lanes[0];
    for (let i = 0; i < 100; i++)
      if (i % 10 > 0 && i % 10 < 9 && i > 9 && i < 90) expect(n[i]).toBeCloseTo(i, 3);
  });

  it("far from the origin too, and with no reach what lies on one place", () => {
    const far = (places: number[][], reach: number) => {
      const sites = sitesAt(places);
      const document = graphOf(
        {
          a: { type: "single-site", set: { place: places[0] } },
          b: { type: "single-site", set: { place: places[1] } },
          all: { type: "merge" },
          near: { type: "neighbours", set: { reach } },
        },
        ["a.sites>all.shapes", "b.sites>all.shapes", "all.shape>near.shape"],
      );
      return [...runValues([outputsOf(document, "near").count as Value], sites).lanes[0]];
    };
    expect(
      far(
        [
          [1000.1, 0, 0],
          [1000.3, 0, 0],
        ],
        0.2,
      ),
    ).toEqual([1, 1]);
    expect(
      far(
        [
          [1000.1, 0, 0],
          [1000.31, 0, 0],
        ],
        0.2,
      ),
    ).toEqual([0, 0]);
    expect(
      far(
        [
          [0.1, 0.2, 0.3],
          [0.1, 0.2, 0.3],
        ],
        0,
      ),
    ).toEqual([1, 1]);
  });
});

describe("seeds and ids", () => {
  it("Cells number their cells anew for another seed, and the same for the same", () => {
    const places = Array.from({ length: 50 }, (_, i) => [i * 1.7, i * 0.3, 0]);
    const of = (seed: number) => numbersAt("cells", { seed, jitter: 0 }, "cell", places);
    expect(of(1)).toEqual(of(1));
    // With no jitter the cells are the same for all seeds; of 50 numbers few agree by chance.
    const same = of(1).filter((v, i) => v === of(2)[i]).length;
    expect(same).toBeLessThan(5);
  });

  it("Stagger and Clone onto sites tell the node's seed from the piece's", () => {
    const late = (seed: number, whole: number, type: string, set: Record<string, Setting>, port: string) => {
      const document = graphOf({ node: { type, set: { ...set, seed } } });
      const seeded = { ...document, settings: { ...document.settings, seed: whole } };
      const value = outputsOf(seeded, "node", 40)[port] as Value;
      return [...runValues([value], sitesAt(Array.from({ length: 20 }, (_, i) => [i, 0, 0]))).lanes[0]];
    };
    const stagger = (seed: number, whole: number) =>
      late(seed, whole, "stagger", { order: "by chance" }, "passed");
    expect(stagger(1, 2)).not.toEqual(stagger(2, 1));
    expect(stagger(1, 2)).toEqual(stagger(1, 2));
    const picks = (seed: number, whole: number) => {
      const document = graphOf(
        {
          ring: { type: "ring-sites", set: { count: 40 } },
          box: { type: "box" },
          ball: { type: "sphere" },
          clones: { type: "clone-onto-sites", set: { pick: "at random", seed } },
        },
        ["ring.sites>clones.sites", "box.shape>clones.shapes", "ball.shape>clones.shapes"],
      );
      const seeded = { ...document, settings: { ...document.settings, seed: whole } };
      return (outputsOf(seeded, "clones").clones as Shape).sites?.columns.source.lanes[0];
    };
    expect(picks(1, 2)).not.toEqual(picks(2, 1));
  });

  it("ids beyond 2²⁴ have chances of their own", () => {
    const count = 64;
    const numbered = (first: number) => {
      const id = Int32Array.from({ length: count }, (_, i) => first + i);
      return withColumns(
        makeSites(count, () => {}),
        { id: makeColumn("integer", [id]) },
      );
    };
    const value = runNode("random").value as Value;
    for (const first of [2 ** 24 - 32, 2 ** 30, 2 ** 31 - count]) {
      const [lane] = runValues([value], numbered(first)).lanes;
      expect(new Set(lane).size).toBe(count);
    }
  });
});

describe("far on in time", () => {
  it.each(["sine", "triangle", "saw", "square"])(
    "a %s wave after whole hours is the wave at the beginning",
    (form) => {
      const places = Array.from({ length: 40 }, (_, i) => [i * 0.13 + 0.01, 0, 0]);
      const at = (frame: number) =>
        numbersAt("wave", { form, speed: 1, loop: false, wavelength: 1.7 }, "value", places, frame);
      const first = at(0);
      // 25 frames a second: whole crests have passed after whole seconds.
      for (const hours of [1, 10])
        at(hours * 3600 * 25).forEach((v, i) => {
          expect(v).toBeCloseTo(first[i], 6);
        });
    },
  );

  it("a wave moves by sin(kx − ωt), also after an hour", () => {
    const at = (frame: number) =>
      numbersAt(
        "wave",
        { speed: 0.37, loop: false, wavelength: 2, height: 1 },
        "value",
        [[0.3, 0, 0]],
        frame,
      )[0];
    for (const frame of [0, 15_001, 90_007])
      expect(at(frame)).toBeCloseTo(Math.sin(2 * Math.PI * (0.15 - (0.37 * frame) / 25)), 5);
  });

  it("angles of many rounds turn as far as what is left of them", () => {
    const turned = (degrees: number) => {
      const document = graphOf(
        {
          site: { type: "single-site" },
          angles: { type: "angles", set: { x: degrees } },
          turn: { type: "rotate" },
        },
        ["site.sites>turn.shape", "angles.rotation>turn.by"],
      );
      return (outputsOf(document, "turn").shape as Shape).sites?.columns.rotation.lanes.map(
        (l) => l[0],
      ) as number[];
    };
    const [few, many] = [turned(30), turned(30 + 360 * 10_000)];
    many.forEach((v, l) => {
      expect(v).toBeCloseTo(few[l], 6);
    });
  });

  it("fractions stay below 1 and remainders below what they are of, in blocks and where they are folded", () => {
    const folded = (op: "fraction" | "modulo", ...inputs: number[]) =>
      Math.fround(plainNumber(apply(op, inputs.map(constant))) as number);
    const inBlock = (op: "fraction" | "modulo", ...inputs: number[]) => {
      const sites = sitesAt([[inputs[0], inputs[1] ?? 0, 0]]);
      const lanes = [0, 1].map(
        (l): Value => ({
          step: { op: "column", inputs: [], data: { key: `p${l}`, name: "position", lane: l, fallback: 0 } },
          lane: 0,
        }),
      );
      return runValues([apply(op, lanes.slice(0, inputs.length))], sites).lanes[0][0];
    };
    const float = fc.float({ min: Math.fround(-1e6), max: Math.fround(1e6), noNaN: true });
    const divisor = fc.float({ min: Math.fround(1e-3), max: 100, noNaN: true });
    for (const run of [folded, inBlock]) {
      expect(run("fraction", -1e-9)).toBe(1 - 2 ** -24);
      expect(run("modulo", -1e-9, 3)).toBe(3 - 2 ** -22);
      expect(run("modulo", 1e-9, -3)).toBe(-3 + 2 ** -22);
      // Float32 numbers there lie 1/16 apart, more than the divisor.
      expect(run("modulo", -999986.75, -0.05364163964986801)).toBeLessThanOrEqual(0);
      fc.assert(
        fc.property(float, divisor, fc.boolean(), (x, size, negative) => {
          const y = negative ? -size : size;
          const rest = run("modulo", x, y);
          expect(Math.abs(rest)).toBeLessThan(Math.abs(y));
          expect(rest * y).toBeGreaterThanOrEqual(0);
          const part = run("fraction", x);
          expect(part).toBeLessThan(1);
          expect(part).toBeGreaterThanOrEqual(0);
        }),
        { numRuns: 300 },
      );
    }
  });
});

describe("turns and springs where formulas divide by next to nothing", () => {
  it("nearly opposite directions are met", () => {
    const unit = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        unit,
        unit,
        unit,
        fc.double({ min: -9, max: -1, noNaN: true }),
        unit,
        (x, y, z, tiny, side) => {
          const size = Math.hypot(x, y, z);
          fc.pre(size > 0.1);
          const a: Vec3 = [x / size, y / size, z / size];
          const off = 10 ** tiny;
          const [bx, by, bz] = [-a[0] + off * side, -a[1] + off * (1 - side), -a[2] - off * side];
          const length = Math.hypot(bx, by, bz);
          const b: Vec3 = [bx / length, by / length, bz / length];
          const met = rotate(between(a, b), a);
          expect(Math.hypot(met[0] - b[0], met[1] - b[1], met[2] - b[2])).toBeLessThan(1e-7);
        },
      ),
      { numRuns: 500 },
    );
    const met = rotate(between([0, 1, 0], [0, -1, 0]), [0, 1, 0]);
    [0, -1, 0].forEach((v, a) => {
      expect(met[a]).toBeCloseTo(v, 9);
    });
  });

  it.each([0.999, 0.9999, 0.99995, 1, 1.00005, 1.0001, 1.001])(
    "damping %d: as the equation integrated in 20,000 steps (Runge–Kutta of order 4)",
    (damping) => {
      const omega = Math.sqrt(120);
      for (const t of [0.04, 0.5, 2]) {
        let [x, v] = [1, -3];
        const steps = 20_000;
        const h = t / steps;
        const f = (x: number, v: number) => -2 * damping * omega * v - omega * omega * x;
        for (let i = 0; i < steps; i++) {
          const [k1, l1] = [v, f(x, v)];
          const [k2, l2] = [v + (h / 2) * l1, f(x + (h / 2) * k1, v + (h / 2) * l1)];
          const [k3, l3] = [v + (h / 2) * l2, f(x + (h / 2) * k2, v + (h / 2) * l2)];
          const [k4, l4] = [v + h * l3, f(x + h * k3, v + h * l3)];
          x += (h / 6) * (k1 + 2 * k2 + 2 * k3 + k4);
          v += (h / 6) * (l1 + 2 * l2 + 2 * l3 + l4);
        }
        const { a, b, c, d } = springStep(omega, damping, t);
        expect(a + b * -3).toBeCloseTo(x, 9);
        expect(c + d * -3).toBeCloseTo(v, 8);
      }
    },
  );
});

describe("keyed values", () => {
  const keyed = (
    frame: number,
    keys: { frame: number; value: number; ease?: "hold" | "ease-in" }[],
    delays = [0],
  ) =>
    numbersAt(
      "keys",
      {},
      "value",
      delays.map((d) => [d, 0, 0]),
      frame,
      { value: { keys } } as never,
    );

  it("are not rounded to seven digits", () => {
    const document = graphOf({ node: { type: "arithmetic" } });
    const track = {
      keys: [
        { frame: 0, value: 1_000_000 },
        { frame: 100, value: 1_000_001 },
      ],
    };
    const node = { ...document.graph.nodes[0], keys: { a: track }, set: { b: -1_000_000 } };
    const value = outputsOf(
      { ...document, graph: { ...document.graph, nodes: [node as never] } },
      "node",
      37,
    );
    expect(plainNumber(Object.values(value)[0] as Value)).toBeCloseTo(0.37, 9);
  });

  it("of the Keys node are met exactly at every key, and what holds jumps there", () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(400), { minLength: 2, maxLength: 60 }),
        fc.constantFrom("hold" as const, "ease-in" as const, undefined),
        (frames, ease) => {
          const keys = frames
            .sort((a, b) => a - b)
            .map((frame, i) => ({ frame, value: Math.fround(Math.sin(i) * 7), ...(ease ? { ease } : {}) }));
          for (const [i, key] of keys.entries()) {
            expect(keyed(key.frame, keys)[0]).toBe(key.value);
            if (ease === "hold" && i > 0) expect(keyed(key.frame - 1 / 64, keys)[0]).toBe(keys[i - 1].value);
          }
        },
      ),
      { numRuns: 30 },
    );
  });
});
