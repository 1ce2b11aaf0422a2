/** Trails, ribbons, links that hold, and flows along outlines. */
import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { meshArea } from "../../src/core/geometry/measure";
import type { Shape } from "../../src/core/geometry/shape";
import { validateShape } from "../../src/core/geometry/validate";
import type { Setting } from "../../src/core/nodes/ports";
import { shippedRecipes } from "../../src/server/demo";
import { formed, meshIn, through } from "../formed";
import { graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

type Set = Record<string, Setting>;

const GRAINS: Record<string, NodeSpec> = {
  ball: { type: "sphere", set: { radius: 0.5 } },
  births: { type: "emitter", set: { rate: 200, life: 1, lifeSpread: 0.4, speed: 1 } },
  eddies: { type: "swirl-force", set: { strength: 4 } },
  grains: { type: "particles" },
};
const LINKS = [
  "ball.shape>births.shape",
  "births.births>grains.births",
  "eddies.force>grains.forces",
  "grains.sites>it.shape",
];
const shapeAt = (
  document: ReturnType<typeof graphOf>,
  node: string,
  frame: number,
  evaluator: Evaluator,
): Shape => {
  const { outputs, report } = evaluator.evaluate(document, frame, { target: node });
  if (!outputs) throw new Error(JSON.stringify(report.nodes[node]?.problems));
  const shape = Object.values(outputs)[0] as Shape;
  expect(validateShape(shape)).toEqual([]);
  return shape;
};

describe("trails", () => {
  const document = (set: Set) => graphOf({ ...GRAINS, it: { type: "trails", set } }, LINKS);

  it("go through where each particle was at those frames, joined by ids, whatever way one got there", () => {
    const piece = document({ length: 8, every: 2 });
    const evaluator = new Evaluator();
    const places = new Map<string, number[]>();
    for (let frame = 30; frame <= 41; frame++) {
      const { sites } = shapeAt(piece, "grains", frame, evaluator);
      const { lanes } = sites?.columns.position ?? { lanes: [] };
      for (let i = 0; i < (sites?.count ?? 0); i++)
        places.set(
          `${sites?.columns.id.lanes[0][i]} ${frame}`,
          lanes.map((lane) => lane[i]),
        );
    }
    const { curves } = shapeAt(piece, "it", 41, new Evaluator());
    if (!curves) throw new Error("There are no trails.");
    const ids = curves.curves.columns.id.lanes[0];
    const { lanes } = curves.points.columns.position;
    const aged = curves.points.columns.aged.lanes[0];
    for (let k = 0; k < curves.curves.count; k++)
      for (let p = curves.curveStarts[k]; p < curves.curveStarts[k + 1]; p++) {
        const frame = 41 - Math.round(aged[p] * 8);
        expect(lanes.map((lane) => lane[p])).toEqual(places.get(`${ids[k]} ${frame}`));
        // Every second frame, and the present one.
        expect(frame === 41 || frame % 2 === 0).toBe(true);
      }
    const back = new Evaluator();
    shapeAt(piece, "it", 60, back);
    expect(
      shapeAt(piece, "it", 41, back).curves?.points.columns.position.lanes.map((lane) => [...lane]),
    ).toEqual(lanes.map((lane) => [...lane]));
  });

  it("outlive what is gone until they have passed, or go with it", () => {
    const alive = new Set(shapeAt(document({}), "grains", 60, new Evaluator()).sites?.columns.id.lanes[0]);
    const idsOf = (set: Set) => [
      ...(shapeAt(document(set), "it", 60, new Evaluator()).curves?.curves.columns.id.lanes[0] ?? []),
    ];
    expect(idsOf({ stay: true }).some((id) => !alive.has(id))).toBe(true);
    expect(idsOf({ stay: false }).every((id) => alive.has(id))).toBe(true);
  });

  it("leave places out that lie close, and say when nothing arrives", () => {
    const counts = [0, 0.3].map(
      (apart) => shapeAt(document({ apart }), "it", 40, new Evaluator()).curves?.points.count ?? 0,
    );
    expect(counts[1]).toBeLessThan(counts[0] / 2);
    const bare = graphOf({ it: { type: "trails" } });
    outputsOf(bare, "it");
    expect(reportOf(bare, "it").problems[0].what).toMatch(/Nothing arrives/);
  });
});

it("a ribbon has the area of its length times its width, and looks where it is told", () => {
  const line: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [4, 0, 0], points: 9 } };
  for (const facing of [
    [0, 1, 0],
    [0, 0, 1],
  ]) {
    const mesh = meshIn(through(line, "ribbon", { width: 0.5, facing }));
    expect(meshArea(mesh)).toBeCloseTo(2, 5);
    const flat = facing[1] === 1 ? 1 : 2;
    for (const v of mesh.points.columns.position.lanes[flat]) expect(v).toBeCloseTo(0, 6);
  }
  // Along the way that it should look there is no side; it is as wide all the same.
  expect(meshArea(meshIn(through(line, "ribbon", { width: 0.5, facing: [1, 0, 0] })))).toBeCloseTo(2, 5);
});

