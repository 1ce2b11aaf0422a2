/** Deformers, against what A. Barr's paper of 1984 and solid geometry say of them. */

import { meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { pointNormals } from "../../src/core/geometry/normals";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { formed, meshIn, pointsIn, through } from "../formed";
import { graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

/** A bar 1 × 1 × 2 that stands on the origin, cut so finely that what faces cut off is not seen. */
const bar = (cuts = 31): Record<string, NodeSpec> => ({
  box: { type: "box", set: { size: [1, 2, 1], cuts } },
  stood: { type: "transform", set: { move: [0, 1, 0] } },
});
const deformedBar = (type: string, set: Record<string, Setting>, cuts = 31): Mesh =>
  meshIn(formed({ ...bar(cuts), it: { type, set } }, ["box.shape>stood.shape", "stood.shape>it.shape"]));

describe("twist", () => {
  it("keeps the volume, the more exactly the finer [MSH-20]", () => {
    const off = [7, 15, 31].map((cuts) =>
      Math.abs(2 - meshVolume(deformedBar("twist", { angle: 90 }, cuts))),
    );
    expect(off[2]).toBeLessThan(0.005);
    // Quarters as faces are halved both ways.
    expect(off[0] / off[1]).toBeCloseTo(4, 0);
    expect(off[1] / off[2]).toBeCloseTo(4, 0);
  });

  it("turns the end by the angle, right-handed about the axis, and the beginning not at all", () => {
    const places = pointsIn(deformedBar("twist", { angle: 90 }, 0));
    const before = pointsIn(deformedBar("transform", {}, 0));
    for (const [i, [x, y, z]] of before.entries()) {
      // x to −z and z to x, as a right hand turns about y.
      const wanted = y > 1 ? [z, y, -x] : [x, y, z];
      for (let a = 0; a < 3; a++) expect(places[i][a]).toBeCloseTo(wanted[a], 5);
    }
  });

  it("turns clones where they stand", () => {
    const nodes = {
      row: { type: "row-sites", set: { count: 3, from: [0, 0, 0], to: [0, 2, 0] } },
      it: { type: "twist", set: { angle: 90 } },
    };
    const shape = formed(nodes as Record<string, NodeSpec>, ["row.sites>it.shape"]);
    const { lanes } = (shape.sites as NonNullable<typeof shape.sites>).columns.rotation;
    expect(2 * Math.asin(lanes[1][2])).toBeCloseTo(Math.PI / 2, 5);
    expect(lanes[3][0]).toBeCloseTo(1, 6);
  });
});

describe("taper", () => {
  it("of the unit cube to a half has the volume 7/12 and its centre at 0.3928571429 [MSH-21]", () => {
    const cube = {
      box: { type: "box", set: { cuts: 15 } },
      stood: { type: "transform", set: { move: [0, 0.5, 0] } },
    };
    const mesh = meshIn(
      formed({ ...cube, it: { type: "taper" } } as Record<string, NodeSpec>, [
        "box.shape>stood.shape",
        "stood.shape>it.shape",
      ]),
    );
    expect(meshVolume(mesh)).toBeCloseTo(7 / 12, 3);
    expect(
      Math.max(
        ...pointsIn(mesh)
          .filter(([, y]) => y > 0.999)
          .map(([x]) => x),
      ),
    ).toBeCloseTo(0.25, 6);
  });

  it("is nothing where the mask is 0", () => {
    expect(meshVolume(deformedBar("taper", { size: 0, amount: 0 }, 3))).toBeCloseTo(2, 6);
  });
});

describe("bend", () => {
  it("keeps the volume and the length of the middle line, and comes out where the arc ends", () => {
    const mesh = deformedBar("bend", { angle: 180 });
    expect(meshVolume(mesh)).toBeCloseTo(2, 2);
    // Half a circle of length 2: radius 2/π, towards z; its end looks down at the height of its beginning.
    const end = pointsIn(mesh).filter(([x, y, z]) => Math.abs(x) < 0.02 && Math.abs(y) < 1e-4 && z > 0.6);
    const middles = end.map(([, , z]) => z);
    expect((Math.min(...middles) + Math.max(...middles)) / 2).toBeCloseTo(4 / Math.PI, 4);
  });

  it("goes to any side, and is straight at 0°", () => {
    const still = pointsIn(deformedBar("bend", { angle: 0 }, 3));
    const before = pointsIn(deformedBar("bend", { angle: 90, amount: 0 }, 3));
    for (const [i, place] of still.entries())
      for (let a = 0; a < 3; a++) expect(place[a]).toBeCloseTo(before[i][a], 5);
    const reach = (towards: number) => {
      const places = pointsIn(deformedBar("bend", { angle: 90, towards }, 7));
      return [Math.max(...places.map(([x]) => x)), Math.max(...places.map(([, , z]) => z))];
    };
    const [toZ, toX] = [reach(0), reach(90)];
    expect(toZ[1]).toBeCloseTo(toX[0], 4);
    expect(toZ[0]).toBeCloseTo(0.5, 5);
  });

  it("what is beyond its range goes on straight", () => {
    const mesh = deformedBar("bend", { angle: 90, over: "a range", from: 0, to: 1 }, 31);
    expect(meshVolume(mesh)).toBeCloseTo(2, 2);
    // The end of the arc of length 1, and a unit along z from there: 2/π + 1.
    expect(Math.max(...pointsIn(mesh).map(([, , z]) => z))).toBeCloseTo(2 / Math.PI + 1, 4);
  });
});

it("ripple goes up and down by its height and fades by half at its distance", () => {
  const sheet: NodeSpec = { type: "plane", set: { width: 4, depth: 4, across: 64, deep: 64 } };
  const places = pointsIn(meshIn(through(sheet, "ripple", { height: 0.3, wavelength: 1, fade: 1 })));
  for (const [x, y, z] of places) {
    const away = Math.hypot(x, z);
    expect(y).toBeCloseTo(0.3 * Math.sin(2 * Math.PI * away) * 0.5 ** away, 4);
  }
});

describe("displace", () => {
  it("a ball along its facings is a larger ball", () => {
    const ball: NodeSpec = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 4 } };
    const mesh = meshIn(through(ball, "displace", { distance: 0.5 }));
    for (const place of pointsIn(mesh)) expect(Math.hypot(...place)).toBeCloseTo(1.5, 3);
  });

  it("leaves facings right: those of a wave as its gradient says (finite differences)", () => {
    const nodes: Record<string, NodeSpec> = {
      sheet: { type: "plane", set: { width: 4, depth: 4, across: 80, deep: 80 } },
      it: { type: "ripple", set: { height: 0.2, wavelength: 2 } },
    };
    const mesh = meshIn(formed(nodes, ["sheet.shape>it.shape"]));
    const normals = pointNormals(mesh);
    const height = (x: number, z: number) => 0.2 * Math.sin(Math.PI * Math.hypot(x, z));
    const h = 1e-4;
    for (const [p, [x, , z]] of pointsIn(mesh).entries()) {
      if (Math.hypot(x, z) < 0.3 || Math.max(Math.abs(x), Math.abs(z)) > 1.95) continue;
      const slope = [
        (height(x + h, z) - height(x - h, z)) / (2 * h),
        (height(x, z + h) - height(x, z - h)) / (2 * h),
      ];
      const size = Math.hypot(slope[0], 1, slope[1]);
      expect(normals[0][p]).toBeCloseTo(-slope[0] / size, 1);
      expect(normals[1][p]).toBeCloseTo(1 / size, 1);
    }
  });
});

