/** Layouts in all their forms, against geometry and published spacings. */
import fc from "fast-check";
import { plainNumber, type Value } from "../../src/core/fields/expression";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { GrowingGrid } from "../../src/core/spatial/growing-grid";
import { graphOf, type NodeSpec, outputsOf, reportOf, runNode } from "../run-node";

type Set = Record<string, Setting>;
type Place = readonly [number, number, number];
const placesOf = (shape: Shape): Place[] => {
  const [x, y, z] = shape.sites?.columns.position.lanes ?? [];
  return Array.from(x ?? [], (_, i) => [x[i], y[i], z[i]] as const);
};
const laid = (type: string, set: Set): Place[] => placesOf(runNode(type, set).sites as Shape);
const apart = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const least = (places: readonly Place[]): number => {
  let nearest = Number.POSITIVE_INFINITY;
  for (const [i, a] of places.entries())
    for (let j = 0; j < i; j++) nearest = Math.min(nearest, apart(a, places[j]));
  return nearest;
};
const middle = (places: readonly Place[]): number[] =>
  [0, 1, 2].map((a) => (Math.min(...places.map((p) => p[a])) + Math.max(...places.map((p) => p[a]))) / 2);

describe("grids", () => {
  it("hexagonal: rows √3/2 apart, every inner site has 6 at distance 1 and 6 at √3 [ARR-12]", () => {
    const places = laid("grid-sites", { across: 9, deep: 9, lies: "hexagonal" });
    const rows = [...new Set(places.map((p) => Number(p[2].toFixed(5))))].sort((a, b) => a - b);
    expect(rows[1] - rows[0]).toBeCloseTo(0.8660254038, 4);
    const inner = places[4 * 9 + 4];
    const far = places.map((p) => apart(p, inner)).sort((a, b) => a - b);
    for (const d of far.slice(1, 7)) expect(d).toBeCloseTo(1, 4);
    for (const d of far.slice(7, 13)) expect(d).toBeCloseTo(Math.sqrt(3), 4);
    expect(middle(places)).toEqual([0, 0, 0].map((v) => expect.closeTo(v, 5)));
  });

  it.each([
    ["straight", 1, 6],
    ["hexagonal", 1, 12],
    ["body-centred", Math.sqrt(3) / 2, 8],
  ])("%s: the nearest are %f away, and there are %i of them", (lies, distance, neighbours) => {
    // Contact numbers of the packings, J. H. Conway and N. J. A. Sloane, 1988, table 1.2 and 4.1 (from memory).
    const places = laid("grid-sites", { across: 7, up: 7, deep: 7, lies });
    expect(least(places)).toBeCloseTo(distance, 4);
    const inner = [...places].sort((a, b) => Math.hypot(...a) - Math.hypot(...b))[0];
    expect(places.filter((p) => p !== inner && apart(p, inner) < distance + 1e-4)).toHaveLength(neighbours);
  });

  it("strays by chance within a part of the spacing, stays when the seed does, and covers a shape's bounds", () => {
    const [plain, strayed] = [laid("grid-sites", {}), laid("grid-sites", { jitter: 0.5 })];
    const off = plain.map((p, i) => strayed[i].map((v, a) => v - p[a]));
    for (const d of off) for (const v of d) expect(Math.abs(v)).toBeLessThanOrEqual(0.25 + 1e-6);
    expect(Math.max(...off.flat())).toBeGreaterThan(0.2);
    expect(laid("grid-sites", { jitter: 0.5 })).toEqual(strayed);
    expect(laid("grid-sites", { jitter: 0.5, seed: 1 })).not.toEqual(strayed);
    const document = graphOf(
      {
        box: { type: "box", set: { size: [4, 2, 6] } },
        up: { type: "transform", set: { move: [10, 0, 0] } },
        grid: { type: "grid-sites", set: { across: 4, up: 2, deep: 3 } },
      },
      ["box.shape>up.shape", "up.shape>grid.over"],
    );
    const over = placesOf(outputsOf(document, "grid").sites as Shape);
    expect(over[0]).toEqual([8.5, -0.5, -2]);
    expect(over[23]).toEqual([11.5, 0.5, 2]);
  });
});

