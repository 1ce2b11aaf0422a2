/** Meshes smoothed, taken apart, closed, thickened and drawn out, against solid geometry. */
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { faceSizes, formed, meshIn, pointsIn, through } from "../formed";
import { graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

const CUBE: NodeSpec = { type: "box", set: { size: [2, 2, 2] } };
const SHEET: NodeSpec = { type: "plane", set: { width: 2, depth: 2, across: 4, deep: 4 } };
const BALL: NodeSpec = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 3 } };
const PIPE: NodeSpec = { type: "cylinder", set: { radius: 1, height: 2, around: 12, caps: false } };

describe("smooth surface", () => {
  const rough: NodeSpec = { type: "move", set: {} };
  const bumpy = (type: string, set: Record<string, unknown>) =>
    formed(
      {
        ball: BALL,
        noise: { type: "random", set: { low: 0, high: 0.06 } },
        rough,
        it: { type, set: set as never },
      },
      ["ball.shape>rough.shape", "noise.value>rough.amount", "rough.shape>it.shape"],
    );
  const roughness = (mesh: Mesh) => meshArea(mesh) / meshVolume(mesh) ** (2 / 3);

  it("takes roughness away, and keeps the volume or shrinks, as asked (G. Taubin, 1995)", () => {
    const before = meshIn(bumpy("smooth-surface", { rounds: 0 }));
    const kept = meshIn(bumpy("smooth-surface", { rounds: 20 }));
    const shrunk = meshIn(bumpy("smooth-surface", { rounds: 20, how: "shrinks" }));
    expect(roughness(kept)).toBeLessThan(roughness(before) - 0.01);
    expect(Math.abs(meshVolume(kept) / meshVolume(before) - 1)).toBeLessThan(0.02);
    expect(meshVolume(shrunk)).toBeLessThan(0.95 * meshVolume(before));
  });

  it("leaves points alone where the mask is 0, and borders", () => {
    const mesh = meshIn(through(SHEET, "smooth-surface", { rounds: 30, how: "shrinks" }));
    expect(meshArea(mesh)).toBeCloseTo(4, 5);
    const loose = meshIn(through(SHEET, "smooth-surface", { rounds: 30, how: "shrinks", borders: false }));
    expect(meshArea(loose)).toBeLessThan(3);
    const masked = meshIn(through(SHEET, "smooth-surface", { rounds: 30, borders: false, amount: 0 }));
    expect(pointsIn(masked)).toEqual(pointsIn(meshIn(formed({ it: SHEET }, []))));
  });
});

describe("split faces", () => {
  it("gives every face points of its own, which tell its middle and facing", () => {
    const mesh = meshIn(through(CUBE, "split-faces"));
    expect(mesh.points.count).toBe(24);
    expect(meshArea(mesh)).toBeCloseTo(24, 5);
    const { middle, facing, part } = mesh.points.columns;
    for (let p = 0; p < 24; p++) {
      const [m, f] = [middle, facing].map(({ lanes }) => lanes.map((lane) => lane[p]));
      // Middles of a cube ±1 lie where its faces look to.
      for (let a = 0; a < 3; a++) expect(m[a]).toBeCloseTo(f[a], 6);
    }
    expect(new Set(part.lanes[0]).size).toBe(6);
  });

  it("makes clones of the pieces that stand where those were", () => {
    const nodes = {
      ball: BALL,
      split: { type: "split-faces", set: { as: "clones" } },
      it: { type: "bake-clones" },
    };
    const baked = meshIn(formed(nodes, ["ball.shape>split.shape", "split.shape>it.shape"]));
    const whole = meshIn(formed({ it: BALL }, []));
    expect(baked.faces.count).toBe(whole.faces.count);
    expect(meshArea(baked)).toBeCloseTo(meshArea(whole), 3);
    expect(meshVolume(baked)).toBeCloseTo(meshVolume(whole), 3);
  });

  it("tells parts that hang together apart", () => {
    const nodes = {
      near: CUBE,
      far: BALL,
      moved: { type: "transform", set: { move: [5, 0, 0] } },
      both: { type: "merge" },
      it: { type: "split-faces", set: { into: "parts that hang together", as: "clones" } },
    } as Record<string, NodeSpec>;
    const links = [
      "near.shape>both.shapes",
      "far.shape>moved.shape",
      "moved.shape>both.shapes",
      "both.shape>it.shape",
    ];
    const shape = formed(nodes, links);
    expect(shape.sites?.count).toBe(2);
    expect(shape.sources?.map((source) => isClosed(meshIn(source)))).toEqual([true, true]);
    expect(shape.sites?.columns.position.lanes[0][1]).toBeCloseTo(5, 4);
  });
});

