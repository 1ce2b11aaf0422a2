/** Particles against the motion of bodies under gravity, drag and contact, and against counts that births come to. */

import { alongVelocity } from "../../src/core/draw/along-velocity";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { column, constant } from "../../src/core/fields/expression";
import { type Domain, makeColumn } from "../../src/core/geometry/column";
import type { Shape } from "../../src/core/geometry/shape";
import { Arena } from "../../src/core/kernels/arena";
import { hash3, unit24 } from "../../src/core/maths/random";
import type { Setting } from "../../src/core/nodes/ports";
import { afterContacts } from "../../src/core/particles/contacts";
import { flocking } from "../../src/core/particles/flock";
import { forceOf } from "../../src/core/particles/forces";
import { dragStep } from "../../src/core/particles/particles";
import { graphOf, type NodeSpec } from "../run-node";

type Set = Record<string, Setting>;

interface Made {
  readonly emit?: Set;
  readonly grains?: Set;
  /** In this order. */
  readonly forces?: readonly NodeSpec[];
  readonly nodes?: Record<string, NodeSpec>;
  readonly links?: readonly string[];
  readonly direction?: readonly number[];
  readonly fps?: number;
}

/** One particle at a time that leaves a site at rest, unless told otherwise; its top looks along `direction`. */
function leaving({ emit, grains, forces = [], nodes, links = [], direction = [0, 1, 0], fps = 24 }: Made) {
  const document = graphOf(
    {
      site: { type: "single-site" },
      look: { type: "orient", set: { direction: [...direction], axis: "y", roll: "least twist" } },
      births: {
        type: "emitter",
        set: { when: "once", count: 1, speed: 0, speedSpread: 0, lifeSpread: 0, spread: 0, life: 0, ...emit },
      },
      grains: { type: "particles", set: { ...grains } },
      stage: { type: "stage" },
      ...Object.fromEntries(forces.map((force, i) => [`force${i}`, force])),
      ...nodes,
    },
    [
      "site.sites>look.shape",
      ...(links.some((link) => link.endsWith(">births.shape")) ? [] : ["look.shape>births.shape"]),
      "births.births>grains.births",
      ...forces.map((_, i) => `force${i}.force>grains.forces`),
      "grains.sites>stage.shape",
      ...links,
    ],
  );
  return { ...document, settings: { ...document.settings, fps, first: 0, last: fps * 10 } };
}
type Piece = ReturnType<typeof leaving>;
const at = (piece: Piece, frame: number, evaluator = new Evaluator()): Domain | undefined => {
  const { shape, report } = evaluator.evaluate(piece, frame);
  if (!shape) throw new Error(JSON.stringify(report.nodes));
  return shape.sites;
};
const lane = (domain: Domain | undefined, name: string, l = 0) => [...(domain?.columns[name].lanes[l] ?? [])];
const placeOf = (domain: Domain | undefined, i = 0) => [0, 1, 2].map((l) => lane(domain, "position", l)[i]);
const gravity = (pull: readonly number[]): NodeSpec => ({ type: "gravity", set: { pull: [...pull] } });
const EARTH = gravity([0, -9.80665, 0]);
const said = (piece: Piece, frame = 48, node = "grains") =>
  new Evaluator().evaluate(piece, frame).report.nodes[node].problems.map(({ what }) => what);