describe("rings", () => {
  it("outer rings have as many, or as close ones", () => {
    const rings = (set: Set) => laid("ring-sites", { count: 12, radius: 1, rings: 4, gap: 0.5, ...set });
    const counted = (places: Place[], radius: number) =>
      places.filter((p) => Math.abs(Math.hypot(p[0], p[2]) - radius) < 1e-5).length;
    expect([1, 1.5, 2, 2.5].map((r) => counted(rings({}), r))).toEqual([12, 12, 12, 12]);
    expect([1, 1.5, 2, 2.5].map((r) => counted(rings({ further: "as close" }), r))).toEqual([12, 18, 24, 30]);
  });

  it("polygons and stars: corners lie on the radius, sites evenly along the sides", () => {
    const square = laid("ring-sites", { count: 8, radius: Math.SQRT2, outline: "polygon", sides: 4 });
    const steps = square.map((p, i) => apart(p, square[(i + 1) % 8]));
    for (const step of steps) expect(step).toBeCloseTo(1, 5);
    const star = laid("ring-sites", { count: 10, radius: 2, outline: "star", sides: 5, inner: 0.4 });
    star.forEach((p, i) => expect(Math.hypot(...p)).toBeCloseTo(i % 2 === 0 ? 2 : 0.8, 5));
  });

  it("rise by so much a turn, with both ends", () => {
    const climbing = laid("ring-sites", { count: 25, sweep: 1080, rise: 2, radius: 1 });
    expect(climbing[24][1]).toBeCloseTo(6, 5);
    expect(climbing[8][1]).toBeCloseTo(2, 5);
    expect(climbing[8][0]).toBeCloseTo(climbing[0][0], 5);
  });
});

describe("spirals", () => {
  it("in even turns: equal steps along it, and turns equally far apart", () => {
    const places = laid("spiral-sites", { count: 400, winds: "in even turns", turns: 5, radius: 5 });
    const steps = places.slice(1).map((p, i) => apart(p, places[i]));
    // Away from the middle a step is nearly straight.
    const outer = steps.slice(50);
    expect(Math.max(...outer) / Math.min(...outer)).toBeLessThan(1.01);
    expect(Math.hypot(...places[399])).toBeCloseTo(5, 4);
    // r = R θ ÷ (2π · turns): Archimedes.
    let angle = 0;
    places.slice(1).forEach((p, i) => {
      const [x, z] = [places[i][0], -places[i][2]];
      if (Math.hypot(x, z) > 0.05) angle += Math.atan2(x * -p[2] - z * p[0], x * p[0] + z * -p[2]);
      else angle = Math.atan2(-p[2], p[0]);
      if (i > 60)
        expect(Math.hypot(...p) - (5 * angle) / (10 * Math.PI)).toBeCloseTo(
          Math.round(Math.hypot(...p) - (5 * angle) / (10 * Math.PI)),
          2,
        );
    });
  });

  it("in growing turns: each turn is so many times as wide as the one before", () => {
    const places = laid("spiral-sites", {
      count: 4001,
      winds: "in growing turns",
      turns: 4,
      growth: 2,
      radius: 8,
    });
    const crossings = places
      .slice(1)
      .flatMap((p, i) => (places[i][2] > 0 && p[2] <= 0 && p[0] > 0 ? [p[0]] : []))
      .concat(8)
      .sort((a, b) => b - a);
    expect(crossings[0] / crossings[1]).toBeCloseTo(2, 1);
    expect(crossings[1] / crossings[2]).toBeCloseTo(2, 1);
  });

  it("on cones and cylinders: on the surface, with equal area for each", () => {
    const cone = laid("spiral-sites", { count: 2000, on: "cone", radius: 2, rise: 3 });
    for (const p of cone) expect(p[1] / 3 + Math.hypot(p[0], p[2]) / 2).toBeCloseTo(1, 4);
    // Half of a cone's mantle lies below 1 − √½ of its height.
    expect(cone.filter((p) => p[1] < 3 * (1 - Math.SQRT1_2)).length / 2000).toBeCloseTo(0.5, 2);
    const cylinder = laid("spiral-sites", { count: 1000, on: "cylinder", radius: 2, rise: 3 });
    for (const p of cylinder) expect(Math.hypot(p[0], p[2])).toBeCloseTo(2, 4);
    expect(cylinder.filter((p) => p[1] < 1).length / 1000).toBeCloseTo(1 / 3, 2);
  });
});

