/** The nodes of the second round, against geometry, statistics and published formulas. */

import { plainNumber, plainNumbers, type Value } from "../../src/core/fields/expression";
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { encodeSrgb } from "../../src/core/maths/color";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf, runNode } from "../run-node";

const meshOf = (type: string, set: object): Mesh => (runNode(type, set).shape as Shape).mesh as Mesh;
const laneOf = (shape: unknown, column: string, lane = 0) => [
  ...((shape as Shape).sites?.columns[column].lanes[lane] ?? []),
];
/** The shape that comes out of the last node of a chain; each feeds the next one's `shape`. */
function through(...nodes: [string, object?][]): Shape {
  const specs = Object.fromEntries(
    nodes.map(([type, set], i) => [`n${i}`, { type, set: set ?? {} } as NodeSpec]),
  );
  const out = ["grid-sites", "ring-sites", "row-sites"].includes(nodes[0][0]) ? "sites" : "shape";
  const links = nodes.slice(1).map((_, i) => `n${i}.${i === 0 ? out : "shape"}>n${i + 1}.shape`);
  return outputsOf(graphOf(specs, links), `n${nodes.length - 1}`).shape as Shape;
}

describe("flat outlines and the geodesic ball", () => {
  it("polygon: n/2 sin(2π/n) [ARR-15]", () => {
    expect(meshArea(meshOf("polygon", { radius: 1, sides: 12 }))).toBeCloseTo(3, 6);
    expect(meshArea(meshOf("polygon", { radius: 1, sides: 13 }))).toBeCloseTo(3.020700618, 6);
  });

  it("star: n·R·r·sin(π/n) by the shoelace formula, looking up", () => {
    const mesh = meshOf("star", { outer: 1, inner: 0.4, points: 5 });
    // Fanning a concave face would count overlaps; its area vector does not.
    const [x, , z] = mesh.points.columns.position.lanes;
    let twice = 0;
    for (let i = 0; i < 10; i++) twice += x[i] * -z[(i + 1) % 10] - x[(i + 1) % 10] * -z[i];
    expect(twice / 2).toBeCloseTo(5 * 0.4 * Math.sin(Math.PI / 5), 5);
  });

  it.each([
    [0, 12, 20, 2.53615071],
    [1, 42, 80, 3.658712209],
    [2, 162, 320, 4.04704468],
    [4, 2562, 5120, 4.179738948],
  ])("geodesic level %i: %i points, %i faces, volume %f [MSH-07]", (detail, points, faces, volume) => {
    const mesh = meshOf("sphere", { build: "geodesic", radius: 1, detail });
    expect([mesh.points.count, mesh.faces.count, eulerCharacteristic(mesh), isClosed(mesh)]).toEqual([
      points,
      faces,
      2,
      true,
    ]);
    expect(meshVolume(mesh)).toBeCloseTo(volume, 4);
  });
});

describe("rows", () => {
  it("include both ends by count, and by a step that fits", () => {
    const row = (set: object) =>
      laneOf(runNode("row-sites", { from: [0, 0, 0], to: [3, 0, 0], ...set }).sites, "position");
    expect(row({ count: 4 })).toEqual([0, 1, 2, 3]);
    expect(row({ by: "step", step: 0.3 })).toHaveLength(11);
    expect(row({ by: "step", step: 0.7 })).toHaveLength(5);
    expect(row({ count: 1 })).toEqual([0]);
  });

  it("refuse a step of 0 with a repair, and a tiny one with what fits", () => {
    expect(
      reportOf(graphOf({ r: { type: "row-sites", set: { by: "step", step: 0 } } }), "r").problems[0].repair
        ?.value,
    ).toBe(0.5);
    const report = reportOf(graphOf({ r: { type: "row-sites", set: { by: "step", step: 1e-8 } } }), "r");
    expect(report.problems[0]).toMatchObject({ input: "step", level: "error" });
    expect(report.problems[0].repair?.value).toBeCloseTo(6 / 4e6, 7);
  });
});

