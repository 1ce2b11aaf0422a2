/** Nodes that look at neighbours, surfaces and other sites: sizes, distances, rotations, against geometry and brute force. */
import fc from "fast-check";
import { quat } from "gl-matrix";
import { Quaternion as ThreeQuaternion, Vector3 } from "three";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeColumn, withColumns } from "../../src/core/geometry/column";
import { eulerCharacteristic, isClosed, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { fromAxisAngle, type Quaternion, slerp } from "../../src/core/maths/quaternion";
import { blendPoses } from "../../src/core/nodes/adjust/blend-poses";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf, type NodeSpec, outputsOf, reportOf, runNode } from "../run-node";

type Set = Record<string, Setting>;
const lanes = (shape: Shape, name = "position") =>
  (shape.sites ?? shape.curves?.points)?.columns[name].lanes ?? [];
/** What comes of a node whose `shape` is a layout. */
const onto = (
  layout: NodeSpec,
  type: string,
  set: Set = {},
  more: Record<string, NodeSpec> = {},
  links: string[] = [],
): Shape => {
  const outputs = outputsOf(
    graphOf({ layout, ...more, node: { type, set } }, [
      `layout.${layout.type === "box" || layout.type === "sphere" ? "shape" : "sites"}>node.shape`,
      ...links,
    ]),
    "node",
  );
  return (outputs.shape ?? outputs.curves) as Shape;
};
const SCATTER: NodeSpec = { type: "scatter-sites", set: { count: 200 } };
const BALL: NodeSpec = { type: "sphere", set: { radius: 2, build: "geodesic", detail: 3 } };
const scattered = (type: string, set: Set = {}): Shape =>
  onto(SCATTER, type, set, { ball: BALL }, ["ball.shape>layout.shape"]);

describe("fit to neighbours", () => {
  it("lets each reach half-way to its nearest one, so that none overlap and the nearest pairs touch", () => {
    const shape = scattered("fit-to-neighbours");
    const [x, y, z] = lanes(shape);
    const [size] = lanes(shape, "reach");
    const [scale] = lanes(shape, "scale");
    let touching = 0;
    for (let i = 0; i < x.length; i++) {
      expect(scale[i]).toBeCloseTo(size[i] / 0.5, 5);
      let nearest = Number.POSITIVE_INFINITY;
      let closest = Number.POSITIVE_INFINITY;
      for (let j = 0; j < x.length; j++) {
        if (i === j) continue;
        const d = Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j]);
        nearest = Math.min(nearest, d);
        closest = Math.min(closest, d - size[i] - size[j]);
      }
      expect(closest).toBeGreaterThan(-1e-5);
      if (closest < 1e-5) touching++;
      expect(size[i]).toBeCloseTo(nearest / 2, 5);
    }
    expect(touching).toBeGreaterThan(2);
  });

  it("tells outliers with a limit as the repair, and clones on one place", () => {
    const row: NodeSpec = { type: "row-sites", set: { count: 9, from: [0, 0, 0], to: [0.8, 0, 0] } };
    const document = graphOf(
      {
        row,
        far: { type: "row-sites", set: { count: 1, from: [40, 0, 0], to: [40, 0, 0] } },
        all: { type: "merge" },
        node: { type: "fit-to-neighbours" },
      },
      ["row.sites>all.shapes", "far.sites>all.shapes", "all.shape>node.shape"],
    );
    const [problem] = reportOf(document, "node").problems;
    expect(problem.what).toMatch(/1 of 10 are more than 5 times/);
    // Half of 0.1, five times.
    expect(problem.repair).toMatchObject({ input: "largest", value: 0.25 });
    document.graph.nodes[3].set = { largest: 0.25 };
    expect(reportOf(document, "node").problems).toEqual([]);
    const twice = graphOf(
      {
        row: { type: "row-sites", set: { count: 6, from: [1, 0, 0], to: [1, 0, 0] } },
        node: { type: "fit-to-neighbours" },
      },
      ["row.sites>node.shape"],
    );
    expect(reportOf(twice, "node").problems[0].what).toMatch(/6 of 6 stand where another one does/);
  });
});

