/** Soft shapes: distances [Muller07, Macklin16], what hangs and swings, what is kept, and what bad input says. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { makeCurve } from "../../src/core/geometry/curves";
import { meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { validateShape } from "../../src/core/geometry/validate";
import { connectedParts } from "../../src/core/meshes/parts";
import type { Setting } from "../../src/core/nodes/ports";
import { type Ties, tiesOf } from "../../src/core/soft/constraints";
import { type SoftBody, type SoftSettings, softAtRest, steppedSoft } from "../../src/core/soft/soft-body";
import { partedCurves } from "../../src/core/soft/tearing";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const even = (count: number, v: number) => new Float32Array(count).fill(v);

/** A line of points along x. @param length of all of it */
const rope = (count: number, length: number) => {
  const curves = makeCurve(count, false, (i) => [(i / (count - 1)) * length, 0, 0]);
  const ties = tiesOf({ curves }) as Ties;
  const goals = curves.points.columns.position.lanes as Float32Array[];
  return { ties, goals, body: softAtRest(goals, ties) };
};

const settings = (goals: readonly Float32Array[], set: Partial<SoftSettings> = {}): SoftSettings => {
  const { length } = goals[0];
  return {
    substeps: 20,
    stretch: 0,
    bend: 1e9,
    pressure: null,
    lengths: [],
    tied: null,
    led: even(length, 0),
    goals,
    home: even(length, Number.POSITIVE_INFINITY),
    push: [0, 1, 2].map((a) => even(length, a === 1 ? -9.80665 : 0)),
    damping: 0,
    tear: Number.POSITIVE_INFINITY,
    yields: Number.POSITIVE_INFINITY,
    own: 0,
    planes: null,
    gap: 0,
    friction: 0,
    ...set,
  };
};

const led = (count: number, ...which: number[]) =>
  Float32Array.from({ length: count }, (_, i) => (which.includes(i) ? 1 : 0));
const placeOf = ({ domains: { points } }: SoftBody, i: number) =>
  points.columns.position.lanes.map((lane) => lane[i]);
const later = (body: SoftBody, ties: Ties, set: SoftSettings, seconds: number, fps = 60): SoftBody => {
  let made = body;
  for (let f = 0; f < Math.round(seconds * fps); f++) made = steppedSoft(made, ties, set, 1 / fps);
  return made;
};

describe("pairs", () => {
  // DYN-16: Δp = −wᵢ ÷ (w₁ + w₂) × (d − L), with equal masses and with one that is led; one step of no weight.
  it.each([
    ["equal masses", [], [0.5, 1.5]],
    ["one that is led", [0], [0, 1]],
  ] as const)("come to their length: %s", (_, which, wanted) => {
    const { ties, goals } = rope(2, 1);
    const apart = [Float32Array.of(0, 2), new Float32Array(2), new Float32Array(2)];
    const still = [0, 1, 2].map(() => even(2, 0));
    const body = softAtRest(goals, ties);
    const stretched: SoftBody = {
      ...body,
      domains: {
        ...body.domains,
        points: {
          count: 2,
          columns: {
            position: { kind: "vector", lanes: apart },
            velocity: { kind: "vector", lanes: still },
          },
        },
      },
    };
    const made = steppedSoft(
      stretched,
      ties,
      settings(apart, { substeps: 1, push: still, led: led(2, ...which) }),
      1 / 60,
    );
    expect([placeOf(made, 0)[0], placeOf(made, 1)[0]]).toEqual(wanted.map((v) => expect.closeTo(v, 5)));
  });

  // A spring of compliance α under a weight m g is longer by α m g, whatever the frame rate and the sub-steps (Macklin16 §4).
  it.each([
    [24, 10],
    [60, 10],
    [60, 40],
  ])("give way by as much as their compliance says, at %d frames with %d sub-steps", (fps, substeps) => {
    const { ties, goals, body } = rope(2, 1);
    const made = later(
      body,
      ties,
      settings(goals, { stretch: 0.01, substeps, damping: 3, led: led(2, 0) }),
      12,
      fps,
    );
    const place = placeOf(made, 1);
    expect(Math.hypot(...place)).toBeCloseTo(1 + 0.01 * 9.80665, 3);
  });
});