describe("scattering", () => {
  /** Two triangles of area 1 and 3, side by side. */
  const scatter = (set: object, extra: Record<string, NodeSpec> = {}, links: string[] = []) => {
    const document = graphOf(
      {
        plane: { type: "plane", set: { width: 4, depth: 1, across: 4 } },
        scatter: { type: "scatter-sites", set: set as NodeSpec["set"] },
        ...extra,
      },
      ["plane.shape>scatter.shape", ...links],
    );
    return outputsOf(document, "scatter").sites as Shape;
  };

  it("goes by area: quarters of a plane [SAM-09: χ², 3 degrees of freedom, p = 0.001: 16.266]", () => {
    const x = laneOf(scatter({ count: 20_000 }), "position");
    const counts = [-1, 0, 1, 2].map((end) => x.filter((v) => v > end - 1 && v <= end).length);
    expect(counts.reduce((sum, n) => sum + (n - 5000) ** 2 / 5000, 0)).toBeLessThan(16.2662362);
  });

  it("is even within a triangle [SAM-08: mean at the centroid, variance (Σ(v−c)²)/12]", () => {
    const document = graphOf(
      {
        p: { type: "polygon", set: { sides: 3, radius: 1 } },
        s: { type: "scatter-sites", set: { count: 40_000 } },
      },
      ["p.shape>s.shape"],
    );
    const x = laneOf(outputsOf(document, "s").sites, "position");
    const mean = x.reduce((a, b) => a + b, 0) / x.length;
    const variance = x.reduce((a, b) => a + (b - mean) ** 2, 0) / x.length;
    expect(mean).toBeCloseTo(0, 1.7);
    expect(variance).toBeCloseTo((1 + 0.25 + 0.25) / 12, 2);
  });

  it("goes by weight: with a weight of x + 2 the mean x is 2/3", () => {
    const shape = scatter(
      { count: 40_000 },
      { at: { type: "position" }, plus: { type: "arithmetic", set: { do: "add", b: 2 } } },
      ["at.x>plus.a", "plus.value>scatter.weight"],
    );
    const x = laneOf(shape, "position");
    // ∫x(x+2)dx / ∫(x+2)dx over −2…2 = (16/3)/8.
    expect(x.reduce((a, b) => a + b, 0) / x.length).toBeCloseTo(2 / 3, 1.5);
  });

  it("keeps places and ids when the count changes", () => {
    const place = (count: number) => laneOf(scatter({ count }), "position").slice(0, 50);
    expect(place(500)).toEqual(place(50));
  });

  it("says why there is nothing", () => {
    const document = graphOf({ plane: { type: "plane" }, s: { type: "scatter-sites", set: { weight: 0 } } }, [
      "plane.shape>s.shape",
    ]);
    expect(reportOf(document, "s").problems[0].what).toContain("weight is 0 everywhere");
  });
});

describe("falloffs by box and plane", () => {
  const values = (set: object) => {
    const document = graphOf(
      {
        row: { type: "row-sites", set: { count: 5, from: [0, 0, 0], to: [4, 0, 0] } },
        f: { type: "falloff", set: { ease: "linear", ...set } as NodeSpec["set"] },
        s: { type: "scale", set: { how: "set" } },
      },
      ["row.sites>s.shape", "f.value>s.size"],
    );
    return laneOf(outputsOf(document, "s").shape, "scale");
  };
  it("box: 1 inside, then by distance to its sides", () => {
    expect(values({ form: "box", half: [1, 1, 1], inner: 0, outer: 2 })).toEqual([1, 1, 0.5, 0, 0]);
  });
  it("plane: 1 behind it, a slope in front, whatever the direction's length", () => {
    expect(values({ form: "plane", facing: [5, 0, 0], middle: [1, 0, 0], inner: 0, outer: 4 })).toEqual([
      1, 1, 0.75, 0.5, 0.25,
    ]);
    expect(values({ form: "plane", facing: [-1, 0, 0], middle: [2, 0, 0], inner: -2, outer: 2 })).toEqual([
      0, 0.25, 0.5, 0.75, 1,
    ]);
  });
});

describe("wave", () => {
  const at = (x: number, frame: number, set: object) => {
    const document = graphOf(
      {
        s: { type: "single-site", set: { place: [x, 0, 0] } },
        w: { type: "wave", set: set as NodeSpec["set"] },
        m: { type: "move" },
      },
      ["s.sites>m.shape", "w.value>m.amount"],
    );
    return laneOf(outputsOf(document, "m", frame).shape, "position", 1)[0];
  };
  it("travels: A sin(kx − ωt), A 2, λ 4, T 0.5 s [WAV-01]", () => {
    const set = { wavelength: 4, height: 2, speed: 2, loop: false };
    expect(at(1, 0, set)).toBeCloseTo(2, 5);
    expect(at(1, 3.125, set)).toBeCloseTo(0, 5);
    expect(at(2.5, 7.5, set)).toBeCloseTo(0.3128689301, 5);
  });
  it("closes its loop: frame 200 of 200 is frame 0, and the speed is rounded to fit [WAV-02]", () => {
    const set = { wavelength: 3, speed: 0.3 };
    for (const x of [0.1, 1.7]) expect(at(x, 200, set)).toBeCloseTo(at(x, 0, set), 5);
    expect(at(0.1, 50, set)).not.toBeCloseTo(at(0.1, 0, set), 2);
  });
  it.each([
    ["triangle", [0, 1, 0, -1, 0]],
    ["saw", [0, 0.5, -1, -0.5, 0]],
    ["square", [1, 1, -1, -1, 1]],
  ])("%s at quarters of a wavelength", (form, expected) => {
    [0, 0.25, 0.5, 0.75, 1].forEach((x, i) =>
      expect(at(x, 0, { form, wavelength: 1, speed: 0 })).toBeCloseTo(expected[i], 5),
    );
  });
});