const SHEET: NodeSpec = { type: "plane", set: { width: 1, depth: 1 } };
const scattered = (source: NodeSpec, set: Set) =>
  placesOf(
    outputsOf(graphOf({ source, node: { type: "scatter-sites", set } }, ["source.shape>node.shape"]), "node")
      .sites as Shape,
  );

describe("scattering at a least distance", () => {
  // R. Bridson, 2007; A. Lagae and P. Dutré, 2008; N. Oler, 1961 (checks SAM-01 … SAM-03).
  const radius = 0.04;
  const places = scattered(SHEET, { spread: "apart", least: radius, count: 100_000, seed: 3 });

  it("leaves every pair that far apart, within the bounds that are known for their number", () => {
    expect(least(places)).toBeGreaterThanOrEqual(radius - 1e-6);
    expect(places.length).toBeLessThanOrEqual(2 / Math.sqrt(3) / radius ** 2 + 4 / (2 * radius) + 1);
    expect(places.length * radius ** 2).toBeGreaterThan(0.58);
    expect(places.length * radius ** 2).toBeLessThan(0.8);
  });

  it("leaves no room for one more: no place is as far as the distance from all sites", () => {
    const steps = 150;
    let furthest = 0;
    for (let i = 0; i <= steps; i++)
      for (let j = 0; j <= steps; j++) {
        const at: Place = [i / steps - 0.5, 0, j / steps - 0.5];
        furthest = Math.max(furthest, Math.min(...places.map((p) => apart(p, at))));
      }
    // Gaps of a thousandth of the distance are left.
    expect(furthest).toBeLessThan(radius * 1.002);
  });

  it("does so over edges and on fine meshes: every point of a box and of a ball has a site near", () => {
    const solids: [NodeSpec, NodeSpec, number][] = [
      [{ type: "box", set: { size: [1, 1, 1] } }, { type: "box", set: { size: [1, 1, 1], cuts: 23 } }, 0.11],
      [
        { type: "sphere", set: { radius: 1, build: "geodesic", detail: 3 } },
        { type: "sphere", set: { radius: 1, build: "geodesic", detail: 3 } },
        0.2,
      ],
    ];
    for (const [solid, fine, far] of solids) {
      const sites = scattered(solid, { spread: "apart", least: far, count: 100_000 });
      expect(least(sites)).toBeGreaterThanOrEqual(far - 1e-6);
      const { position } = (runNode(fine.type, fine.set ?? {}).shape as Shape).mesh?.points.columns ?? {};
      const [x, y, z] = position?.lanes ?? [];
      for (let p = 0; p < x.length; p++)
        expect(Math.min(...sites.map((s) => apart(s, [x[p], y[p], z[p]])))).toBeLessThan(far * 1.002);
    }
  });

  it("stays where the weight is nothing out of it, and gives a lesser count the first of a greater one's", () => {
    const weighted = (count: number) =>
      placesOf(
        outputsOf(
          graphOf(
            {
              source: { type: "plane", set: { width: 1, depth: 1, across: 20, deep: 20 } },
              at: { type: "position" },
              right: { type: "compare", set: { is: "greater than", b: 0.001 } },
              node: { type: "scatter-sites", set: { spread: "apart", least: 0.03, count } },
            },
            ["at.x>right.a", "right.value>node.weight", "source.shape>node.shape"],
          ),
          "node",
        ).sites as Shape,
      );
    const all = weighted(100_000);
    expect(all.length).toBeGreaterThan(250);
    for (const [x] of all) expect(x).toBeGreaterThan(-1e-6);
    // Most of them are found after the surface was thrown at as a whole.
    for (const count of [40, 200, all.length - 1]) expect(weighted(count)).toEqual(all.slice(0, count));
  });

  it("keeps the sites that are there when more are asked for, and says when no more fit", () => {
    const few = scattered(SHEET, { spread: "apart", least: radius, count: 100, seed: 3 });
    expect(places.slice(0, 100)).toEqual(few);
    const document = graphOf(
      { source: SHEET, node: { type: "scatter-sites", set: { spread: "apart", least: 0.3, count: 500 } } },
      ["source.shape>node.shape"],
    );
    expect(reportOf(document, "node").problems[0]).toMatchObject({
      level: "note",
      what: expect.stringMatching(/^\d+ stand; there is room for no more/),
    });
  });

  it("asks the same of all before as looking at each would", () => {
    const part = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(part, part, part), { maxLength: 60 }),
        fc.tuple(part, part, part),
        (all, at) => {
          const grid = new GrowingGrid(0.7);
          for (const p of all) grid.add(...p);
          expect(grid.isNear(...at, 0.7)).toBe(all.some((p) => apart(p, at) < 0.7));
        },
      ),
    );
  });
});