describe("weld and fill holes", () => {
  it("weld makes of split faces the solid again", () => {
    const nodes = { cube: CUBE, split: { type: "split-faces" }, it: { type: "weld" } };
    const mesh = meshIn(formed(nodes, ["cube.shape>split.shape", "split.shape>it.shape"]));
    expect(isClosed(mesh)).toBe(true);
    expect(mesh.points.count).toBe(8);
  });

  it.each(["one face", "a fan of triangles"])("closes a pipe with %s at each end", (how) => {
    const mesh = meshIn(through(PIPE, "fill-holes", { with: how }));
    expect(isClosed(mesh)).toBe(true);
    // The prism of twelve sides [MSH-04].
    expect(meshVolume(mesh)).toBeCloseTo(6, 4);
    expect(eulerCharacteristic(mesh)).toBe(2);
  });

  it("closes and welds only where a field says so", () => {
    const where = { place: { type: "position" }, up: { type: "compare", set: { b: 0 } } };
    const links = ["place.y>up.a", "up.value>it.where"];
    const pipe = meshIn(
      formed({ pipe: PIPE, ...where, it: { type: "fill-holes" } }, ["pipe.shape>it.shape", ...links]),
    );
    expect([isClosed(pipe), eulerCharacteristic(pipe)]).toEqual([false, 1]);
    const cube = meshIn(
      formed({ cube: CUBE, split: { type: "split-faces" }, ...where, it: { type: "weld" } }, [
        "cube.shape>split.shape",
        "split.shape>it.shape",
        ...links,
      ]),
    );
    // Four corners above, and three for each of the four below.
    expect(cube.points.count).toBe(4 + 12);
  });

  it("leaves borders that have more edges", () => {
    const document = graphOf({ pipe: PIPE, it: { type: "fill-holes", set: { most: 11 } } }, [
      "pipe.shape>it.shape",
    ]);
    expect(isClosed(meshIn(outputsOf(document, "it").shape as Shape))).toBe(false);
    expect(reportOf(document, "it").problems[0].what).toMatch(/0 borders were closed, 2 left open/);
  });
});

describe("thicken", () => {
  it.each(["both sides", "the front", "the back"])("makes a slab of a sheet, %s", (towards) => {
    const mesh = meshIn(through(SHEET, "thicken", { thickness: 0.5, towards }));
    expect(isClosed(mesh)).toBe(true);
    expect(meshVolume(mesh)).toBeCloseTo(2, 5);
    const heights = pointsIn(mesh).map(([, y]) => y);
    const wanted = { "both sides": [-0.25, 0.25], "the front": [0, 0.5], "the back": [-0.5, 0] }[towards];
    expect([Math.min(...heights), Math.max(...heights)]).toEqual(wanted);
  });

  it("makes a cube hollow: 8 − 1.6³, its edges as far out as its faces", () => {
    const mesh = meshIn(through(CUBE, "thicken", { thickness: 0.2, towards: "the back" }));
    expect(meshVolume(mesh)).toBeCloseTo(8 - 1.6 ** 3, 4);
    expect(eulerCharacteristic(mesh)).toBe(4);
  });
});