describe("fit to neighbours, again and again", () => {
  it("is the same as anew when only the factor changed, and when sites moved", () => {
    const document = (across: number, factor: number) =>
      graphOf(
        {
          row: { type: "row-sites", set: { count: 5, from: [0, 0, 0], to: [across, 0, 0] } },
          node: { type: "fit-to-neighbours", set: { factor } },
        },
        ["row.sites>node.shape"],
      );
    const evaluator = new Evaluator();
    const reach = (across: number, factor: number) => {
      const { outputs } = evaluator.evaluate(document(across, factor), 0, { target: "node" });
      const shape = outputs?.shape as Shape | undefined;
      return shape?.sites?.columns.reach.lanes[0][2];
    };
    // Half of a step of the row, times the factor.
    expect([reach(8, 1), reach(8, 0.5), reach(4, 0.5), reach(4, 2), reach(8, 2)]).toEqual([
      1, 0.5, 0.25, 1, 2,
    ]);
  });
});

describe("ease apart", () => {
  it("takes overlaps away, leaves those alone that have room, and those that are held", () => {
    const set = { radius: 0.12, rounds: 60, strength: 0.5 };
    const [x, y, z] = lanes(scattered("ease-apart", set));
    const overlap = (px: ArrayLike<number>, py: ArrayLike<number>, pz: ArrayLike<number>) => {
      let sum = 0;
      for (let i = 0; i < px.length; i++)
        for (let j = 0; j < i; j++)
          sum += Math.max(0, 0.24 - Math.hypot(px[i] - px[j], py[i] - py[j], pz[i] - pz[j]));
      return sum;
    };
    const [bx, by, bz] = lanes(scattered("ease-apart", { ...set, rounds: 0 }));
    expect(overlap(x, y, z)).toBeLessThan(overlap(bx, by, bz) / 50);
    const wide = onto({ type: "grid-sites" }, "ease-apart", set);
    expect([...lanes(wide)[0]]).toEqual([...lanes(runNode("grid-sites").sites as Shape)[0]]);
    const held = scattered("ease-apart", { ...set, hold: 1 });
    expect([...lanes(held)[0]]).toEqual([...bx]);
  });

  it("puts two just so far apart that they touch, about their middle; twins part too", () => {
    const pair = (to: [number, number, number]) =>
      onto({ type: "row-sites", set: { count: 2, from: [0, 0, 0], to } }, "ease-apart", {
        radius: 1,
        rounds: 1,
        strength: 1,
      });
    expect([...lanes(pair([1, 0, 0]))[0]]).toEqual([-0.5, 1.5]);
    const [x, y, z] = lanes(pair([0, 0, 0]));
    expect(Math.hypot(x[0] - x[1], y[0] - y[1], z[0] - z[1])).toBeCloseTo(2, 5);
  });
});

describe("soften", () => {
  it("is the mean over all within the radius, the element included; a constant stays", () => {
    const row: NodeSpec = { type: "row-sites", set: { count: 5, from: [0, 0, 0], to: [4, 0, 0] } };
    const document = graphOf(
      {
        row,
        index: { type: "index" },
        store: { type: "store-attribute" },
        node: { type: "soften", set: { attribute: "heat", radius: 1.1 } },
      },
      ["row.sites>store.shape", "index.index>store.number", "store.shape>node.shape"],
    );
    const heat = (set: Set) => {
      document.graph.nodes[3].set = { attribute: "heat", radius: 1.1, ...set };
      return [...lanes(outputsOf(document, "node").shape as Shape, "heat")[0]];
    };
    expect(heat({})).toEqual([0.5, 1, 2, 3, 3.5]);
    expect(heat({ amount: 0.5 })).toEqual([0.25, 1, 2, 3, 3.75]);
    expect(heat({ radius: 0 })).toEqual([0, 1, 2, 3, 4]);
    const far = heat({ radius: 100 });
    expect(far).toEqual([2, 2, 2, 2, 2]);
    document.graph.nodes[3].set = { attribute: "id" };
    expect(reportOf(document, "node").problems[0].what).toMatch(/whole numbers/);
  });
});