describe("scattering inside", () => {
  const BALL: NodeSpec = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 4 } };

  it("spreads evenly over the volume: radii go as the cube root of chance", () => {
    const radii = scattered(BALL, { where: "inside", count: 4000 })
      .map((p) => Math.hypot(...p) ** 3)
      .sort((a, b) => a - b);
    expect(radii).toHaveLength(4000);
    // Kolmogorov's statistic, 1.63/√n at 1 %.
    const off = radii.map((v, i) => Math.abs(v - (i + 0.5) / 4000));
    expect(Math.max(...off)).toBeLessThan(1.63 / Math.sqrt(4000));
  });

  it("keeps places when more are asked for; an open mesh is told", () => {
    const many = scattered(BALL, { where: "inside", count: 200, spread: "evenly" });
    expect(scattered(BALL, { where: "inside", count: 50, spread: "evenly" })).toEqual(many.slice(0, 50));
    const open = graphOf({ source: SHEET, node: { type: "scatter-sites", set: { where: "inside" } } }, [
      "source.shape>node.shape",
    ]);
    expect(reportOf(open, "node").problems[0].what).toMatch(/Nothing was found inside/);
  });
});

describe("along curves", () => {
  const sampled = (source: NodeSpec, set: Set) => {
    const outputs = outputsOf(
      graphOf({ source, node: { type: "path-sample", set } }, ["source.shape>node.shape"]),
      "node",
    );
    return [...(outputs.place as Value[]), ...(outputs.direction as Value[]), outputs.length as Value].map(
      plainNumber,
    );
  };

  it("a part of the length is that whatever the radius, round and round a closed curve", () => {
    // Common practice, no source: a handle travels a circle by 0…1 of its length.
    for (const radius of [0.5, 3]) {
      const arc: NodeSpec = { type: "arc", set: { radius, points: 720 } };
      const [x, , z, dx, , dz, length] = sampled(arc, { at: 0.25 }) as number[];
      expect([Math.abs(z), x]).toEqual([expect.closeTo(radius, 3), expect.closeTo(0, 2)]);
      expect(Math.abs(dx)).toBeCloseTo(1, 3);
      expect(dz).toBeCloseTo(0, 2);
      expect(length).toBeCloseTo(2 * Math.PI * radius, 3);
      const again = sampled(arc, { at: 2.25 }) as number[];
      expect(again[2]).toBeCloseTo(z, 4);
    }
    const line: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [4, 0, 0] } };
    expect([-1, 0.25, 2].map((at) => sampled(line, { at })[0])).toEqual([0, 1, 4]);
  });

  it("says so of curves that are not there", () => {
    expect(reportOf(graphOf({ node: { type: "path-sample" } }), "node").problems[0].what).toMatch(
      /No curves/,
    );
    const few = graphOf({ source: { type: "line" }, node: { type: "path-sample", set: { curve: 4 } } }, [
      "source.shape>node.shape",
    ]);
    expect(reportOf(few, "node").problems[0].what).toMatch(/only 1 curves/);
  });
});