describe("what hangs and swings", () => {
  // T = 2 π √(L ÷ g) (1 + θ² ÷ 16): Huygens, with the first correction for the angle.
  it("a pendulum swings in the time that its length says", () => {
    const angle = 0.2;
    const { ties } = rope(2, 1);
    const goals = [
      Float32Array.of(0, Math.sin(angle)),
      Float32Array.of(0, -Math.cos(angle)),
      new Float32Array(2),
    ];
    let body = softAtRest(goals, ties);
    const set = settings(goals, { led: led(2, 0), substeps: 40 });
    const [dt, crossings]: [number, number[]] = [1 / 100, []];
    for (let f = 0; f < 500 && crossings.length < 3; f++) {
      const before = placeOf(body, 1)[0];
      body = steppedSoft(body, ties, set, dt);
      const now = placeOf(body, 1)[0];
      if (before > 0 !== now > 0) crossings.push((f + before / (before - now)) * dt);
    }
    const period = crossings[2] - crossings[0];
    expect(period).toBeCloseTo(2 * Math.PI * Math.sqrt(1 / 9.80665) * (1 + angle ** 2 / 16), 2);
  });

  // A chain of length S between ends at one height, d apart, hangs as a cosh(x ÷ a), S = 2 a sinh(d ÷ 2a): the sag is a (cosh(d ÷ 2a) − 1).
  it("a chain hangs as a catenary", () => {
    const [count, length, apart] = [41, 2, 1.5];
    const { ties } = rope(count, length);
    const along = Float32Array.from({ length: count }, (_, i) => (i / (count - 1)) * apart);
    // It begins as an arc of the right length, near enough, and is led at both ends.
    const goals = [
      along,
      Float32Array.from(along, (x) => -1.9 * x * (1 - x / apart)),
      new Float32Array(count),
    ];
    const body: SoftBody = softAtRest(goals, ties);
    const straight = body.domains.stretch.columns.rest.lanes[0].map(() => length / (count - 1));
    const chain: SoftBody = {
      ...body,
      domains: {
        ...body.domains,
        stretch: {
          count: count - 1,
          columns: { rest: { kind: "number", lanes: [straight as Float32Array] } },
        },
      },
    };
    const made = later(chain, ties, settings(goals, { led: led(count, 0, count - 1), damping: 3 }), 6);
    let a = 1;
    for (let i = 0; i < 200; i++) a += (2 * a * Math.sinh(apart / (2 * a)) - length) * 0.2;
    expect(-placeOf(made, 20)[1]).toBeCloseTo(a * (Math.cosh(apart / (2 * a)) - 1), 2);
  });

  it("falls freely as anything does, and never gains energy", () => {
    const { ties, goals, body } = rope(8, 1);
    const made = later(body, ties, settings(goals), 0.5);
    // Each sub-step adds the speed first: g t² ÷ 2 and half a sub-step of it more.
    const wanted = (9.80665 * 0.5 * (0.5 + 1 / 1200)) / 2;
    for (const i of [0, 7]) expect(-placeOf(made, i)[1]).toBeCloseTo(wanted, 4);
    const [, falling] = made.domains.points.columns.velocity.lanes as Float32Array[];
    expect(falling.reduce((sum, v) => sum + v, 0) / 8).toBeCloseTo(-9.80665 * 0.5, 3);
  });

  it("keeps its momentum when nothing pulls at it", () => {
    const { ties, goals, body } = rope(6, 1);
    const still = [0, 1, 2].map(() => even(6, 0));
    const thrown: SoftBody = {
      ...body,
      domains: {
        ...body.domains,
        points: {
          ...body.domains.points,
          columns: {
            ...body.domains.points.columns,
            velocity: { kind: "vector", lanes: [even(6, 0), Float32Array.of(1, 0, -2, 0, 0, 3), even(6, 0)] },
          },
        },
      },
    };
    const made = later(thrown, ties, settings(goals, { push: still, stretch: 0.001 }), 1);
    const sum = (made.domains.points.columns.velocity.lanes as Float32Array[]).map((lane) =>
      lane.reduce((a, b) => a + b, 0),
    );
    expect(sum).toEqual([0, 2, 0].map((v) => expect.closeTo(v, 2)));
  });
});