describe("births", () => {
  // [DYN-18] floor(rate × t): ten in a second at 24 frames, thirty in four at 7.5 and 60; birth times k ÷ rate. Derived.
  it("are as many as the rate asks for, at their times, however it is stepped", () => {
    const rate = (rate: number, grains: Set = {}, fps = 24) =>
      leaving({ emit: { when: "at a rate", rate }, grains, fps });
    const ten = at(rate(10), 24);
    expect(ten?.count).toBe(10);
    lane(ten, "age").forEach((age, k) => {
      expect(age).toBeCloseTo(1 - (k + 1) / 10, 5);
    });
    expect(at(rate(7.5, {}, 60), 240)?.count).toBe(30);
    const split = at(rate(10, { substeps: 7 }), 24);
    expect(lane(split, "id")).toEqual(lane(ten, "id"));
    const evaluator = new Evaluator();
    for (const frame of [30, 3, 24]) at(rate(10), frame, evaluator);
    expect(lane(at(rate(10), 24, evaluator), "age")).toEqual(lane(ten, "age"));
  });

  it("are no more than there is room for, however many are asked for, and the time of a frame may be longer than their lives", () => {
    const emitters: Set[] = [
      { when: "at a rate", rate: 1e12 },
      { when: "in bursts", every: 0.001, count: 1e12 },
      { when: "once", count: 1e12 },
    ];
    for (const emit of emitters) expect(at(leaving({ emit, grains: { most: 5 } }), 3)?.count).toBe(5);
    const brief = leaving({ emit: { when: "at a rate", rate: 100, life: 0.001 } });
    const { report, shape } = new Evaluator().evaluate(brief, 3);
    expect(report.nodes.grains.problems.filter(({ level }) => level === "error")).toEqual([]);
    expect(shape?.sites?.count ?? 0).toBe(0);
  });

  it("fall in bursts, at frames, once, for each element, and between frames only", () => {
    const counts = (emit: Set, frames: readonly number[], grains: Set = {}) => {
      const evaluator = new Evaluator();
      return frames.map((frame) => at(leaving({ emit, grains }), frame, evaluator)?.count ?? 0);
    };
    expect(counts({ count: 5 }, [0, 1, 30])).toEqual([5, 5, 5]);
    expect(counts({ when: "in bursts", count: 3, every: 0.5 }, [0, 11, 12, 24])).toEqual([3, 3, 6, 9]);
    expect(counts({ when: "in bursts", count: 3, every: 0.5 }, [12, 24], { substeps: 5 })).toEqual([6, 9]);
    expect(counts({ when: "at frames", frames: "3, 7", count: 2 }, [2, 3, 6, 7])).toEqual([0, 2, 2, 4]);
    const few = { when: "at a rate", rate: 24, over: "some frames", begin: 5, end: 10 };
    expect(counts(few, [4, 5, 10, 20])).toEqual([0, 1, 6, 6]);
    const grid = { site2: { type: "grid-sites", set: { across: 3, deep: 4 } } };
    const each = leaving({
      emit: { each: true, count: 2 },
      nodes: grid,
      links: ["site2.sites>births.shape"],
    });
    expect(at(each, 0)?.count).toBe(24);
  });

  it("lie on the surface evenly, within a ball, along curves, and take colours along", () => {
    const born = (from: string, source: NodeSpec, emit: Set = {}) =>
      at(
        leaving({
          emit: { from, count: 4000, ...emit },
          nodes: { source, red: { type: "tint", set: { color: "#ff0000" } } },
          links: ["source.shape>red.shape", "red.shape>births.shape"],
        }),
        0,
      ) as Domain;
    const ball: NodeSpec = { type: "sphere", set: { radius: 2, build: "geodesic", detail: 4 } };
    const onBall = born("surface", ball);
    const heights = lane(onBall, "position", 1);
    // Heights on a sphere are spread evenly (Archimedes): half of them in the middle half.
    expect(heights.filter((y) => Math.abs(y) < 1).length / 4000).toBeCloseTo(0.5, 1);
    expect([lane(onBall, "color", 0)[7], lane(onBall, "color", 1)[7]]).toEqual([1, 0]);
    const within = born("inside", ball);
    const radii = Array.from({ length: within.count }, (_, i) => Math.hypot(...placeOf(within, i)));
    expect(Math.max(...radii)).toBeLessThan(2);
    // Half of a ball's volume lies within the cube root of a half of its radius.
    expect(radii.filter((r) => r < 2 * 0.5 ** (1 / 3)).length / 4000).toBeCloseTo(0.5, 1);
    const onLine = born("curves", { type: "line", set: { from: [0, 0, 0], to: [4, 0, 0] } });
    const mean = lane(onLine, "position", 0).reduce((sum, x) => sum + x, 0) / 4000;
    expect(mean).toBeCloseTo(2, 1);
  });

  it("leave in every direction of a cone alike; a moving source is inherited from", () => {
    const cone = at(leaving({ emit: { count: 4000, speed: 1, spread: 30 } }), 0) as Domain;
    const up = lane(cone, "velocity", 1);
    expect(Math.min(...up)).toBeGreaterThanOrEqual(Math.cos(Math.PI / 6) - 1e-5);
    // Heights on a cap of a sphere are spread evenly (Archimedes): the mean is half-way.
    expect(up.reduce((sum, v) => sum + v, 0) / up.length).toBeCloseTo((1 + Math.cos(Math.PI / 6)) / 2, 2);
    const riding = leaving({
      emit: { when: "at a rate", rate: 24, inherit: 1 },
      nodes: {
        clock: { type: "clock" },
        far: { type: "arithmetic", set: { do: "multiply", b: 3 } },
        by: { type: "join-vector" },
        moved: { type: "move" },
      },
      links: [
        "clock.seconds>far.a",
        "far.value>by.x",
        "by.vector>moved.by",
        "look.shape>moved.shape",
        "moved.shape>births.shape",
      ],
    });
    const rode = at(riding, 24) as Domain;
    expect(lane(rode, "velocity", 0)[5]).toBeCloseTo(3, 4);
  });

  it("end at their age and keep ids; what dies has children, of one generation", () => {
    const piece = leaving({ emit: { when: "at a rate", rate: 2000, life: 1, lifeSpread: 0.5 } });
    const evaluator = new Evaluator();
    const domain = at(piece, 72, evaluator) as Domain;
    const [ages, lives, ids] = [lane(domain, "age"), lane(domain, "life"), lane(domain, "id")];
    expect(ages.every((age, i) => age < lives[i])).toBe(true);
    // Lives from 0.5 to 1.5, evenly: a mean of 1 s at 2,000 a second. Common practice, no source.
    expect(Math.abs(domain.count - 2000)).toBeLessThan(100);
    expect(ids.every((id, i) => i === 0 || id > ids[i - 1])).toBe(true);
    const there = new Set(lane(at(piece, 73, evaluator), "id"));
    const gone = ids.filter((id) => !there.has(id));
    expect(gone.length).toBeGreaterThan(0);
    for (const id of gone)
      expect(ages[ids.indexOf(id)] + 1 / 24).toBeGreaterThanOrEqual(lives[ids.indexOf(id)] - 1e-5);
    const sparks = leaving({
      emit: { count: 10, life: 0.49 },
      nodes: { sparks: { type: "emitter", set: { from: "what dies", count: 7, life: 0.5, lifeSpread: 0 } } },
      links: ["sparks.births>grains.births"],
    });
    const counts = [11, 12, 23, 25, 30].map((frame) => at(sparks, frame)?.count ?? 0);
    expect(counts).toEqual([10, 70, 70, 0, 0]);
    expect(new Set(lane(at(sparks, 13), "generation"))).toEqual(new Set([1]));
    // A rocket's sparks begin where it ends: after so long at its speed.
    const rocket = leaving({
      emit: { speed: 2, life: 0.7 },
      nodes: { sparks: { type: "emitter", set: { from: "what dies", count: 5, speed: 0, life: 3 } } },
      links: ["sparks.births>grains.births"],
    });
    expect(lane(at(rocket, 20), "position", 1).map((y) => Number(y.toFixed(4)))).toEqual([
      1.4, 1.4, 1.4, 1.4, 1.4,
    ]);
  });

  it("come again in a loop with the same chances, so that a range closes", () => {
    const looping = (emit: Set) => {
      const piece = leaving({
        emit: { rate: 31, life: 1.5, lifeSpread: 0.3, speed: 1, spread: 60, loop: true, ...emit },
        forces: [EARTH, { type: "swirl-force", set: { strength: 3, speed: 0.5, loop: true } }],
        grains: { runUp: 60 },
      });
      return { ...piece, settings: { ...piece.settings, last: 47 } };
    };
    const kinds: Set[] = [
      { when: "at a rate" },
      { when: "in bursts", count: 7, every: 0.9 },
      { when: "at frames", frames: "3, 20", count: 5 },
      { when: "once", count: 9 },
    ];
    for (const emit of kinds) {
      const evaluator = new Evaluator();
      const [first, again] = [at(looping(emit), 0, evaluator), at(looping(emit), 48, evaluator)];
      expect(first?.count ?? 0).toBeGreaterThan(0);
      expect(again?.count).toBe(first?.count);
      for (let l = 0; l < 3; l++)
        lane(again, "position", l).forEach((v, i) => {
          expect(v).toBeCloseTo(lane(first, "position", l)[i], 4);
        });
    }
  });

  it("rise with a field, and go on when the source is another one", () => {
    const waking = leaving({
      emit: { when: "where a field rises", count: 3 },
      nodes: {
        row: { type: "row-sites", set: { count: 8, from: [0, 0, 0], to: [7, 0, 0] } },
        clock: { type: "clock" },
        place: { type: "position" },
        past: { type: "compare", set: { is: "greater than" } },
        far: { type: "arithmetic", set: { do: "multiply", b: 8 } },
      },
      links: [
        "clock.seconds>far.a",
        "far.value>past.a",
        "place.x>past.b",
        "past.value>births.weight",
        "row.sites>births.shape",
      ],
    });
    const first = at(waking, 1)?.count ?? 0;
    const last = at(waking, 48)?.count ?? 0;
    expect(first).toBeLessThan(last);
    expect(last % 3).toBe(0);
    // Once each, however long they stay above.
    expect(at(waking, 96)?.count).toBe(at(waking, 72)?.count);
  });
});