it("steady links hold further than they begin, and are those of brute force where they do not", () => {
  const moving = (set: Set): ReturnType<typeof graphOf> =>
    graphOf(
      {
        pair: { type: "row-sites", set: { count: 2, from: [0, 0, 0], to: [1, 0, 0] } },
        clock: { type: "clock" },
        index: { type: "index" },
        far: { type: "arithmetic", set: { do: "multiply" } },
        by: { type: "join-vector" },
        moved: { type: "move" },
        it: { type: "steady-links", set: { reach: 1.5, ...set } },
      },
      [
        "pair.sites>moved.shape",
        "clock.seconds>far.a",
        "index.index>far.b",
        "far.value>by.x",
        "by.vector>moved.by",
        "moved.shape>it.shape",
      ],
    );
  // A unit apart at first and a unit a second further: at 1.5 after half a second, at 2.1 after 1.1.
  const there = (hold: number, frame: number) =>
    shapeAt(moving({ hold }), "it", frame, new Evaluator()).curves !== undefined;
  expect([there(1, 12), there(1, 13), there(1.4, 27), there(1.4, 28)]).toEqual([true, false, true, false]);
  const many = graphOf(
    { ...GRAINS, it: { type: "steady-links", set: { reach: 0.3, hold: 1, most: 64 } } },
    LINKS,
  );
  const evaluator = new Evaluator();
  const { sites } = shapeAt(many, "grains", 20, evaluator);
  const [x, y, z] = sites?.columns.position.lanes ?? [];
  let near = 0;
  for (let i = 0; i < x.length; i++)
    for (let j = i + 1; j < x.length; j++)
      if (Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j]) <= 0.3) near++;
  expect(shapeAt(many, "it", 20, evaluator).curves?.curves.count).toBe(near);
});

it("faces stand between each three that are linked: those of an octahedron, and those of brute force", () => {
  // Its corners are √2 from their four neighbours and 2 from the one across: 8 faces, and V − E + F = 2 (Euler).
  const corners = graphOf(
    {
      ring: { type: "ring-sites", set: { count: 4, radius: 1 } },
      poles: { type: "row-sites", set: { count: 2, from: [0, -1, 0], to: [0, 1, 0] } },
      all: { type: "merge" },
      it: { type: "link-nearby", set: { reach: 1.5, most: 6, as: "surfaces" } },
    },
    ["ring.sites>all.shapes", "poles.sites>all.shapes", "all.shape>it.shape"],
  );
  const octahedron = shapeAt(corners, "it", 0, new Evaluator());
  expect([octahedron.mesh?.points.count, octahedron.mesh?.faces.count]).toEqual([6, 8]);
  const near = octahedron.mesh?.faces.columns.closeness.lanes[0][0];
  expect(near).toBeCloseTo(1 - Math.SQRT2 / 1.5, 5);
  const set = { reach: 0.3, hold: 1, most: 64, as: "both" };
  const many = graphOf({ ...GRAINS, it: { type: "steady-links", set } }, LINKS);
  const evaluator = new Evaluator();
  const [x, y, z] = shapeAt(many, "grains", 20, evaluator).sites?.columns.position.lanes ?? [];
  const linked = (i: number, j: number) => Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j]) <= 0.3;
  let threes = 0;
  for (let i = 0; i < x.length; i++)
    for (let j = i + 1; j < x.length; j++)
      if (linked(i, j)) for (let k = j + 1; k < x.length; k++) if (linked(i, k) && linked(j, k)) threes++;
  const both = shapeAt(many, "it", 20, evaluator);
  expect(both.mesh?.faces.count).toBe(threes);
  expect(both.curves?.curves.count).toBeGreaterThan(0);
});