describe("draw out faces", () => {
  it("by themselves each stands on walls of its own", () => {
    const mesh = meshIn(through(CUBE, "draw-out-faces", { distance: 1 }));
    expect(isClosed(mesh)).toBe(true);
    // A cube of 8 and a block of 4 on each of six sides.
    expect(meshVolume(mesh)).toBeCloseTo(8 + 6 * 4, 4);
    expect(mesh.faces.count).toBe(6 + 24);
  });

  it("drawn together they are pyramids", () => {
    const mesh = meshIn(through(CUBE, "draw-out-faces", { distance: 3, inset: 1 }));
    expect(meshVolume(mesh)).toBeCloseTo(8 + (6 * 4 * 3) / 3, 4);
  });

  it("together a sheet goes up as one block with walls at its border only", () => {
    const shape = formed(
      { sheet: SHEET, it: { type: "draw-out-faces", set: { distance: 0.5, as: "together" } } },
      ["sheet.shape>it.shape"],
    );
    const mesh = meshIn(shape);
    expect(mesh.faces.count).toBe(16 + 16);
    expect(Math.max(...pointsIn(mesh).map(([, y]) => y))).toBeCloseTo(0.5, 6);
  });

  it("only chosen ones, which are told by `side`", () => {
    const shape = formed(
      {
        cube: CUBE,
        place: { type: "position" },
        above: { type: "compare", set: { b: 0.5 } },
        it: { type: "draw-out-faces", set: { distance: 1 } },
      },
      ["cube.shape>it.shape", "place.y>above.a", "above.value>it.where"],
    );
    const mesh = meshIn(shape);
    expect(meshVolume(mesh)).toBeCloseTo(12, 4);
    const side = Array.from(mesh.faces.columns.side.lanes[0]);
    expect([0, 1, 2].map((s) => side.filter((v) => v === s).length)).toEqual([5, 4, 1]);
    expect(faceSizes(mesh)).toEqual(new Array(10).fill(4));
  });
});

describe("facings", () => {
  const corners = (set: object, from: NodeSpec = CUBE): number[][] => {
    const { lanes } = meshIn(through(from, "facings", set as never)).corners.columns.normal;
    return Array.from({ length: lanes[0].length }, (_, c) => lanes.map((lane) => lane[c]));
  };

  it("of a cube are those of its faces with edges, and its diagonals without", () => {
    for (const facing of corners({ sharp: 40 })) expect(Math.max(...facing.map(Math.abs))).toBeCloseTo(1, 6);
    for (const facing of corners({ sharp: 120 }))
      for (const v of facing) expect(Math.abs(v)).toBeCloseTo(Math.sqrt(1 / 3), 5);
  });

  it("of a pipe run round but stop at its lids: the trade's usual cylinder (common practice, no source)", () => {
    const all = corners({ sharp: 40 }, { type: "cylinder", set: { radius: 1, height: 2, around: 24 } });
    for (const [, y] of all) expect([0, 1]).toContain(Math.round(Math.abs(y) * 1e6) / 1e6);
  });

  it("turn what is inside out, and only that", () => {
    const nodes = (turns: number): [Record<string, NodeSpec>, string[]] => {
      const all: Record<string, NodeSpec> = {
        ball: BALL,
        it: { type: "facings", set: { faces: "look outwards" } },
      };
      const links = [`${turns === 1 ? "turned" : "ball"}.shape>it.shape`];
      if (turns === 1) {
        all.turned = { type: "facings", set: { faces: "are turned round" } };
        links.push("ball.shape>turned.shape");
      }
      return [all, links];
    };
    for (const turns of [0, 1]) expect(meshVolume(meshIn(formed(...nodes(turns))))).toBeGreaterThan(4);
  });
});

describe("edge paths", () => {
  const paths = (from: NodeSpec, set: object) => through(from, "edge-paths", set as never).curves;

  it("of a pipe's borders are two closed circles, of which one can be kept", () => {
    const both = paths(PIPE, {});
    expect(Array.from(both?.curveStarts ?? [])).toEqual([0, 12, 24]);
    expect(Array.from(both?.curves.columns.closed.lanes[0] ?? [])).toEqual([1, 1]);
    const one = paths(PIPE, { keep: "the nearest to a place", place: [0, 9, 0] });
    expect(new Set(one?.points.columns.position.lanes[1])).toEqual(new Set([1]));
  });

  it("of a cube's sharp edges are its twelve, as three meet at each corner", () => {
    const found = paths(CUBE, { which: "edges that bend" });
    expect([found?.curves.count, found?.points.count]).toEqual([12, 24]);
    expect(paths(BALL, {})).toBeUndefined();
  });
});

