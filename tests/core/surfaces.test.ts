/** Surfaces spanned over curves, against solid geometry. */
import fc from "fast-check";
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Setting } from "../../src/core/nodes/ports";
import { formed, meshIn, pointsIn, through } from "../formed";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

const arc = (set: Record<string, Setting>): NodeSpec => ({ type: "arc", set });
const LINE: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [0, 3, 0], points: 4 } };
const at = (move: number[], turn: number[] = [0, 0, 0]): NodeSpec => ({
  type: "transform",
  set: { move, turn },
});
/** A square of side √2 about the origin, its corners on the axes. */
const SQUARE = arc({ points: 4 });

describe("tube and sweep profile", () => {
  it("a square along a line is a prism of its area times the length", () => {
    const mesh = meshIn(
      formed({ line: LINE, square: SQUARE, it: { type: "sweep-profile" } }, [
        "line.shape>it.shape",
        "square.shape>it.profile",
      ]),
    );
    expect(isClosed(mesh)).toBe(true);
    expect(meshVolume(mesh)).toBeCloseTo(2 * 3, 5);
    const tube = meshIn(through(LINE, "tube", { radius: 1, sides: 4, roll: 30 }));
    expect(meshVolume(tube)).toBeCloseTo(6, 5);
  });

  it("around a circle it is what Pappus says, whichever way the outline runs", () => {
    for (const sweep of [360, -360]) {
      const nodes = {
        ring: arc({ radius: 3, points: 256 }),
        square: arc({ points: 4, radius: 0.5, sweep }),
        it: { type: "sweep-profile" },
      };
      const mesh = meshIn(formed(nodes, ["ring.shape>it.shape", "square.shape>it.profile"]));
      // 2πR × area of the section (Pappus and Guldin).
      expect(meshVolume(mesh) / (2 * Math.PI * 3 * 0.5)).toBeCloseTo(1, 3);
      expect(eulerCharacteristic(mesh)).toBe(0);
    }
  });

  it("goes over from one outline into the other on the way", () => {
    const nodes = {
      line: { type: "line", set: { from: [0, 0, 0], to: [0, 3, 0], points: 61 } },
      wide: arc({ points: 4, radius: 1 }),
      thin: arc({ points: 4, radius: 0.5 }),
      both: { type: "merge" },
      it: { type: "sweep-profile" },
    };
    const links = [
      "wide.shape>both.shapes",
      "thin.shape>both.shapes",
      "both.shape>it.profile",
      "line.shape>it.shape",
    ];
    // A frustum of a pyramid: h/3 (A + a + √(Aa)) (handbook of geometry).
    expect(meshVolume(meshIn(formed(nodes, links)))).toBeCloseTo((3 / 3) * (2 + 0.5 + 1), 3);
  });

  it("puts the seam where it is asked, the solid staying the same", () => {
    const [plain, moved] = [0, 0.25].map((seam) =>
      meshIn(through(LINE, "tube", { radius: 1, sides: 8, seam })),
    );
    expect(meshVolume(moved)).toBeCloseTo(meshVolume(plain), 6);
    const first = (mesh: typeof plain) => pointsIn(mesh)[0];
    const [a, b] = [first(plain), first(moved)];
    // A quarter round: at right angles to where it was.
    expect(a[0] * b[0] + a[2] * b[2]).toBeCloseTo(0, 5);
  });

  it("an open outline makes a band", () => {
    const nodes = {
      line: LINE,
      edge: { type: "line", set: { from: [-1, 0, 0], to: [1, 0, 0], points: 3 } },
      it: { type: "sweep-profile" },
    };
    const mesh = meshIn(formed(nodes, ["line.shape>it.shape", "edge.shape>it.profile"]));
    expect(meshArea(mesh)).toBeCloseTo(6, 5);
    expect(eulerCharacteristic(mesh)).toBe(1);
  });
});