describe("motion", () => {
  // [DYN-10] speed 20 at 45°, g = 9.80665: after a second at (14.14213562, 9.238810624); [DYN-11] 10 upward: 5.096675. Derived.
  it("is that of a body that is thrown; semi-implicit steps are off by what is known", () => {
    const flown = at(leaving({ emit: { speed: 20 }, forces: [EARTH], direction: [1, 1, 0] }), 24);
    expect(placeOf(flown)[0]).toBeCloseTo(14.14213562, 4);
    expect(placeOf(flown)[1]).toBeCloseTo(9.238810624, 4);
    const up = (method: string) =>
      placeOf(at(leaving({ emit: { speed: 10 }, forces: [EARTH], grains: { method }, fps: 60 }), 60))[1];
    expect(up("by itself")).toBeCloseTo(5.096675, 4);
    expect(up("semi-implicit")).toBeCloseTo(5.014952917, 3);
  });

  // [DYN-08] v′ = g − 0.5 v from rest, g = 9.80665: (fallen, v) after 0.5, 1, 2, 5 s; at last 19.6133. Derived.
  it.each([
    ["alike for all", "0.5"],
    ["each by a field", "0.5 + 0 * position"],
  ])("falls with drag as the equation says, %s", (_what, formula) => {
    const field: Record<string, NodeSpec> =
      formula === "0.5"
        ? {}
        : {
            place: { type: "position" },
            k: { type: "arithmetic", set: { do: "multiply", b: 0 } },
            half: { type: "arithmetic", set: { do: "add", b: 0.5 } },
          };
    const links = formula === "0.5" ? [] : ["place.y>k.a", "k.value>half.a", "half.value>force1.linear"];
    const table = [
      [0.5, 1.129756797, 4.338446601],
      [1, 4.178835576, 7.717232212],
      [2, 14.43065969, 12.39797016],
      [5, 62.05981541, 18.0033423],
    ];
    for (const fps of [24, 60])
      for (const [seconds, fallen, speed] of table) {
        const domain = at(
          leaving({ forces: [EARTH, { type: "drag" }], nodes: field, links, fps }),
          seconds * fps,
        );
        expect(-placeOf(domain)[1]).toBeCloseTo(fallen, 3);
        expect(-lane(domain, "velocity", 1)[0]).toBeCloseTo(speed, 3);
      }
    const { keeps, way, further } = dragStep(1e-5, 0.04);
    // Against the series of the exponential, which is exact here. Derived.
    expect(keeps).toBeCloseTo(1 - 4e-7 + 8e-14, 15);
    expect(way).toBeCloseTo(0.04 - 8e-9, 12);
    expect(further).toBeCloseTo(0.0008 - (1e-5 * 0.04 ** 3) / 6, 14);
  });

  // [DYN-15] one turn of v = (−y, x) in 64 steps by the fourth order: a radius of 0.99999960254. Derived.
  it("goes round a flow by Runge and Kutta's fourth order, without leaving it", () => {
    const fps = 10.185916357881302; // 64 ÷ 2π
    const piece = leaving({
      nodes: {
        start: { type: "single-site", set: { place: [1, 0, 0] } },
        place: { type: "position" },
        minus: { type: "arithmetic", set: { do: "multiply", b: -1 } },
        round: { type: "join-vector" },
        flow: { type: "flow" },
      },
      links: [
        "place.y>minus.a",
        "minus.value>round.x",
        "place.x>round.y",
        "round.vector>flow.along",
        "flow.force>grains.forces",
        "start.sites>births.shape",
      ],
      fps,
    });
    const [x, y] = placeOf(at(piece, 64));
    expect(Math.hypot(x, y)).toBeCloseTo(0.9999996, 5);
    expect(x).toBeCloseTo(1, 4);
  });

  it("stands where drag and push are even, and says so; wind takes along; speeds are matched and limited", () => {
    const push: NodeSpec = { type: "push", set: { push: [3, 0, 0] } };
    const pushed = leaving({ forces: [push, { type: "drag", set: { linear: 2 } }] });
    // v → push ÷ drag: 3 ÷ 2. Derived.
    expect(lane(at(pushed, 200), "velocity", 0)[0]).toBeCloseTo(1.5, 5);
    expect(said(pushed)).toContain(
      "Push and drag are even at 1.5 units a second: that is where they end up.",
    );
    // v² = g ÷ q: 8 ÷ 2. Derived.
    const falling = leaving({
      forces: [gravity([0, -8, 0]), { type: "drag", set: { linear: 0, quadratic: 2 } }],
      grains: { substeps: 8 },
    });
    expect(lane(at(falling, 120), "velocity", 1)[0]).toBeCloseTo(-2, 3);
    expect(said(falling)[0]).toMatch(/even at 2 units a second/);
    const blown = leaving({ forces: [{ type: "wind", set: { velocity: [2, 0, 0], grip: 3 } }] });
    expect(lane(at(blown, 24), "velocity", 0)[0]).toBeCloseTo(2 * (1 - Math.exp(-3)), 4);
    const even = leaving({
      emit: { speed: 5 },
      forces: [{ type: "match-speed", set: { speed: 1.5, grip: 6 } }],
    });
    expect(lane(at(even, 120), "velocity", 1)[0]).toBeCloseTo(1.5, 4);
    const slow = leaving({ emit: { speed: 5 }, forces: [{ type: "speed-limit", set: { most: 2 } }] });
    expect(lane(at(slow, 1), "velocity", 1)[0]).toBeCloseTo(2, 5);
  });

  // Blur of a known speed is as long as the speed times the time that the shutter is open (derived).
  it("is drawn a moment later by its velocity alone, its sources too, and what has none stays the same", () => {
    const vector = (...rows: number[][]) =>
      makeColumn(
        "vector",
        [0, 1, 2].map((a) => Float32Array.from(rows, (row) => row[a])),
      );
    const sites: Domain = {
      count: 2,
      columns: { position: vector([1, 2, 3], [0, 0, 0]), velocity: vector([4, 0, -8], [0, 1, 0]) },
    };
    const still: Shape = { sites: { count: 1, columns: { position: vector([0, 0, 0]) } } };
    const arena = new Arena();
    const moved = arena.within(() => alongVelocity({ sites, sources: [still, { sites }] }, 0.25));
    const places = (domain: Domain | undefined) => [0, 1].map((i) => placeOf(domain, i));
    for (const domain of [moved.sites, moved.sources?.[1].sites])
      expect(places(domain)).toEqual([
        [2, 2, 1],
        [0, 0.25, 0],
      ]);
    expect(moved.sources?.[0]).toBe(still);
    expect(places(sites)[0]).toEqual([1, 2, 3]);
    arena.keepOnly([]);
  });

  it("says what pushes and drags come to where it is asked for", () => {
    const forces: NodeSpec[] = [gravity([0, -2, 0]), { type: "drag", set: { linear: 3 } }];
    const plain = at(leaving({ forces, emit: { speed: 4 } }), 7);
    expect(plain?.columns.acceleration).toBeUndefined();
    const domain = at(leaving({ forces, emit: { speed: 4 }, grains: { acceleration: true } }), 7) as Domain;
    const [speed] = lane(domain, "velocity", 1);
    expect(lane(domain, "acceleration", 1)[0]).toBeCloseTo(-2 - 3 * speed, 5);
  });

  it("keeps its circle in an orbit, and its energy on a spring in semi-implicit steps", () => {
    const start = { start: { type: "single-site", set: { place: [2, 0, 0] } } };
    const links = ["start.sites>births.shape"];
    const orbit = leaving({
      // At the speed of the orbit from the beginning: ω r.
      emit: { velocity: [0, 0, -Math.PI] },
      forces: [{ type: "orbit", set: { rate: 90, grip: 0 } }],
      grains: { substeps: 8 },
      nodes: start,
      links,
    });
    expect(Math.hypot(...placeOf(at(orbit, 96)))).toBeCloseTo(2, 2);
    const spring = leaving({
      emit: { velocity: [0, 1, 0] },
      forces: [{ type: "spring-home", set: { stiffness: 1, damping: 0 } }],
      fps: 10,
    });
    // [DYN-07] x² + v² − h x v stays what it was. Derived.
    const evaluator = new Evaluator();
    for (const frame of [1, 25, 100]) {
      const domain = at(spring, frame, evaluator);
      const [x, v] = [placeOf(domain)[1], lane(domain, "velocity", 1)[0]];
      expect(x * x + v * v - 0.1 * x * v).toBeCloseTo(1, 4);
    }
  });

  it("is pushed by what reads how far it is through its life", () => {
    const byAge = leaving({
      emit: { life: 2 },
      forces: [{ type: "push" }],
      nodes: { aged: { type: "attribute", set: { name: "aged" } }, by: { type: "join-vector" } },
      links: ["aged.value>by.x", "by.vector>force0.push"],
    });
    // x″ = t ÷ 2 in steps that keep what is there at their beginning: Σ over n steps of h. Derived.
    const [h, n] = [1 / 24, 24];
    const speed = Array.from({ length: n }, (_, k) => (k * h * h) / 2).reduce((sum, v) => sum + v, 0);
    expect(lane(at(byAge, 24), "velocity", 0)[0]).toBeCloseTo(speed, 5);
  });

  it("stands still when time does, and goes half as far at half the pace", () => {
    const piece = (grains: Set) => leaving({ emit: { when: "at a rate", rate: 24, speed: 1 }, grains });
    expect(at(piece({ time: 0 }), 24)?.count ?? 0).toBe(0);
    const half = at(leaving({ emit: { speed: 1 }, grains: { time: 0.5 } }), 24);
    expect(placeOf(half)[1]).toBeCloseTo(0.5, 5);
    const own = at(leaving({ emit: { speed: 1 }, grains: { pace: 0.25 } }), 24);
    expect([placeOf(own)[1], lane(own, "age")[0]]).toEqual([
      expect.closeTo(0.25, 5),
      expect.closeTo(0.25, 5),
    ]);
  });
});