describe("choosing values", () => {
  const value = (type: string, set: object) => plainNumber(runNode(type, set).value as Value);
  it("compares", () => {
    expect(value("compare", { a: 2, is: "greater than", b: 1 })).toBe(1);
    expect(value("compare", { a: 2, is: "less than", b: 1 })).toBe(0);
    expect(value("compare", { a: 2, is: "about equal to", b: 2.05, within: 0.1 })).toBe(1);
    expect(value("compare", { a: 2, is: "about equal to", b: 2.2, within: 0.1 })).toBe(0);
  });
  it("chooses and mixes", () => {
    expect([
      value("choose", { when: 0.4, no: 3, yes: 7 }),
      value("choose", { when: 0.6, no: 3, yes: 7 }),
    ]).toEqual([3, 7]);
    expect(value("mix", { a: 10, b: 20, amount: 0.25 })).toBe(12.5);
    // Red and blue half-way in Oklab is #8c53a2 [COL-07].
    const color = plainNumbers(
      runNode("mix", { of: "colours", colorA: "#ff0000", colorB: "#0000ff" }).color as Value[],
    );
    expect(color?.slice(0, 3).map((c) => Math.round(255 * encodeSrgb(c)))).toEqual([0x8c, 0x53, 0xa2]);
  });
  it("turns hues: half a turn and back, grey at 0", () => {
    const shift = (set: object) =>
      plainNumbers(runNode("colour-shift", { own: false, color: "#8c6a53", ...set }).color as Value[]) ?? [];
    const start = shift({});
    expect(shift({ hue: 360 }).map((v, i) => Math.abs(v - start[i]) < 1e-4)).toEqual([
      true,
      true,
      true,
      true,
    ]);
    const grey = shift({ colorful: 0 });
    expect(grey[0]).toBeCloseTo(grey[1], 4);
    expect(grey[1]).toBeCloseTo(grey[2], 4);
  });
});

describe("keeping, ordering, placing, storing", () => {
  it("keeps every third by index, with its ids", () => {
    const document = graphOf(
      {
        ring: { type: "ring-sites", set: { count: 10 } },
        i: { type: "index" },
        rest: { type: "arithmetic", set: { do: "remainder", b: 3 } },
        is: { type: "compare", set: { is: "less than" } },
        keep: { type: "keep" },
      },
      ["ring.sites>keep.shape", "i.index>rest.a", "rest.value>is.a", "is.value>keep.when"],
    );
    expect(laneOf(outputsOf(document, "keep").shape, "id")).toEqual([0, 3, 6, 9]);
  });
  it("orders by value, in reverse, and by chance without losing any [PRG-17]", () => {
    const order = (set: object) => laneOf(through(["row-sites", { count: 50 }], ["renumber", set]), "id");
    expect(order({ by: "reversed" })[0]).toBe(49);
    const shuffled = order({ by: "chance", seed: 2 });
    expect(shuffled).not.toEqual(order({ by: "value" }));
    expect([...shuffled].sort((a, b) => a - b)).toEqual(order({ by: "value" }));
  });
  it("places part of the way", () => {
    expect(
      laneOf(
        through(
          ["row-sites", { count: 2, from: [0, 0, 0], to: [4, 0, 0] }],
          ["place", { at: [2, 8, 0], amount: 0.5 }],
        ),
        "position",
        1,
      ),
    ).toEqual([4, 4]);
  });
  it("stores a value as it is here, and refuses names with a meaning of their own", () => {
    const document = graphOf(
      {
        row: { type: "row-sites", set: { count: 3, from: [1, 0, 0], to: [3, 0, 0] } },
        at: { type: "position" },
        store: { type: "store-attribute" },
        far: { type: "move", set: { by: [9, 0, 0] } },
        heat: { type: "attribute", set: { name: "heat" } },
        size: { type: "scale" },
      },
      [
        "row.sites>store.shape",
        "at.x>store.number",
        "store.shape>far.shape",
        "far.shape>size.shape",
        "heat.value>size.size",
      ],
    );
    expect(laneOf(outputsOf(document, "size").shape, "scale")).toEqual([1, 2, 3]);
    expect(reportOf(graphOf({ s: { type: "store-attribute", set: { name: "rotation" } } }), "s").state).toBe(
      "failed",
    );
    expect(
      reportOf(graphOf({ s: { type: "store-attribute", set: { name: "scale" } } }), "s").problems[0].repair,
    ).toMatchObject({ input: "kind", value: "vector" });
  });
});