describe("picking shapes", () => {
  const picked = (set: Set) => {
    const document = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 100, deep: 100 } },
        a: { type: "box", set: { size: [1, 1, 1] } },
        b: { type: "box", set: { size: [2, 2, 2] } },
        c: { type: "box", set: { size: [4, 4, 4] } },
        index: { type: "index" },
        sized: { type: "store-attribute", set: { name: "size" } },
        clones: { type: "clone-onto-sites", set },
      },
      [
        "grid.sites>sized.shape",
        "index.along>sized.number",
        "sized.shape>clones.sites",
        "a.shape>clones.shapes",
        "b.shape>clones.shapes",
        "c.shape>clones.shapes",
      ],
    );
    const shape = outputsOf(document, "clones").clones as Shape;
    const counts = [0, 0, 0];
    for (const source of shape.sites?.columns.source.lanes[0] ?? []) counts[source]++;
    return { counts, document };
  };

  it("by weights: as often as they say, within what chance allows", () => {
    const { counts } = picked({ pick: "at random", weights: "6 3 1" });
    // Four standard deviations of a binomial count of 10,000.
    [0.6, 0.3, 0.1].forEach((share, i) => {
      expect(Math.abs(counts[i] - 10_000 * share)).toBeLessThan(4 * Math.sqrt(10_000 * share * (1 - share)));
    });
    expect(picked({ pick: "at random", weights: "0, 1, 0" }).counts).toEqual([0, 10_000, 0]);
    const { document } = picked({});
    const wrong = {
      ...document,
      graph: {
        ...document.graph,
        nodes: document.graph.nodes.map((n) =>
          n.id === "clones" ? { ...n, set: { pick: "at random", weights: "many" } } : n,
        ),
      },
    };
    expect(reportOf(wrong, "clones").problems[0]).toMatchObject({
      level: "error",
      repair: { input: "weights", value: "" },
    });
  });

  it("by the nearest size", () => {
    // Sizes run evenly from 0 to 1, and all boxes are larger but the first.
    expect(picked({ pick: "by nearest size" }).counts).toEqual([10_000, 0, 0]);
  });
});

describe("repeating and trimming", () => {
  it("by its own size stacks whatever it is", () => {
    for (const height of [0.5, 3]) {
      const document = graphOf(
        {
          box: { type: "box", set: { size: [1, height, 1] } },
          repeat: { type: "repeat", set: { count: 4, step: [0, 1, 0], counted: "its own size" } },
        },
        ["box.shape>repeat.shape"],
      );
      const y = (outputsOf(document, "repeat").shape as Shape).mesh?.points.columns.position.lanes[1] ?? [];
      expect(Math.max(...y) - Math.min(...y)).toBeCloseTo(4 * height, 5);
    }
  });

  it("leaves the one with more priority of two that overlap", () => {
    const document = graphOf(
      {
        row: { type: "row-sites", set: { count: 10, from: [0, 0, 0], to: [9, 0, 0] } },
        index: { type: "index" },
        trim: { type: "trim-overlaps", set: { radius: 0.8 } },
      },
      ["row.sites>trim.shape", "index.index>trim.priority"],
    );
    const kept = (piece: typeof document) =>
      Array.from((outputsOf(piece, "trim").shape as Shape).sites?.columns.id.lanes[0] ?? []);
    expect(kept(document)).toEqual([1, 3, 5, 7, 9]);
    const plain = { ...document, graph: { ...document.graph, links: document.graph.links.slice(0, 1) } };
    expect(kept(plain)).toEqual([0, 2, 4, 6, 8]);
  });
});