describe("link nearby", () => {
  it("links every pair within the reach once, as brute force finds them", () => {
    const shape = scattered("link-nearby", { reach: 0.5, most: 64 });
    const [x, y, z] = lanes(scattered("ease-apart", { rounds: 0 }));
    let pairs = 0;
    for (let i = 0; i < x.length; i++)
      for (let j = 0; j < i; j++) if (Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j]) <= 0.5) pairs++;
    expect(shape.curves?.curves.count).toBe(pairs);
    const [closeness] = lanes(shape, "closeness");
    const [cx, cy, cz] = lanes(shape);
    for (let c = 0; c < pairs; c++) {
      const [p, q] = [c * 2, c * 2 + 1];
      expect(closeness[p]).toBeCloseTo(1 - Math.hypot(cx[p] - cx[q], cy[p] - cy[q], cz[p] - cz[q]) / 0.5, 4);
    }
    const few = scattered("link-nearby", { reach: 0.5, most: 1 });
    expect(few.curves?.curves.count).toBeLessThan(200);
  });
});

describe("rays and seats", () => {
  const ray = (set: Set, x: number, z: number) => {
    const outputs = outputsOf(
      graphOf({ ball: BALL, ray: { type: "cast-ray", set } }, ["ball.shape>ray.shape"]),
      "ray",
    );
    const at = makeSites(1, ({ position }) => {
      position[0][0] = x;
      position[1][0] = 5;
      position[2][0] = z;
    });
    const values = [
      outputs.hit,
      outputs.distance,
      ...(outputs.place as Value[]),
      ...(outputs.facing as Value[]),
    ] as Value[];
    return runValues(values, at).lanes.map((lane) => lane[0]);
  };

  it("meet a ball where geometry says, with its facing; misses are told as such", () => {
    const [hit, distance, , y, , fx, fy] = ray({}, 1, 0);
    expect(hit).toBe(1);
    // √(2² − 1²) up, seen from 5.
    expect(y).toBeCloseTo(Math.sqrt(3), 1);
    expect(distance).toBeCloseTo(5 - Math.sqrt(3), 1);
    expect([fx, fy]).toEqual([expect.closeTo(0.5, 1), expect.closeTo(Math.sqrt(3) / 2, 1)]);
    expect(ray({}, 3, 0)).toEqual([0, 0, 3, 5, 0, 0, 0, 0]);
    expect(ray({ reach: 1 }, 0, 0)[0]).toBe(0);
    expect(ray({ direction: [0, 0, 0] }, 0, 0)[0]).toBe(0);
  });

  it("seat clones on the surface, lifted and leaning by as much as is asked, heading kept", () => {
    const seat = (set: Set) =>
      onto(
        { type: "grid-sites", set: { across: 5, deep: 5, spacing: [0.5, 1, 0.5] } },
        "seat-on-surface",
        set,
        { ball: BALL },
        ["ball.shape>node.onto"],
      );
    const shape = seat({ lift: 0.25 });
    const [x, y, z] = lanes(shape);
    const q = lanes(shape, "rotation");
    for (let i = 0; i < x.length; i++) {
      expect(y[i] - 0.25).toBeCloseTo(Math.sqrt(4 - x[i] * x[i] - z[i] * z[i]), 1);
      const up = new Vector3(0, 1, 0).applyQuaternion(
        new ThreeQuaternion(q[0][i], q[1][i], q[2][i], q[3][i]),
      );
      const off = new Vector3(x[i], y[i] - 0.25, z[i]).normalize();
      expect(up.dot(off)).toBeGreaterThan(0.995);
    }
    expect([...lanes(seat({ lean: 0 }), "rotation")[3]]).toEqual(new Array(25).fill(1));
    const middle = seat({ lean: 0.5 });
    const r = lanes(middle, "rotation");
    const tilt = 2 * Math.acos(Math.min(1, r[3][0]));
    expect(tilt).toBeCloseTo(Math.acos(Math.min(1, lanes(seat({}), "rotation")[3][0])), 4);
  });

  it("follow a surface that moves, frame after frame, as they would at each by itself", () => {
    const document = graphOf(
      {
        layout: { type: "grid-sites", set: { across: 12, deep: 12, spacing: [0.2, 1, 0.2] } },
        ball: BALL,
        wobble: { type: "move" },
        waves: { type: "noise", set: { speed: 3 } },
        node: { type: "seat-on-surface" },
      },
      [
        "layout.sites>node.shape",
        "ball.shape>wobble.shape",
        "waves.vector>wobble.by",
        "wobble.shape>node.onto",
      ],
    );
    const played = new Evaluator();
    for (let frame = 0; frame < 6; frame++) {
      const at = (evaluator: Evaluator) =>
        lanes(evaluator.evaluate(document, frame, { target: "node" }).outputs?.shape as Shape);
      expect(at(played)).toEqual(at(new Evaluator()));
    }
  });

  it("report what finds no surface, and leave it out when asked", () => {
    const document = graphOf(
      {
        grid: { type: "grid-sites" },
        ball: BALL,
        node: { type: "seat-on-surface", set: { missed: "are left out" } },
      },
      ["grid.sites>node.shape", "ball.shape>node.onto"],
    );
    const inside = (outputsOf(document, "node").shape as Shape).sites?.count ?? 0;
    expect(inside).toBe(12);
    expect(reportOf(document, "node").problems[0].what).toBe(
      "88 of 100 find no surface that way and are left out.",
    );
  });
});