it("a mask of faces, edges or points grows by one row a round along edges, and shrinks back", () => {
  const masked = (on: string, take: string, rounds: number): number => {
    const nodes: Record<string, NodeSpec> = {
      sheet: { type: "plane", set: { width: 9, depth: 9, across: 9, deep: 9 } },
      number: { type: "index" },
      first: { type: "compare", set: { is: "about equal to", b: 40 } },
      marked: { type: "store-attribute", set: { name: "mask", on } },
      grown: {
        type: "soften",
        set: { on, attribute: "mask", near: "joined by edges", take: "the greatest", rounds: 2 },
      },
      it: { type: "soften", set: { on, attribute: "mask", near: "joined by edges", take, rounds } },
    };
    const links = [
      "sheet.shape>marked.shape",
      "number.index>first.a",
      "first.value>marked.number",
      "marked.shape>grown.shape",
      "grown.shape>it.shape",
    ];
    const mesh = meshIn(formed(nodes, links));
    const domain = on === "faces" ? mesh.faces : on === "edges" ? mesh.edges : mesh.points;
    return Array.from(domain?.columns.mask.lanes[0] ?? []).filter((v) => v === 1).length;
  };
  // Face 40 of 81 is the middle one: a diamond of r rows has 2r² + 2r + 1 squares.
  expect(masked("faces", "the greatest", 0)).toBe(13);
  expect(masked("faces", "the greatest", 1)).toBe(25);
  expect(masked("faces", "the least", 1)).toBe(5);
  expect(masked("edges", "the least", 2)).toBe(1);
  expect(masked("points", "the least", 2)).toBe(1);
});

it("soften along edges stays on the surface: not over a gap, as it would by distance", () => {
  const nodes = (near: string): Record<string, NodeSpec> => ({
    left: SHEET,
    right: { type: "transform", set: { move: [2.05, 0, 0] } },
    both: { type: "merge" },
    place: { type: "position" },
    side: { type: "compare", set: { b: 1.02 } },
    marked: { type: "store-attribute", set: { name: "heat", on: "points" } },
    it: { type: "soften", set: { attribute: "heat", near, radius: 0.6, rounds: 3 } },
  });
  const links = [
    "left.shape>right.shape",
    "left.shape>both.shapes",
    "right.shape>both.shapes",
    "place.x>side.a",
    "both.shape>marked.shape",
    "side.value>marked.number",
    "marked.shape>it.shape",
  ];
  const heat = (near: string) => Array.from(meshIn(formed(nodes(near), links)).points.columns.heat.lanes[0]);
  expect(new Set(heat("joined by edges"))).toEqual(new Set([0, 1]));
  expect(new Set(heat("within a radius")).size).toBeGreaterThan(4);
});

it("mirror with weld makes one closed solid of a half, faces on the mirror gone", () => {
  const nodes: Record<string, NodeSpec> = {
    box: { type: "box", set: { size: [1, 1, 1] } },
    beside: { type: "transform", set: { move: [0.5, 0, 0] } },
    it: { type: "mirror", set: { across: "x", weld: true } },
  };
  const mesh = meshIn(formed(nodes, ["box.shape>beside.shape", "beside.shape>it.shape"]));
  expect([isClosed(mesh), eulerCharacteristic(mesh), mesh.faces.count]).toEqual([true, 2, 10]);
  expect(meshVolume(mesh)).toBeCloseTo(2, 6);
});

it("nodes for meshes say what to do when clones arrive", () => {
  const document = graphOf({ grid: { type: "grid-sites" }, it: { type: "thicken" } }, [
    "grid.sites>it.shape",
  ]);
  expect(reportOf(document, "it").problems[0].what).toMatch(/Bake clones/);
});