describe("the node", () => {
  const soft = (set: Record<string, Setting> = {}): NodeSpec => ({ type: "soft-shape", set });
  const at = (
    frame: number,
    nodes: Record<string, NodeSpec>,
    links: string[],
    evaluator = new Evaluator(),
  ): Mesh | undefined =>
    evaluator.evaluate(
      graphOf({ ...nodes, stage: { type: "stage" } }, [...links, "it.shape>stage.shape"]),
      frame,
    ).shape?.mesh;
  const CLOTH: Record<string, NodeSpec> = {
    cloth: { type: "plane", set: { width: 1.6, depth: 1.6, across: 20, deep: 20 } },
    up: { type: "transform", set: { move: [0, 0.9, 0] } },
    ball: { type: "sphere", set: { radius: 0.5, build: "geodesic", detail: 3 } },
  };
  const DRAPED = ["cloth.shape>up.shape", "up.shape>it.shape", "ball.shape>it.against"];

  it("drapes over a ball and never goes into it", () => {
    for (const frame of [12, 30, 50]) {
      const mesh = at(frame, { ...CLOTH, it: soft({ gap: 0.03 }) }, DRAPED);
      const [x, y, z] = mesh?.points.columns.position.lanes ?? [[], [], []];
      for (let p = 0; p < x.length; p++) expect(Math.hypot(x[p], y[p], z[p])).toBeGreaterThan(0.49);
      if (frame === 50) {
        expect(Math.max(...y)).toBeLessThan(0.62);
        expect(Math.min(...y)).toBeLessThan(0.1);
      }
    }
  });

  it("is stretched less the firmer it is", () => {
    const most = (stretch: number) => {
      const nodes = {
        ...CLOTH,
        edge: {
          type: "falloff",
          set: { form: "box", middle: [0, 0.9, -0.8], half: [1, 0.1, 0.01], outer: 0.02 },
        },
        it: soft({ of: "as set below", stretch, damping: 1.5, bend: 1 }),
      };
      const mesh = at(40, nodes, ["cloth.shape>up.shape", "up.shape>it.shape", "edge.value>it.pin"]);
      return Math.max(...(mesh?.points.columns.strain.lanes[0] ?? []));
    };
    const strains = [0.004, 0.001, 0].map(most);
    expect(strains[0]).toBeGreaterThan(strains[1]);
    expect(strains[1]).toBeGreaterThan(strains[2]);
  });

  it("is never drawn out past its ties to its pins, however few sub-steps it has", () => {
    const lowest = (isTied: boolean) => {
      const nodes = {
        ...CLOTH,
        edge: {
          type: "falloff",
          set: { form: "box", middle: [0, 0.9, -0.8], half: [1, 0.1, 0.01], outer: 0.02 },
        },
        it: soft({ of: "as set below", stretch: 0.05, damping: 1, bend: 1, substeps: 2, isTied }),
      };
      const mesh = at(40, nodes, ["cloth.shape>up.shape", "up.shape>it.shape", "edge.value>it.pin"]);
      return Math.min(...(mesh?.points.columns.position.lanes[1] ?? []));
    };
    // 1.6 long, hung at 0.9.
    expect(lowest(true)).toBeGreaterThan(0.9 - 1.6 - 0.05);
    expect(lowest(false)).toBeLessThan(0.9 - 1.6 - 0.2);
  });

  it("stays as full as it is told to", () => {
    const filled = (pressure: number) =>
      meshVolume(
        at(40, { ball: CLOTH.ball, it: soft({ of: "rubber", isFull: true, pressure, gravity: [0, 0, 0] }) }, [
          "ball.shape>it.shape",
        ]) as Mesh,
      );
    const before = filled(1);
    expect(before).toBeCloseTo(
      meshVolume(at(0, { ball: CLOTH.ball, it: soft() }, ["ball.shape>it.shape"]) as Mesh),
      2,
    );
    expect(filled(1.5) / before).toBeGreaterThan(1.3);
  });

  it("tears where it is drawn out too far, and gives way for good where it yields", () => {
    const pulled = (set: Record<string, Setting>) => {
      const nodes = {
        cloth: { type: "plane", set: { width: 1, depth: 1, across: 8, deep: 8 } },
        place: { type: "position" },
        side: { type: "compare", set: { is: "greater than", b: 0.49 } },
        size: { type: "arithmetic", set: { do: "absolute" } },
        clock: { type: "clock" },
        wide: { type: "transform" },
        long: { type: "formula", set: { formula: "vec3(1 + a, 1, 1)" } },
        it: soft({ gravity: [0, 0, 0], ...set }),
      };
      return at(12, nodes, [
        "cloth.shape>wide.shape",
        "clock.seconds>long.a",
        "long.vector>wide.scale",
        "wide.shape>it.shape",
        "place.x>size.a",
        "size.value>side.a",
        "side.value>it.pin",
      ]);
    };
    expect(pulled({})?.faces.count).toBe(64);
    // In two: no face is lost, and points at the crack are two.
    const torn = pulled({ tear: 0.15 }) as Mesh;
    expect(torn.faces.count).toBe(64);
    expect(torn.points.count).toBeGreaterThanOrEqual(81 + 9);
    expect(validateShape({ mesh: torn })).toEqual([]);
    expect(connectedParts(torn).count).toBeGreaterThan(1);
    const strain = (mesh: Mesh | undefined) => Math.max(...(mesh?.points.columns.strain.lanes[0] ?? []));
    expect(strain(pulled({ yields: 0.05 }))).toBeLessThan(strain(pulled({})) * 0.6);
  });

  it("a rope tears into pieces, a ring into one that is open", () => {
    const rope = makeCurve(6, false, (i) => [i, 0, 0]);
    const torn = partedCurves(rope, [1, 1, -1, 1, -1]);
    expect([...torn.curveStarts]).toEqual([0, 3, 5]);
    expect([...torn.points.columns.position.lanes[0]]).toEqual([0, 1, 2, 3, 4]);
    const ring = makeCurve(5, true, (i) => [i, 0, 0]);
    const open = partedCurves(ring, [1, 1, -1, 1, 1]);
    expect([...open.points.columns.position.lanes[0]]).toEqual([3, 4, 0, 1, 2]);
    expect([...open.curves.columns.closed.lanes[0]]).toEqual([0]);
    expect(validateShape({ curves: torn })).toEqual([]);
    expect(partedCurves(ring, [1, 1, 1, 1, 1])).toBe(ring);
  });

  it.each<Record<string, number>>([{ own: 0.05 }, { tear: 0.02 }])(
    "is the same at a frame however one comes there: %j",
    (set) => {
      const nodes = { ...CLOTH, it: soft(set) };
      const played = new Evaluator();
      for (const frame of [0, 5, 9]) at(frame, nodes, DRAPED, played);
      const [there, jumped] = [at(14, nodes, DRAPED, played), at(14, nodes, DRAPED)];
      expect(there?.points.columns.position.lanes).toEqual(jumped?.points.columns.position.lanes);
      expect(there?.cornerPoint).toEqual(jumped?.cornerPoint);
    },
  );

  it("says so when nothing arrives, and when it is thicker than its edges", () => {
    const words = (nodes: Record<string, NodeSpec>, links: string[]) =>
      reportOf(graphOf(nodes, links), "it")
        .problems.map(({ what }) => what)
        .join();
    expect(words({ it: soft() }, [])).toContain("No mesh and no curves");
    expect(words({ ...CLOTH, it: soft({ own: 0.5 }) }, DRAPED)).toContain("shortest edge");
  });
});