it("shrink onto draws a box onto a ball, and stays off by the gap", () => {
  const nodes: Record<string, NodeSpec> = {
    box: { type: "box", set: { size: [3, 3, 3], cuts: 7 } },
    ball: { type: "sphere", set: { radius: 1, build: "geodesic", detail: 5 } },
    it: { type: "shrink-onto", set: { gap: 0.25 } },
  };
  const mesh = meshIn(formed(nodes, ["box.shape>it.shape", "ball.shape>it.onto"]));
  for (const place of pointsIn(mesh)) expect(Math.hypot(...place)).toBeCloseTo(1.25, 2);
});

it("says what to do where a shape is flat along the axis", () => {
  const document = graphOf({ sheet: { type: "plane" }, it: { type: "twist" } }, ["sheet.shape>it.shape"]);
  expect(reportOf(document, "it").problems[0].what).toMatch(/flat along y/);
});

describe("lattice", () => {
  const nodes = (
    by: Record<string, Setting>,
    move: Record<string, Setting> = {},
  ): Record<string, NodeSpec> => ({
    ...bar(7),
    rest: { type: "grid-sites", set: { across: 2, up: 3, deep: 2, ...by } },
    up: { type: "transform", set: { move: [0, 1, 0] } },
    moved: { type: "transform", set: move },
    it: { type: "lattice" },
  });
  const LINKS = [
    "box.shape>stood.shape",
    "stood.shape>it.shape",
    "rest.sites>up.shape",
    "up.shape>it.rest",
    "up.shape>moved.shape",
    "moved.shape>it.moved",
  ];

  it("that is only moved or stretched moves and stretches what is in it (linear precision of Bernstein polynomials)", () => {
    const before = pointsIn(deformedBar("transform", {}, 7));
    const places = pointsIn(meshIn(formed(nodes({}, { move: [1, 0, 2], scale: [2, 1, 1] }), LINKS)));
    for (const [p, [x, y, z]] of before.entries())
      for (const [a, wanted] of [2 * x + 1, y, z + 2].entries()) expect(places[p][a]).toBeCloseTo(wanted, 5);
  });

  // T. Sederberg and S. Parry, 1986, point by point in float64.
  it.each([
    [4, 3, 5],
    [3, 3, 3],
  ])("goes by Bernstein polynomials of how far its points have gone: %d × %d × %d", (...counts) => {
    const before = pointsIn(deformedBar("transform", {}, 7));
    const size = { across: counts[0], up: counts[1], deep: counts[2], spacing: [0.5, 1, 0.4] };
    const piece = {
      ...nodes(size),
      moved: { type: "move" } as NodeSpec,
      chance: { type: "random", set: { low: -1, high: 1 } } as NodeSpec,
    };
    const links = [
      ...LINKS.filter((link) => !link.endsWith("moved.shape")),
      "up.shape>moved.shape",
      "chance.vector>moved.by",
    ];
    const made = pointsIn(meshIn(formed(piece, links)));
    const sitesOf = (node: string) => outputsOf(graphOf(piece, links), node).shape as Shape;
    const [rest, moved] = ["up", "moved"].map((node) => sitesOf(node).sites?.columns.position.lanes ?? []);
    const ends = rest.map((lane) => [Math.min(...lane), Math.max(...lane)]);
    const choose = (n: number, k: number): number => (k === 0 ? 1 : (choose(n - 1, k - 1) * n) / k);
    const weight = (n: number, k: number, t: number) => choose(n, k) * t ** k * (1 - t) ** (n - k);
    for (const [p, place] of before.entries()) {
      const wanted = [...place];
      for (let c = 0; c < rest[0].length; c++) {
        let share = 1;
        for (let a = 0; a < 3; a++) {
          const [low, high] = ends[a];
          const row = Math.round(((rest[a][c] - low) / (high - low)) * (counts[a] - 1));
          share *= weight(counts[a] - 1, row, Math.min(1, Math.max(0, (place[a] - low) / (high - low))));
        }
        for (let a = 0; a < 3; a++) wanted[a] += share * (moved[a][c] - rest[a][c]);
      }
      for (let a = 0; a < 3; a++) expect(made[p][a]).toBeCloseTo(wanted[a], 5);
    }
  });

  it("says what is wrong with one that is none", () => {
    const document = graphOf(nodes({ jitter: 0.4 }), LINKS);
    expect(reportOf(document, "it").problems[0].what).toMatch(/do not stand in rows/);
  });
});