describe("outline flow", () => {
  const flowAt = (
    outline: Record<string, NodeSpec>,
    links: readonly string[],
    set: Set,
    place: readonly number[],
  ) => {
    const shape = formed(
      {
        ...outline,
        site: { type: "single-site", set: { place: [...place] } },
        flow: { type: "outline-flow", set },
        it: { type: "store-attribute", set: { name: "way", kind: "vector" } },
      },
      [...links, "site.sites>it.shape", "flow.flow>it.vector"],
    );
    return shape.sites?.columns.way.lanes.map((lane) => lane[0]) ?? [];
  };
  const circle = { ring: { type: "arc", set: { radius: 2, points: 720 } } };

  it("inside a ring runs along its tangent, at the speed that is asked for", () => {
    for (const angle of [0.3, 1.7, 4]) {
      const place = [Math.cos(angle), 0, Math.sin(angle)];
      const way = flowAt(circle, ["ring.shape>flow.shape"], { neighbours: 12, speed: 1.5 }, place);
      expect(Math.hypot(...way)).toBeCloseTo(1.5, 4);
      expect(Math.abs(way[0] * place[0] + way[2] * place[2])).toBeLessThan(0.03);
    }
  });

  it("between two rings runs along both, or against the inner one", () => {
    const two = { ...circle, hole: { type: "arc", set: { radius: 1, points: 48 } }, both: { type: "merge" } };
    const links = ["ring.shape>both.shapes", "hole.shape>both.shapes", "both.shape>flow.shape"];
    const [near, far] = [
      [1.05, 0, 0],
      [1.95, 0, 0],
    ];
    const along = (place: number[]) => flowAt(two, links, { neighbours: 4 }, place)[2];
    expect(Math.sign(along(near))).toBe(Math.sign(along(far)));
    const turned = flowAt(two, links, { neighbours: 4, turn: 90 }, far);
    expect(Math.abs(turned[0])).toBeCloseTo(1, 2);
  });
});

it("arrows are as long as their vectors times the size, shaft and head; what is nothing has none", () => {
  const shape = formed(
    {
      row: { type: "row-sites", set: { count: 3, from: [0, 0, 0], to: [2, 0, 0] } },
      index: { type: "index" },
      way: { type: "join-vector" },
      it: { type: "arrows", set: { size: 0.5, head: 0.1 } },
    },
    ["row.sites>it.shape", "index.index>way.y", "way.vector>it.vector"],
  );
  expect(shape.curves?.curves.count).toBe(4);
  const [, y] = shape.curves?.points.columns.position.lanes ?? [];
  expect([y[0], y[1], y[6], y[8]]).toEqual([0, 0.5, 1, 1]);
});

it("shortest ways along a net are those of trying all, thicker where more go, and none where it falls apart", () => {
  const nodes: Record<string, NodeSpec> = {
    knots: { type: "grid-sites", set: { across: 5, deep: 5, spacing: [1, 1, 1] } },
    net: { type: "link-nearby", set: { reach: 1.01, most: 4 } },
    corner: { type: "single-site", set: { place: [-2, 0, -2] } },
    it: { type: "shortest-ways" },
  };
  const links = [
    "knots.sites>net.shape",
    "net.curves>it.shape",
    "corner.sites>it.seeds",
    "knots.sites>it.goals",
  ];
  const { curves } = formed(nodes, links);
  const [x, , z] = curves?.points.columns.position.lanes ?? [];
  const { far, ways, radius } = curves?.points.columns ?? {};
  for (let p = 0; p < x.length; p++) {
    // Along a grid of streets it is the sum of both ways (H. Minkowski's distance of order 1).
    expect(far.lanes[0][p]).toBeCloseTo(Math.abs(x[p] + 2) + Math.abs(z[p] + 2), 5);
    if (far.lanes[0][p] === 0) expect([ways.lanes[0][p], radius.lanes[0][p]]).toEqual([25, 1]);
  }
  const alone = graphOf({ ...nodes, net: { type: "link-nearby", set: { reach: 0.5 } } }, links);
  outputsOf(alone, "it");
  expect(reportOf(alone, "it").problems[0].what).toMatch(/No curves arrive/);
});

it("threads join sites by a number and in an order; a Step loop that keeps places makes the very trails", () => {
  const shape = formed(
    {
      grid: { type: "grid-sites", set: { across: 3, deep: 4, spacing: [1, 1, 1] } },
      row: { type: "position" },
      named: { type: "store-attribute", set: { name: "row" } },
      it: { type: "thread-sites", set: { by: "row" } },
    },
    ["grid.sites>named.shape", "row.z>named.number", "named.shape>it.shape"],
  );
  expect([...(shape.curves?.curveStarts ?? [])]).toEqual([0, 3, 6, 9, 12]);
  const recipe = shippedRecipes().get("trails-by-hand") as PieceDocument;
  const evaluator = new Evaluator();
  const { curves } = shapeAt(recipe, "threads", 40, evaluator);
  const old = curves?.points.columns.old.lanes[0] ?? [];
  expect(curves?.curves.count).toBe(14);
  const { lanes } = curves?.points.columns.position ?? { lanes: [] };
  // Where each was as many frames ago as its place is old.
  for (const p of [3, 10, 17]) {
    const then =
      shapeAt(recipe, "lift", 40 - Math.round(old[p] * 25), new Evaluator()).sites?.columns.position.lanes ??
      [];
    expect(then.map((lane) => lane[0])).toEqual(lanes.map((lane) => expect.closeTo(lane[p], 5)));
  }
});