describe("loft", () => {
  const lofted = (low: NodeSpec, high: NodeSpec, set: Record<string, Setting> = {}) => {
    const nodes = { low, high, up: at([0, 2, 0]), it: { type: "loft", set } };
    const links = ["low.shape>it.outlines", "high.shape>up.shape", "up.shape>it.outlines"];
    return { mesh: meshIn(formed(nodes, links)), report: reportOf(graphOf(nodes, links), "it") };
  };

  it("between two circles is the frustum [MSH-05]", () => {
    const { mesh } = lofted(arc({ points: 256 }), arc({ radius: 0.5, points: 256 }), { through: "straight" });
    expect(isClosed(mesh)).toBe(true);
    expect(meshVolume(mesh)).toBeCloseTo(3.665191429, 2);
  });

  it("makes counts equal, says so, and keeps the corners that there were", () => {
    const { mesh, report } = lofted(SQUARE, arc({ points: 30 }));
    expect(report.problems.map(({ what }) => what)).toEqual([
      "The outlines have 4, 30 points; each was given 30.",
    ]);
    const low = pointsIn(mesh).filter(([, y]) => y === 0);
    const corners = low.filter(([x, , z]) => Math.abs(Math.hypot(x, z) - 1) < 1e-6);
    expect([low.length, corners.length]).toEqual([30, 4]);
  });

  it("does not twist, wherever outlines begin and whichever way they run", () => {
    const wanted = meshVolume(lofted(SQUARE, SQUARE, { through: "straight" }).mesh);
    expect(wanted).toBeCloseTo(4, 5);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3 }), fc.boolean(), fc.boolean(), (quarter, back, below) => {
        const nodes = {
          low: SQUARE,
          high: arc({ points: 4, start: quarter * 90, sweep: back ? -360 : 360 }),
          up: at([0, below ? -2 : 2, 0]),
          it: { type: "loft", set: { through: "straight" } },
        };
        const mesh = meshIn(
          formed(nodes, ["low.shape>it.outlines", "high.shape>up.shape", "up.shape>it.outlines"]),
        );
        expect(meshVolume(mesh)).toBeCloseTo(4, 5);
      }),
      { numRuns: 16 },
    );
  });

  it("in a curve it goes through the outlines between, and round it closes", () => {
    const rings = [0, 45, 90, 135, 180, 225, 270, 315].map((angle, i) => [`r${i}`, angle] as const);
    const nodes: Record<string, NodeSpec> = {
      circle: arc({ radius: 0.3, points: 24 }),
      it: { type: "loft", set: { round: true, rows: 16 } },
    };
    const links: string[] = [];
    for (const [name, angle] of rings) {
      nodes[name] = { type: "transform", set: { move: [2, 0, 0], turn: [90, 0, 0] } };
      nodes[`${name}t`] = at([0, 0, 0], [0, angle, 0]);
      links.push(`circle.shape>${name}.shape`, `${name}.shape>${name}t.shape`, `${name}t.shape>it.outlines`);
    }
    const mesh = meshIn(formed(nodes, links));
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(0);
    // A torus but for the way that a Catmull–Rom spline is off the circle.
    expect(meshVolume(mesh) / (2 * Math.PI ** 2 * 2 * 0.09)).toBeCloseTo(1, 1);
  });

  it("tells what is missing", () => {
    const report = reportOf(graphOf({ one: SQUARE, it: { type: "loft" } }, ["one.shape>it.outlines"]), "it");
    expect(report.problems[0].what).toMatch(/Only one outline/);
  });

  it("refuses more points than fit, and says how many would", () => {
    const nodes = { one: SQUARE, two: SQUARE, it: { type: "loft", set: { points: 1e9 } } };
    const [{ what }] = reportOf(
      graphOf(nodes, ["one.shape>it.outlines", "two.shape>it.outlines"]),
      "it",
    ).problems;
    expect(what).toMatch(/"points" asks for .* million .*would fit/);
  });
});