describe("repeating and mirroring", () => {
  it("walks on: twelve steps of 1 with turns of 30° close [ARR-13: centre (0.5, 1.866), radius 1.9319]", () => {
    const shape = through(
      ["row-sites", { count: 1, from: [0, 0, 0] }],
      ["repeat", { count: 13, step: [1, 0, 0], turn: [0, 0, 30] }],
    );
    const [x, y] = [laneOf(shape, "position", 0), laneOf(shape, "position", 1)];
    for (let i = 0; i < 13; i++)
      expect(Math.hypot(x[i] - 0.5, y[i] - 1.866025404)).toBeCloseTo(1.931851653, 4);
    expect([x[3], y[3]]).toEqual([expect.closeTo(2.366025404, 4), expect.closeTo(1.366025404, 4)]);
    expect(Math.hypot(x[12], y[12])).toBeLessThan(1e-5);
  });
  it("5 × 5 beds, 3 × 3 times: 225 (common practice, no source)", () => {
    const shape = through(
      ["grid-sites", { across: 5, deep: 5 }],
      ["repeat", { count: 3, step: [6, 0, 0] }],
      ["repeat", { count: 3, step: [0, 0, 6] }],
    );
    expect(shape.sites?.count).toBe(225);
    expect(new Set(laneOf(shape, "id")).size).toBe(225);
  });
  it("mirrors a mesh so that its volume stays positive and doubles", () => {
    const shape = through(["box", {}], ["transform", { move: [2, 0, 0] }], ["mirror", { across: "x" }]);
    expect(shape.mesh && meshVolume(shape.mesh)).toBeCloseTo(2, 5);
    const x = [...(shape.mesh?.points.columns.position.lanes[0] ?? [])];
    expect([Math.min(...x), Math.max(...x)]).toEqual([-2.5, 2.5]);
  });
  it("mirrors clones: twice is where they were", () => {
    const once = through(
      ["ring-sites", { count: 5, outward: "z" }],
      ["rotate", { turn: [20, 30, 40] }],
      ["mirror", { across: "x", at: 1, keep: false }],
      ["mirror", { across: "x", at: 1, keep: false }],
    );
    const start = through(["ring-sites", { count: 5, outward: "z" }], ["rotate", { turn: [20, 30, 40] }]);
    for (const column of ["position", "rotation", "scale"]) {
      laneOf(once, column).forEach((v, i) => expect(v).toBeCloseTo(laneOf(start, column)[i], 5));
    }
  });
});

describe("swirl and cells", () => {
  const moved = (type: string, port: string) =>
    graphOf(
      {
        grid: { type: "grid-sites", set: { across: 6, deep: 6 } },
        flow: { type, set: { speed: 0.7, loop: true, size: 2 } },
        lift: { type: "move", set: { by: [0, 1, 0] } },
        stage: { type: "stage" },
      },
      [
        "grid.sites>lift.shape",
        `flow.${port}>lift.${port === "flow" ? "by" : "amount"}`,
        "lift.shape>stage.shape",
      ],
    );
  const heights = (document: ReturnType<typeof graphOf>, frame: number) => [
    ...(evaluate(document, frame).shape?.sites?.columns.position.lanes[1] ?? []),
  ];

  it.each([
    ["swirl", "flow"],
    ["cells", "nearest"],
    ["cells", "edge"],
  ])("%s closes its loop exactly: %s one frame past the last is that of the first", (type, port) => {
    const document = moved(type, port);
    const { first, last } = document.settings;
    expect(heights(document, last + 1)).toEqual(heights(document, first));
    expect(heights(document, first + 10)).not.toEqual(heights(document, first));
  });

  it("cells give one number to a whole cell, and 0 on the border between two", () => {
    const document = moved("cells", "cell");
    // As many numbers as cells are met: far fewer than 36 sites with cells two spacings wide.
    const numbers = new Set(heights(document, 0));
    expect(numbers.size).toBeGreaterThan(2);
    expect(numbers.size).toBeLessThan(30);
    for (const v of numbers) expect(v >= 0 && v < 1).toBe(true);
    expect(Math.min(...heights(moved("cells", "edge"), 0))).toBeGreaterThanOrEqual(0);
  });

  it("ask for a size other than 0", () => {
    for (const type of ["swirl", "cells"])
      expect(reportOf(graphOf({ node: { type, set: { size: 0 } } }), "node").problems[0].repair?.value).toBe(
        1,
      );
  });
});