describe("bend along path", () => {
  const along = (path: NodeSpec, set: Record<string, Setting> = {}): Mesh =>
    meshIn(
      formed(
        {
          box: { type: "box", set: { size: [0.2, 0.2, 2], cuts: 31 } },
          path,
          it: { type: "along-path", set },
        },
        ["box.shape>it.shape", "path.shape>it.path"],
      ),
    );

  it("a straight one only turns it", () => {
    const mesh = along({ type: "line", set: { from: [1, 0, 0], to: [9, 0, 0] } });
    expect(meshVolume(mesh)).toBeCloseTo(0.08, 6);
    const xs = pointsIn(mesh).map(([x]) => x);
    expect([Math.min(...xs), Math.max(...xs)]).toEqual([expect.closeTo(1, 5), expect.closeTo(3, 5)]);
  });

  it("around a circle it is what Pappus says: the area of the section times the way of its middle", () => {
    const mesh = along({ type: "arc", set: { radius: 3, points: 720 } });
    expect(meshVolume(mesh)).toBeCloseTo(0.04 * 2, 3);
    for (const [x, , z] of pointsIn(mesh)) expect(Math.abs(Math.hypot(x, z) - 3)).toBeLessThan(0.101);
    const whole = along(
      { type: "arc", set: { radius: 3, sweep: 359.9, points: 720 } },
      { size: "as long as the path" },
    );
    expect(meshVolume(whole)).toBeCloseTo(0.04 * 2 * Math.PI * 3, 1);
  });

  it("goes on straight beyond an open one", () => {
    const mesh = along({ type: "line", set: { from: [0, 0, 0], to: [0.5, 0, 0] } });
    expect(Math.max(...pointsIn(mesh).map(([x]) => x))).toBeCloseTo(2, 5);
  });
});