describe("revolve", () => {
  /** A unit square about (2, 0) in the plane z = 0, as an arc of four points stood up and turned. */
  const beside = { square: arc({ points: 4, radius: Math.SQRT1_2 }), it: { type: "revolve" } };
  const placed = { ...beside, stand: at([2, 0, 0], [90, 0, 0]), turn: at([0, 0, 0], [0, 45, 0]) };
  const links = ["square.shape>turn.shape", "turn.shape>stand.shape", "stand.shape>it.shape"];
  const turned = (set: Record<string, Setting>) =>
    meshIn(formed({ ...placed, it: { type: "revolve", set } }, links));

  it("is what Pappus says, and what its twelve pieces say [MSH-19]", () => {
    expect(meshVolume(turned({ steps: 12 }))).toBeCloseTo(12, 4);
    expect(meshVolume(turned({ steps: 720 }))).toBeCloseTo(4 * Math.PI, 3);
    expect(meshArea(turned({ steps: 720 }))).toBeCloseTo(16 * Math.PI, 2);
  });

  it("part of a turn is closed at both ends, either way round", () => {
    for (const turn of [180, -180]) {
      const mesh = turned({ steps: 360, turn });
      expect(isClosed(mesh)).toBe(true);
      expect(meshVolume(mesh)).toBeCloseTo(2 * Math.PI, 3);
    }
  });

  it("rises as a screw: the same volume for each turn", () => {
    const mesh = turned({ steps: 1440, turn: 720, rise: 4 });
    expect(isClosed(mesh)).toBe(true);
    expect(meshVolume(mesh) / (8 * Math.PI)).toBeCloseTo(1, 3);
  });

  it("points on the axis stay single: half a circle makes a ball", () => {
    // Half a circle beside the axis: stood up, then turned until its ends are above each other.
    const nodes: Record<string, NodeSpec> = {
      half: arc({ sweep: 180, points: 65 }),
      up: at([0, 0, 0], [90, 0, 0]),
      beside: at([0, 0, 0], [0, 0, -90]),
      it: { type: "revolve", set: { steps: 96 } },
    };
    const mesh = meshIn(
      formed(nodes, ["half.shape>up.shape", "up.shape>beside.shape", "beside.shape>it.shape"]),
    );
    expect(eulerCharacteristic(mesh)).toBe(2);
    expect(meshVolume(mesh)).toBeCloseTo((4 / 3) * Math.PI, 1);
  });
});

describe("patch and skin", () => {
  it("fills a flat circle with its area, facing one way", () => {
    const mesh = meshIn(through(arc({ points: 128 }), "patch"));
    expect(meshArea(mesh)).toBeCloseTo(Math.PI, 2);
    expect(eulerCharacteristic(mesh)).toBe(1);
  });

  it("bulges by as much as asked", () => {
    const places = pointsIn(meshIn(through(arc({ points: 64 }), "patch", { bulge: 0.7 })));
    expect(Math.max(...places.map(([, y]) => Math.abs(y)))).toBeCloseTo(0.7, 5);
  });

  it("is smaller than a cone over an outline that goes up and down: films are least surfaces (J. Plateau, 1873)", () => {
    const nodes = {
      ring: arc({ points: 64 }),
      it: { type: "patch", set: { rings: 12 } },
      lifted: { type: "move", set: { by: [0, 0.5, 0] } },
      place: { type: "position" },
      sq: { type: "arithmetic", set: { do: "multiply" } },
    } as Record<string, NodeSpec>;
    const links = [
      "ring.shape>lifted.shape",
      "place.x>sq.a",
      "place.z>sq.b",
      "sq.value>lifted.amount",
      "lifted.shape>it.shape",
    ];
    const film = meshIn(formed(nodes, links));
    // x·z is a saddle; the film has the area of ∬ √(1 + ¼ (x² + z²)) over the disc, nearly: 16π/3 ((1 + ¼)^1.5 − 1) ÷ 2 (derived).
    expect(meshArea(film)).toBeCloseTo(((16 * Math.PI) / 6) * (1.25 ** 1.5 - 1), 1);
  });

  it("spans rows of sites, facing up over a grid", () => {
    const nodes = {
      grid: { type: "grid-sites", set: { across: 5, deep: 4 } },
      it: { type: "skin-sites", set: { across: 5 } },
    };
    const mesh = meshIn(formed(nodes, ["grid.sites>it.shape"]));
    expect(mesh.faces.count).toBe(12);
    expect(meshArea(mesh)).toBeCloseTo(12, 5);
    const thick = meshIn(
      formed(
        {
          grid: nodes.grid,
          skin: nodes.it,
          it: { type: "thicken", set: { thickness: 1, towards: "the front" } },
        },
        ["grid.sites>skin.shape", "skin.shape>it.shape"],
      ),
    );
    expect(Math.max(...pointsIn(thick).map(([, y]) => y))).toBeCloseTo(1, 5);
  });

  it("says when the sites do not fill rows", () => {
    const document = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 5, deep: 4 } },
        it: { type: "skin-sites", set: { across: 6 } },
      },
      ["grid.sites>it.shape"],
    );
    expect(reportOf(document, "it").problems[0].what).toMatch(/last 2 do not fill a row/);
  });
});