describe("limits", () => {
  // [DYN-12] dropped from 1 m, restitution 0.8, g = 9.80665: first at 0.4516 s, then 0.64, 0.4096 high. Derived.
  it("bounces to heights that shrink by the square of what comes back", () => {
    const fps = 60;
    const piece = leaving({
      forces: [EARTH, { type: "collide", set: { bounce: 0.8, friction: 0, thickness: 0 } }],
      grains: { substeps: 32 },
      nodes: { start: { type: "single-site", set: { place: [0, 1, 0] } } },
      links: ["start.sites>births.shape"],
      fps,
    });
    const evaluator = new Evaluator();
    const heights = Array.from({ length: 130 }, (_, frame) => placeOf(at(piece, frame, evaluator))[1]);
    expect(Math.min(...heights)).toBeGreaterThanOrEqual(-1e-6);
    const tops = heights.filter((h, i) => i > 30 && h >= heights[i - 1] && h > (heights[i + 1] ?? 0));
    expect(tops[0]).toBeCloseTo(0.64, 1);
    expect(tops[1]).toBeCloseTo(0.4096, 1);
  });

  it.each([
    ["a ball", { radius: 1 }, {}],
    ["a box", { size: [2, 2, 2] }, {}],
    ["a mesh", {}, { type: "sphere", set: { radius: 1, around: 48, rings: 32 } }],
  ])("is kept inside and outside of %s, however fast", (kind, set, source) => {
    for (const side of ["inside", "outside"]) {
      const nodes: Record<string, NodeSpec> = {
        start: { type: "single-site", set: { place: side === "inside" ? [0.1, 0.2, 0] : [0.2, 3, 0.1] } },
        ...("type" in source ? { source: source as NodeSpec } : {}),
      };
      const piece = leaving({
        emit: { count: 60, speed: side === "inside" ? 9 : -9, spread: side === "inside" ? 180 : 8, seed: 3 },
        forces: [
          { type: "collide", set: { with: kind, side, thickness: 0.02, bounce: 1, friction: 0, ...set } },
        ],
        nodes,
        links: ["start.sites>births.shape", ...("type" in source ? ["source.shape>force0.shape"] : [])],
      });
      const evaluator = new Evaluator();
      for (const frame of [3, 9, 10, 40]) {
        const domain = at(piece, frame, evaluator) as Domain;
        for (let i = 0; i < domain.count; i++) {
          const place = placeOf(domain, i);
          const far = kind === "a box" ? Math.max(...place.map(Math.abs)) : Math.hypot(...place);
          if (side === "inside") expect(far).toBeLessThanOrEqual(0.98 + 0.02);
          else expect(far).toBeGreaterThanOrEqual(1 - 0.01);
        }
      }
    }
  });

  // In the eyes of a wall that comes with 1 unit a second, what stands comes with 1, and leaves with e: it goes on with 1 + e (I. Newton).
  it.each([0, 0.5, 1])("is thrown by a thin mesh that comes from below and gives back %f", (bounce) => {
    const piece = leaving({
      forces: [{ type: "collide", set: { with: "a mesh", bounce, friction: 0, thickness: 0.01 } }],
      nodes: {
        plate: { type: "plane", set: { width: 2, depth: 2 } },
        low: { type: "transform", set: { move: [0, -0.52, 0] } },
        clock: { type: "clock" },
        up: { type: "join-vector" },
        lift: { type: "move" },
      },
      links: [
        "plate.shape>low.shape",
        "low.shape>lift.shape",
        "clock.seconds>up.y",
        "up.vector>lift.by",
        "lift.shape>force0.shape",
      ],
    });
    const evaluator = new Evaluator();
    expect(lane(at(piece, 11, evaluator), "velocity", 1)).toEqual([0]);
    const later = at(piece, 24, evaluator);
    expect(lane(later, "velocity", 1)[0]).toBeCloseTo(1 + bounce, 3);
    expect(placeOf(later)[1]).toBeGreaterThanOrEqual(0.48);
    expect(lane(at(piece, 24), "position", 1)).toEqual(lane(later, "position", 1));
  });

  it("sticks, ends at a touch, ends where a field says, and stays on a surface", () => {
    const thrown = (touch: string) =>
      at(
        leaving({
          emit: { speed: -4 },
          forces: [{ type: "collide", set: { touch, thickness: 0, place: [0, -1, 0] } }],
        }),
        24,
      );
    expect(placeOf(thrown("it sticks"))[1]).toBeCloseTo(-1, 5);
    expect(thrown("it ends")).toBeUndefined();
    const gone = leaving({
      emit: { speed: 1 },
      forces: [{ type: "end-where", set: { by: "outside of a box", size: [1, 1, 1] } }],
    });
    expect([at(gone, 11)?.count, at(gone, 13)?.count]).toEqual([1, undefined]);
    const crawling = leaving({
      emit: { from: "surface", count: 50, velocity: [1, 0.5, 0], spread: 0 },
      forces: [{ type: "keep-on-surface" }],
      nodes: { ball: { type: "sphere", set: { radius: 1, build: "geodesic", detail: 5 } } },
      links: ["ball.shape>births.shape", "ball.shape>force0.shape"],
    });
    const domain = at(crawling, 48) as Domain;
    for (let i = 0; i < domain.count; i++) expect(Math.hypot(...placeOf(domain, i))).toBeCloseTo(1, 2);
  });
});