describe("wrap around", () => {
  const JAR: NodeSpec = { type: "cylinder", set: { radius: 2, height: 4, around: 720 } };
  const wrapped = (set: Record<string, Setting>, label: Record<string, Setting> = {}): Mesh =>
    meshIn(
      formed(
        {
          label: { type: "box", set: { size: [3, 1, 0.1], cuts: 47, ...label } },
          jar: JAR,
          it: { type: "wrap-around", set },
        },
        ["label.shape>it.shape", "jar.shape>it.onto"],
      ),
    );

  it("a label keeps its width on the jar, and lies on it with its back: an arc is its radius times its angle", () => {
    const places = pointsIn(wrapped({ gap: 0.01 }));
    const radii = places.map(([x, , z]) => Math.hypot(x, z));
    expect(Math.min(...radii)).toBeCloseTo(2.01, 3);
    expect(Math.max(...radii)).toBeCloseTo(2.11, 3);
    const angles = places.map(([x, , z]) => Math.atan2(x, z));
    // The middle distance of a cylinder's points with closed ends is its radius.
    expect(Math.max(...angles) - Math.min(...angles)).toBeCloseTo(3 / 2, 2);
    expect(Math.max(...places.map(([, y]) => y))).toBeCloseTo(0.5, 6);
  });

  it("once around it closes: a tube of the area between two circles, which is not turned inside out", () => {
    const mesh = wrapped({ width: "once around" }, { cuts: 199 });
    expect(meshVolume(mesh)).toBeCloseTo(Math.PI * (2.1 ** 2 - 2 ** 2), 1);
  });

  it("says what is missing", () => {
    const document = graphOf({ label: { type: "box" }, it: { type: "wrap-around" } }, [
      "label.shape>it.shape",
    ]);
    expect(reportOf(document, "it").problems[0].what).toMatch(/No surface arrives/);
  });
});