describe("carry over", () => {
  it("takes the nearest one's value as it is, or blends by the inverse square of the distance", () => {
    const document = (set: Set) =>
      graphOf(
        {
          ends: { type: "row-sites", set: { count: 2, from: [0, 0, 0], to: [3, 0, 0] } },
          index: { type: "index" },
          store: { type: "store-attribute" },
          row: { type: "row-sites", set: { count: 4, from: [0, 0, 0], to: [3, 0, 0] } },
          node: { type: "carry-over", set: { attribute: "heat", ...set } },
        },
        [
          "ends.sites>store.shape",
          "index.index>store.number",
          "store.shape>node.from",
          "row.sites>node.shape",
        ],
      );
    const heat = (set: Set) => [...lanes(outputsOf(document(set), "node").shape as Shape, "heat")[0]];
    expect(heat({})).toEqual([0, 0, 1, 1]);
    // At 1: weights 1 and 1/4.
    expect(heat({ samples: 2 }).map((v) => Number(v.toFixed(5)))).toEqual([0, 0.2, 0.8, 1]);
    expect(reportOf(document({ reach: 0.5 }), "node").problems[0].what).toMatch(
      /2 of 4 have none within 0.5/,
    );
    expect(reportOf(document({ attribute: "cold" }), "node").problems[0].what).toMatch(/no attribute "cold"/);
  });
});

const rotationOf = (shape: Shape, i: number): Quaternion =>
  [0, 1, 2, 3].map((l) => lanes(shape, "rotation")[l][i]) as unknown as Quaternion;
const pointed = (q: Quaternion, own: readonly [number, number, number]) =>
  new Vector3(...own).applyQuaternion(new ThreeQuaternion(...q));