describe("with each other", () => {
  // [DYN-17] what they do to each other alone leaves the middle where it was. Derived.
  it("flocks without moving its middle, and comes to one direction", () => {
    const piece = leaving({
      emit: { from: "inside", count: 120, spread: 180, speed: 1, seed: 1 },
      forces: [{ type: "flock", set: { radius: 4, sight: 360, apart: 0, along: 3, together: 0 } }],
      nodes: { ball: { type: "sphere", set: { radius: 1 } } },
      links: ["ball.shape>births.shape"],
    });
    const sum = (domain: Domain, l: number) => lane(domain, "velocity", l).reduce((a, b) => a + b, 0);
    const [first, last] = [at(piece, 0), at(piece, 48)] as Domain[];
    for (let l = 0; l < 3; l++) expect(sum(last, l)).toBeCloseTo(sum(first, l), 2);
    const mean = [0, 1, 2].map((l) => sum(last, l) / 120);
    for (let i = 0; i < 120; i++)
      for (let l = 0; l < 3; l++) expect(lane(last, "velocity", l)[i]).toBeCloseTo(mean[l], 1);
  });

  // C. Reynolds 1987: away from, along with and towards those within a radius and an angle. Each pair looked at, one by one.
  it.each([360, 200])("flocks by what all within the radius and %i° of sight come to", (sight) => {
    const count = 400;
    const lanes = (seed: number) =>
      makeColumn(
        "vector",
        [0, 1, 2].map((a) => Float32Array.from({ length: count }, (_, i) => unit24(hash3(seed, i, a)) - 0.5)),
      );
    const domain = { count, columns: { position: lanes(1), velocity: lanes(2) } };
    const radius = 0.22;
    const arena = new Arena();
    const columns = arena.within(() => {
      const one = [constant(1)];
      const settings = { radius, sight: (sight / 180) * Math.PI };
      const parts = forceOf("flock", "Flock", { apart: one, along: one, together: one }, settings);
      return flocking(domain, [parts]).columns;
    });
    const [p, v] = [domain.columns.position, domain.columns.velocity].map(
      ({ lanes }) =>
        (i: number) =>
          lanes.map((l) => l[i]),
    );
    const dot = (a: number[], b: number[]) => a.reduce((sum, x, k) => sum + x * b[k], 0);
    for (let i = 0; i < count; i++) {
      const [apart, along, together] = [0, 1, 2].map(() => [0, 0, 0]);
      let seen = 0;
      for (let j = 0; j < count; j++) {
        const way = p(j).map((x, k) => x - p(i)[k]);
        const far = Math.hypot(...way);
        const cos = dot(way, v(i)) / (far * Math.hypot(...v(i)));
        if (j === i || far > radius || (sight < 360 && cos < Math.cos((sight / 360) * Math.PI))) continue;
        seen++;
        for (let k = 0; k < 3; k++) {
          apart[k] -= (way[k] / far) * (1 - far / radius);
          along[k] += v(j)[k] - v(i)[k];
          together[k] += way[k];
        }
      }
      const found = (name: string) => columns[`flock 0 ${name}`].lanes.map((lane) => lane[i]);
      for (let k = 0; k < 3; k++) {
        expect(found("apart")[k]).toBeCloseTo(apart[k], 4);
        expect(found("along")[k]).toBeCloseTo(along[k] / Math.max(1, seen), 4);
        expect(found("together")[k]).toBeCloseTo(together[k] / Math.max(1, seen), 4);
      }
    }
    arena.keepOnly([]);
  });

  /** What a meeting makes of balls of radius 0.5 in a row along x. */
  const meeting = (
    places: readonly number[],
    speeds: readonly number[],
    masses: readonly number[],
    bounce: number,
  ) => {
    const count = places.length;
    const along = (values: readonly number[]) =>
      makeColumn("vector", [Float32Array.from(values), new Float32Array(count), new Float32Array(count)]);
    const domain: Domain = {
      count,
      columns: {
        position: along(places),
        velocity: along(speeds),
        heavy: makeColumn("number", [Float32Array.from(masses)]),
      },
    };
    const fields = { radius: [constant(0.5)], mass: [column("heavy", 0)] };
    const arena = new Arena();
    const { columns } = arena.within(() =>
      afterContacts(domain, forceOf("contacts", "Contacts", fields, { bounce })),
    );
    const [x, v] = [columns.position, columns.velocity].map(({ lanes }) => [...lanes[0]]);
    arena.keepOnly([]);
    return { x, v };
  };

  // Two bodies that meet head on: v₁′ = ((m₁ − e m₂) v₁ + (1 + e) m₂ v₂) ÷ (m₁ + m₂) (I. Newton; any handbook of mechanics, from memory).
  it.each([
    [1, 1, 1],
    [0, 1, 1],
    [0.5, 1, 3],
  ])("exchanges momentum as bodies do that give back %f, of masses %f and %f", (e, m1, m2) => {
    const { x, v } = meeting([0, 0.9], [2, -1], [m1, m2], e);
    expect(v[0]).toBeCloseTo(((m1 - e * m2) * 2 + (1 + e) * m2 * -1) / (m1 + m2), 5);
    expect(v[1]).toBeCloseTo(((m2 - e * m1) * -1 + (1 + e) * m1 * 2) / (m1 + m2), 5);
    expect(x[1] - x[0]).toBeCloseTo(1, 5);
    // Those that part already are left alone.
    expect(meeting([0, 0.9], [-1, 1], [m1, m2], e).v).toEqual([-1, 1]);
  });

  it("keeps the momentum of a crowd, and its energy never grows", () => {
    const count = 300;
    const random = (seed: number, a: number, wide: number) =>
      Float32Array.from({ length: count }, (_, i) => (unit24(hash3(seed, i, a)) - 0.5) * wide);
    const vector = (seed: number, wide: number) =>
      makeColumn(
        "vector",
        [0, 1, 2].map((a) => random(seed, a, wide)),
      );
    const domain: Domain = { count, columns: { position: vector(1, 2), velocity: vector(2, 6) } };
    const fields = { radius: [constant(0.15)], mass: [constant(1)] };
    const arena = new Arena();
    const sums = ({ columns }: Domain) => {
      const { lanes } = columns.velocity;
      return {
        momentum: lanes.map((lane) => [...lane].reduce((sum, v) => sum + v, 0)),
        energy: lanes.reduce((sum, lane) => sum + [...lane].reduce((s, v) => s + v * v, 0), 0),
      };
    };
    const before = sums(domain);
    const after = arena.within(() =>
      sums(afterContacts(domain, forceOf("contacts", "Contacts", fields, { bounce: 1 }))),
    );
    arena.keepOnly([]);
    for (let a = 0; a < 3; a++) expect(after.momentum[a]).toBeCloseTo(before.momentum[a], 2);
    expect(after.energy).toBeLessThan(before.energy * (1 + 1e-6));
    expect(after.energy).not.toBe(before.energy);
  });

  it("piles up in a box without going into each other", () => {
    const piece = leaving({
      emit: { from: "inside", count: 60, speed: 0 },
      grains: { substeps: 4 },
      forces: [
        EARTH,
        { type: "drag", set: { linear: 1 } },
        { type: "contacts", set: { radius: 0.15, bounce: 0.2, rounds: 6 } },
        {
          type: "collide",
          set: { with: "a box", side: "inside", size: [1.2, 6, 1.2], thickness: 0.15, bounce: 0.2 },
        },
      ],
      nodes: { ball: { type: "sphere", set: { radius: 0.5 } } },
      links: ["ball.shape>births.shape"],
    });
    const pile = at(piece, 96) as Domain;
    expect(pile.count).toBe(60);
    let nearest = Number.POSITIVE_INFINITY;
    for (let i = 0; i < pile.count; i++)
      for (let j = 0; j < i; j++)
        nearest = Math.min(nearest, Math.hypot(...placeOf(pile, i).map((v, k) => v - placeOf(pile, j)[k])));
    expect(nearest).toBeGreaterThan(0.3 * 0.8);
    expect(Math.min(...lane(pile, "position", 1))).toBeGreaterThan(-3);
    // They lie: none is as high as a third of them would stand on each other.
    expect(Math.max(...lane(pile, "position", 1))).toBeLessThan(0);
  });

  it("is drawn to places, sites, curves and surfaces, and pushed away", () => {
    const pulled = (set: Set, nodes: Record<string, NodeSpec> = {}, links: string[] = []) =>
      placeOf(
        at(
          leaving({
            forces: [
              { type: "attract", set: { strength: 4, ...set } },
              { type: "drag", set: { linear: 3 } },
            ],
            nodes,
            links,
          }),
          240,
        ),
      );
    expect(pulled({ place: [1, 2, 3] }).map((v) => Math.round(v * 20) / 20)).toEqual([1, 2, 3]);
    expect(pulled({ place: [1, 0, 0], strength: -1 })[0]).toBeLessThan(-1);
    const line: NodeSpec = { type: "line", set: { from: [-3, 2, 0], to: [3, 2, 0] } };
    expect(pulled({ to: "curves" }, { goal: line }, ["goal.shape>force0.shape"])[1]).toBeCloseTo(2, 1);
    const two: NodeSpec = {
      type: "row-sites",
      set: { count: 2, from: [0, 0, 0], to: [0, 3, 0] },
    };
    expect(
      Math.abs(pulled({ to: "sites or points" }, { goal: two }, ["goal.sites>force0.shape"])[1]),
    ).toBeLessThan(0.1);
  });
});

it("says what limits them, that they fly apart, and that nothing arrives", () => {
  expect(said(leaving({ emit: { when: "at a rate", rate: 100 }, grains: { most: 5 } })).join()).toMatch(
    /There are 5, the most/,
  );
  const wild = leaving({
    emit: { velocity: [1, 0, 0] },
    forces: [{ type: "spring-home", set: { stiffness: 5000, damping: 0 } }],
  });
  expect(said(wild).join()).toMatch(/They fly apart/);
  const alone = leaving({});
  alone.graph.links.splice(1, 1);
  expect(said(alone).join()).toMatch(/The emitters have no shape/);
  expect(said(alone, 0, "births").join()).toMatch(/Nothing arrives, so nothing is born/);
});
