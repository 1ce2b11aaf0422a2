/** Particles against the motion of bodies under gravity and drag, and against counts that a rate comes to. */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Domain } from "../../src/core/geometry/column";
import type { Setting } from "../../src/core/nodes/ports";
import { dragStep } from "../../src/core/simulate/emission";
import { graphOf, type NodeSpec } from "../run-node";

type Set = Record<string, Setting>;

/** Particles that leave one site, whose top looks along `direction`. */
function leaving(set: Set, { fps = 24, nodes = {}, links = [] as string[], direction = [0, 1, 0] } = {}) {
  const document = graphOf(
    {
      site: { type: "single-site" },
      look: { type: "orient", set: { direction, axis: "y", roll: "least twist" } },
      grains: {
        type: "particles",
        set: { speedSpread: 0, lifeSpread: 0, spread: 0, gravity: [0, 0, 0], drag: 0, life: 0, ...set },
      },
      stage: { type: "stage" },
      ...(nodes as Record<string, NodeSpec>),
    },
    ["site.sites>look.shape", "look.shape>grains.shape", "grains.sites>stage.shape", ...links],
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

// [DYN-18] floor(rate × t): ten in a second at 24 frames, thirty in four at 7.5 and 60; birth times k ÷ rate. Derived.
it("bears as many as the rate asks for, at their times, however it is stepped", () => {
  const ten = at(leaving({ rate: 10 }), 24);
  expect(ten?.count).toBe(10);
  lane(ten, "age").forEach((age, k) => {
    expect(age).toBeCloseTo(1 - (k + 1) / 10, 5);
  });
  expect(at(leaving({ rate: 7.5 }, { fps: 60 }), 240)?.count).toBe(30);
  const split = at(leaving({ rate: 10, substeps: 7 }), 24);
  expect(lane(split, "id")).toEqual(lane(ten, "id"));
  const evaluator = new Evaluator();
  for (const frame of [30, 3, 24]) at(leaving({ rate: 10 }), frame, evaluator);
  expect(lane(at(leaving({ rate: 10 }), 24, evaluator), "age")).toEqual(lane(ten, "age"));
});

// [DYN-10] speed 20 at 45°, g = 9.80665: after a second at (14.14213562, 9.238810624); [DYN-11] 10 upward: 5.096675. Derived.
it("flies as a body does that is thrown", () => {
  const gravity = [0, -9.80665, 0];
  const thrown = leaving({ rate: 24, speed: 20, gravity, most: 1 }, { direction: [1, 1, 0] });
  // Born at the end of the first step, so a second later it is frame 25.
  const flown = at(thrown, 25);
  expect(lane(flown, "position", 0)[0]).toBeCloseTo(14.14213562, 4);
  expect(lane(flown, "position", 1)[0]).toBeCloseTo(9.238810624, 4);
  const up = leaving({ rate: 60, speed: 10, gravity, most: 1 }, { fps: 60 });
  expect(lane(at(up, 61), "position", 1)[0]).toBeCloseTo(5.096675, 4);
});

// [DYN-08] v′ = g − 0.5 v from rest, g = 9.80665: (fallen, v) after 0.5, 1, 2, 5 s; at last 19.6133. Derived.
it("falls with drag as the equation says, and comes to its last speed", () => {
  const gravity = [0, -9.80665, 0];
  const table = [
    [0.5, 1.129756797, 4.338446601],
    [1, 4.178835576, 7.717232212],
    [2, 14.43065969, 12.39797016],
    [5, 62.05981541, 18.0033423],
  ];
  for (const fps of [24, 60])
    for (const [seconds, fallen, speed] of table) {
      const piece = leaving({ rate: fps, speed: 0, gravity, drag: 0.5, most: 1 }, { fps });
      const domain = at(piece, seconds * fps + 1);
      expect(-lane(domain, "position", 1)[0]).toBeCloseTo(fallen, 3);
      expect(-lane(domain, "velocity", 1)[0]).toBeCloseTo(speed, 3);
    }
  const { keeps, way, further } = dragStep(1e-5, 0.04);
  // Against the series of the exponential, which is exact here. Derived.
  expect(keeps).toBeCloseTo(1 - 4e-7 + 8e-14, 15);
  expect(way).toBeCloseTo(0.04 - 8e-9, 12);
  expect(further).toBeCloseTo(0.0008 - (1e-5 * 0.04 ** 3) / 6, 14);
});

it("ends at its age, keeps ids, and leaves in every direction of a cone alike", () => {
  const piece = leaving({ rate: 2_000, life: 1, lifeSpread: 0.5, speed: 1, spread: 30 });
  const evaluator = new Evaluator();
  const domain = at(piece, 72, evaluator) as Domain;
  const [ages, lives, ids] = [lane(domain, "age"), lane(domain, "life"), lane(domain, "id")];
  ages.forEach((age, i) => {
    expect(age).toBeLessThan(lives[i]);
  });
  // Lives from 0.5 to 1.5, evenly: a mean of 1 s at 2,000 a second. Common practice, no source.
  expect(domain.count).toBeGreaterThan(1_900);
  expect(domain.count).toBeLessThan(2_100);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids.every((id, i) => i === 0 || id > ids[i - 1])).toBe(true);
  const up = lane(domain, "velocity", 1);
  expect(Math.min(...up)).toBeGreaterThanOrEqual(Math.cos(Math.PI / 6) - 1e-5);
  // Heights on a cap of a sphere are spread evenly (Archimedes): the mean is half-way.
  const mean = up.reduce((sum, v) => sum + v, 0) / up.length;
  expect(mean).toBeCloseTo((1 + Math.cos(Math.PI / 6)) / 2, 2);
  const after = at(piece, 73, evaluator) as Domain;
  const there = new Set(lane(after, "id"));
  const gone = ids.filter((id) => !there.has(id));
  expect(gone.length).toBeGreaterThan(0);
  for (const id of gone) {
    const i = ids.indexOf(id);
    expect(ages[i] + 1 / 24).toBeGreaterThanOrEqual(lives[i] - 1e-5);
  }
});

it("is pushed by what reads its age and place, and stands where the drag lets the push come to rest", () => {
  // v → push ÷ drag, as for a fall: 3 ÷ 2. Derived.
  const piece = leaving({ rate: 24, speed: 0, drag: 2, push: [3, 0, 0], most: 1 });
  expect(lane(at(piece, 200), "velocity", 0)[0]).toBeCloseTo(1.5, 5);
  const byAge = leaving(
    { rate: 24, speed: 0, most: 1 },
    {
      nodes: { age: { type: "attribute", set: { name: "age" } }, by: { type: "join-vector" } },
      links: ["age.value>by.x", "by.vector>grains.push"],
    },
  );
  // x″ = t in steps that keep what is there at their beginning: Σ over n steps of h. Derived.
  const [h, n] = [1 / 24, 24];
  const speed = Array.from({ length: n }, (_, k) => k * h * h).reduce((sum, v) => sum + v, 0);
  expect(lane(at(byAge, 25), "velocity", 0)[0]).toBeCloseTo(speed, 5);
});

it("says how fast things fall in the end, what limits them, and that nothing arrives", () => {
  const said = (piece: Piece, frame = 48) =>
    new Evaluator().evaluate(piece, frame).report.nodes.grains.problems.map(({ what }) => what);
  expect(said(leaving({ drag: 2, gravity: [0, -3, 0] }))).toContain(
    "Falling, they come to 1.5 units a second at most.",
  );
  expect(said(leaving({ rate: 100, most: 5 })).join()).toMatch(/There are 5, the most/);
  const alone = leaving({});
  alone.graph.links.splice(1, 1);
  expect(said(alone).join()).toMatch(/Nothing arrives, so nothing is born/);
});