describe("orient", () => {
  const single: NodeSpec = { type: "row-sites", set: { count: 3, from: [1, 0, 0], to: [3, 0, 0] } };

  it.each(["x", "y", "z"] as const)(
    "points the %s axis along a direction, top up as near as can be",
    (axis) => {
      const shape = onto(single, "orient", { direction: [1, 2, -0.5], axis });
      const own = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }[axis] as [number, number, number];
      expect(pointed(rotationOf(shape, 0), own).dot(new Vector3(1, 2, -0.5).normalize())).toBeCloseTo(1, 5);
    },
  );

  // A turn without sideslip: tan(bank) = a ÷ g (handbook of flight, from memory), g as ISO 80000-3 has it.
  it.each([
    [1, 4],
    [0.5, 9.80665],
  ])("banks %f × into a turn of %f units a second²", (bank, pull) => {
    const graph = graphOf(
      {
        site: single,
        velocity: { type: "store-attribute", set: { name: "velocity", kind: "vector", vector: [0, 0, 3] } },
        pull: {
          type: "store-attribute",
          set: { name: "acceleration", kind: "vector", vector: [pull, 0, 0] },
        },
        it: { type: "orient", set: { by: "velocity", bank } },
      },
      ["site.sites>velocity.shape", "velocity.shape>pull.shape", "pull.shape>it.shape"],
    );
    const top = pointed(rotationOf(outputsOf(graph, "it").shape as Shape, 0), [0, 1, 0]);
    expect(Math.atan2(top.x, top.y)).toBeCloseTo(Math.atan((bank * pull) / 9.80665), 5);
    expect(top.z).toBeCloseTo(0, 6);
  });

  it("knows places, the next site, and half amounts", () => {
    const front = (set: Set, i = 0) => pointed(rotationOf(onto(single, "orient", set), i), [0, 0, 1]);
    expect(front({ by: "away from a place" }).x).toBeCloseTo(1, 6);
    expect(front({ by: "towards a place", place: [1, 0, 5] }).z).toBeCloseTo(1, 6);
    expect(front({ by: "the next site" }).x).toBeCloseTo(1, 6);
    expect(front({ by: "the next site" }, 2).x).toBeCloseTo(1, 6);
    // Half of the quarter turn from the front to X.
    expect(front({ by: "the next site", amount: 0.5 }).x).toBeCloseTo(Math.SQRT1_2, 6);
    expect(
      reportOf(
        graphOf({ layout: single, node: { type: "orient", set: { direction: [0, 0, 0] } } }, [
          "layout.sites>node.shape",
        ]),
        "node",
      ).problems[0].what,
    ).toBe("3 of 3 have nothing to point along and stay as they are.");
  });

  it("follows a whole rotation first, then a direction, then the velocity, and says which won", () => {
    const document = graphOf(
      {
        row: single,
        speed: { type: "store-attribute", set: { name: "velocity", kind: "vector", vector: [0, 0, -1] } },
        index: { type: "index" },
        some: { type: "join-vector" },
        way: { type: "store-attribute", set: { name: "direction", kind: "vector" } },
        turn: { type: "store-attribute", set: { name: "turn", kind: "rotation", rotation: [90, 0, 0] } },
        node: { type: "orient", set: { by: "what is there" } },
      },
      [
        "row.sites>speed.shape",
        "speed.shape>way.shape",
        "index.index>some.x",
        "some.vector>way.vector",
        "way.shape>node.shape",
      ],
    );
    const shape = outputsOf(document, "node").shape as Shape;
    // The first one's direction is 0, so its velocity counts.
    expect(pointed(rotationOf(shape, 0), [0, 0, 1]).z).toBeCloseTo(-1, 6);
    expect(pointed(rotationOf(shape, 1), [0, 0, 1]).x).toBeCloseTo(1, 6);
    expect(reportOf(document, "node").problems[0].what).toBe("Of 3: direction turns 2, velocity turns 1.");
    const { graph } = document;
    const links = [
      ...graph.links.slice(0, 4),
      { from: "way.shape", to: "turn.shape" },
      { from: "turn.shape", to: "node.shape" },
    ];
    const whole = { ...document, graph: { ...graph, links } };
    expect(reportOf(whole, "node").problems[0].what).toBe("Of 3: turn turns 3.");
    expect(pointed(rotationOf(outputsOf(whole, "node").shape as Shape, 2), [0, 0, 1]).y).toBeCloseTo(-1, 5);
  });

  it("never flips by the least twist: a direction that turns smoothly over the poles turns clones as smoothly", () => {
    const at = (degrees: number): Quaternion => {
      const a = (degrees * Math.PI) / 180;
      // Over the top from front to nearly back, a little aside.
      const direction = [Math.sin(0.3) * Math.cos(a), Math.sin(a), Math.cos(0.3) * Math.cos(a)];
      return rotationOf(onto(single, "orient", { direction, roll: "least twist" }), 0);
    };
    let before = at(0);
    for (let degrees = 2; degrees <= 140; degrees += 2) {
      const now = at(degrees);
      const near = Math.abs(before.reduce((sum, part, l) => sum + part * now[l], 0));
      const turned = (2 * Math.acos(Math.min(1, near)) * 180) / Math.PI;
      // The direction turns by 2°; what turns with it may twist a little besides.
      expect(turned).toBeLessThan(3);
      before = now;
    }
  });
});

describe("blend poses", () => {
  it("is where it was at 0 and exactly there at 1, with as many turns as are asked between", () => {
    const document = (set: Set) =>
      graphOf(
        {
          ring: { type: "ring-sites", set: { count: 8 } },
          grid: { type: "grid-sites", set: { across: 4, deep: 2 } },
          node: { type: "blend-poses", set },
        },
        ["ring.sites>node.shape", "grid.sites>node.to"],
      );
    const at = (set: Set) => outputsOf(document(set), "node").shape as Shape;
    const ring = runNode("ring-sites", { count: 8 }).sites as Shape;
    const grid = runNode("grid-sites", { across: 4, deep: 2 }).sites as Shape;
    expect([...lanes(at({ amount: 0, turns: 3 }))[0]]).toEqual([...lanes(ring)[0]]);
    expect([...lanes(at({ amount: 1, turns: 3 }))[0]]).toEqual([...lanes(grid)[0]]);
    for (const amount of [0, 1]) {
      const [a, b] = [rotationOf(at({ amount }), 3), rotationOf(at({ amount, turns: 2 }), 3)];
      expect(Math.abs(a.reduce((sum, part, l) => sum + part * b[l], 0))).toBeCloseTo(1, 6);
    }
    // A quarter of two turns is half a turn.
    const [a, b] = [rotationOf(at({ amount: 0.25 }), 3), rotationOf(at({ amount: 0.25, turns: 2 }), 3)];
    expect(Math.abs(a.reduce((sum, part, l) => sum + part * b[l], 0))).toBeCloseTo(0, 5);
  });

  it("goes by ids, whatever the order, and tells those that have none to go to", () => {
    const document = graphOf(
      {
        ring: { type: "ring-sites", set: { count: 8 } },
        grid: { type: "grid-sites", set: { across: 3, deep: 2 } },
        node: { type: "blend-poses", set: { amount: 1 } },
      },
      ["ring.sites>node.shape", "grid.sites>node.to"],
    );
    expect(reportOf(document, "node").problems[0].what).toBe(
      "2 of 8 have none to go to and stay where they are.",
    );
    const sites = makeSites(3, ({ position }) => position[0].set([5, 6, 7]));
    const turned = withColumns(sites, { id: makeColumn("integer", [Int32Array.of(2, 1, 0)]) });
    const evaluate = blendPoses.evaluate as (inputs: object, context: object) => { shape: Shape };
    const context = { warn: () => undefined, run: () => [new Float32Array(3).fill(1)] };
    const { shape } = evaluate(
      { shape: { sites }, to: { sites: turned }, amount: null, match: "by id", turns: 0, about: "y" },
      context,
    );
    expect([...lanes(shape)[0]]).toEqual([7, 6, 5]);
  });
});

describe("between rotations", () => {
  it("is slerp as Shoemake has it, as gl-matrix works it out, the short way round [ROT-01 … ROT-04]", () => {
    const third = slerp([0, 0, 0, 1], fromAxisAngle([0, 0, 1], Math.PI / 2), 1 / 3);
    expect(third).toEqual([0, 0, 0.2588190451, 0.9659258263].map((v) => expect.closeTo(v, 8)));
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    const any = fc
      .tuple(part, part, part, part)
      .filter((q) => Math.hypot(...q) > 0.1)
      .map((q) => q.map((v) => v / Math.hypot(...q)) as unknown as Quaternion);
    fc.assert(
      fc.property(any, any, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, t) => {
        fc.pre(Math.abs(a.reduce((sum, v, l) => sum + v * b[l], 0)) > 1e-3);
        const theirs = quat.slerp(quat.create(), [...a], [...b], t);
        const ours = slerp(a, b, t);
        const near = Math.abs(ours.reduce((sum, v, l) => sum + v * theirs[l], 0));
        expect(near).toBeGreaterThan(1 - 1e-6);
      }),
    );
  });
});

describe("inside and bounds", () => {
  it("tells what lies inside of a surface, and stands at all corners, centres and bounds", () => {
    const outputs = outputsOf(
      graphOf({ ball: BALL, near: { type: "nearest", set: { to: "surface" } } }, ["ball.shape>near.shape"]),
      "near",
    );
    const at = makeSites(3, ({ position }) => position[0].set([0, 1.9, 2.1]));
    expect([...runValues([outputs.inside as Value], at).lanes[0]]).toEqual([1, 1, 0]);
    const box: NodeSpec = { type: "box", set: { size: [2, 4, 6] } };
    const sites = (at: string) =>
      outputsOf(
        graphOf({ box, node: { type: "shape-sites", set: { at } } }, ["box.shape>node.shape"]),
        "node",
      ).sites as Shape;
    expect(sites("corners and face centres").sites?.count).toBe(8 + 6);
    const corners = sites("corners of the bounds");
    const [x, y, z] = lanes(corners);
    expect(new Set(Array.from(x, (_, i) => `${x[i]} ${y[i]} ${z[i]}`)).size).toBe(8);
    expect([Math.max(...x), Math.max(...y), Math.max(...z)]).toEqual([1, 2, 3]);
  });
});

describe("neighbours", () => {
  it("are as many as brute force counts, with or without the element itself", () => {
    const shape = scattered("ease-apart", { rounds: 0 });
    const [x, y, z] = lanes(shape);
    const counted = (own: boolean) => {
      const document = graphOf(
        {
          ball: BALL,
          layout: SCATTER,
          near: { type: "neighbours", set: { reach: 0.6, own } },
          store: { type: "store-attribute" },
        },
        [
          "ball.shape>layout.shape",
          "layout.sites>near.shape",
          "layout.sites>store.shape",
          "near.count>store.number",
        ],
      );
      return [...lanes(outputsOf(document, "store").shape as Shape, "heat")[0]];
    };
    const others = counted(true);
    for (let i = 0; i < x.length; i += 7) {
      let near = 0;
      for (let j = 0; j < x.length; j++)
        if (j !== i && Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j]) < 0.6) near++;
      expect(others[i]).toBe(near);
    }
    expect(counted(false)).toEqual(others.map((n) => n + 1));
  });
});

describe("tubes", () => {
  const tubed = (source: NodeSpec, set: Set) =>
    (
      outputsOf(graphOf({ source, tube: { type: "tube", set } }, ["source.shape>tube.shape"]), "tube")
        .shape as Shape
    ).mesh as Mesh;

  it("around a straight line are prisms, closed and looking outwards: volume n/2 r² sin(2π/n) × length [ARR-15]", () => {
    const mesh = tubed(
      { type: "line", set: { from: [0, 0, 0], to: [0, 3, 0], points: 4 } },
      { radius: 0.5, sides: 12 },
    );
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
    expect(meshVolume(mesh)).toBeCloseTo(3 * 0.25 * 3, 5);
  });

  it("around a circle are a torus: no ends, volume near 2π² R r² (Pappus)", () => {
    const mesh = tubed({ type: "arc", set: { radius: 2, points: 256 } }, { radius: 0.3, sides: 48 });
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(0);
    expect(meshVolume(mesh) / (2 * Math.PI ** 2 * 2 * 0.09)).toBeCloseTo(1, 2);
  });

  it("along a helix keep their width everywhere, and are open without caps", () => {
    const mesh = tubed({ type: "helix", set: {} }, { radius: 0.1, sides: 8, caps: false });
    expect(isClosed(mesh)).toBe(false);
    const [x, y, z] = mesh.points.columns.position.lanes;
    for (let ring = 0; ring < mesh.points.count / 8; ring++) {
      const middle = [x, y, z].map((lane) => {
        let sum = 0;
        for (let j = 0; j < 8; j++) sum += lane[ring * 8 + j] / 8;
        return sum;
      });
      expect(
        Math.hypot(x[ring * 8] - middle[0], y[ring * 8] - middle[1], z[ring * 8] - middle[2]),
      ).toBeCloseTo(0.1, 4);
    }
    expect(reportOf(graphOf({ tube: { type: "tube" } }), "tube").problems[0].what).toMatch(
      /No curves arrive/,
    );
  });
});
