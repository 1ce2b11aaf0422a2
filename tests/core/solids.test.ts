/** Booleans, hulls and pieces of solids, against inclusion and exclusion and what adds up. */
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { SOLIDS } from "../../src/core/solids/solid";
import { formed, meshIn, pointsIn } from "../formed";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

beforeAll(() => SOLIDS.load());

const CUBE: NodeSpec = { type: "box", set: { size: [2, 2, 2] } };
const BALL: NodeSpec = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 3 } };
const combined = (how: string, first: NodeSpec = CUBE, other: NodeSpec = CUBE, move: Setting = [1, 1, 1]) =>
  formed(
    {
      first,
      other,
      moved: { type: "transform", set: { move } },
      it: { type: "solid-boolean", set: { how } },
    },
    ["first.shape>it.shape", "other.shape>moved.shape", "moved.shape>it.other"],
  );

describe("solid boolean", () => {
  it.each([
    ["union", 15, 42],
    ["difference", 7, 24],
    ["intersection", 1, 6],
  ])("%s of two cubes of side 2, one moved by 1 1 1 [MSH-06]", (how, volume, area) => {
    const mesh = meshIn(combined(how));
    expect(meshVolume(mesh)).toBeCloseTo(volume, 5);
    expect(meshArea(mesh)).toBeCloseTo(area, 4);
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
  });

  it("of any two: union and intersection are together as large as both", () => {
    const [union, difference, intersection] = ["union", "difference", "intersection"].map((how) =>
      meshVolume(meshIn(combined(how, BALL, CUBE, [0.7, 0.3, 0.2]))),
    );
    const ball = meshVolume(meshIn(formed({ it: BALL }, [])));
    expect(union + intersection).toBeCloseTo(ball + 8, 4);
    expect(difference + intersection).toBeCloseTo(ball, 4);
  });

  it("a hole right through makes a ring of a ball", () => {
    const rod: NodeSpec = { type: "cylinder", set: { radius: 0.3, height: 4, around: 16 } };
    const mesh = meshIn(combined("difference", BALL, rod, [0, 0, 0]));
    expect(eulerCharacteristic(mesh)).toBe(0);
  });

  it("carries pictures, colours and what faces have, and tells whose each face is", () => {
    const nodes: Record<string, NodeSpec> = {
      cube: CUBE,
      red: { type: "tint", set: { color: "#ff0000" } },
      heat: { type: "store-attribute", set: { on: "faces", name: "heat", number: 3 } },
      ball: BALL,
      moved: { type: "transform", set: { move: [1, 1, 1] } },
      it: { type: "solid-boolean" },
    };
    const links = [
      "cube.shape>red.shape",
      "red.shape>heat.shape",
      "heat.shape>it.shape",
      "ball.shape>moved.shape",
      "moved.shape>it.other",
    ];
    const mesh = meshIn(formed(nodes, links));
    const { side, heat } = mesh.faces.columns;
    const sides = Array.from(side.lanes[0]);
    expect(new Set(sides)).toEqual(new Set([0, 1]));
    for (const [f, of] of sides.entries()) expect(heat.lanes[0][f]).toBe(of === 0 ? 3 : 0);
    // A side of the box that the ball did not reach shows its whole picture: from 0 to 1 both ways.
    const untouched = sides.flatMap((of, f) =>
      of === 0 ? [0, 1, 2].map((k) => mesh.faceStarts[f] + k) : [],
    );
    const us = untouched.map((c) => mesh.corners.columns.uv.lanes[0][c]);
    expect([Math.min(...us), Math.max(...us)]).toEqual([0, 1]);
    expect(mesh.points.columns.color).toBeDefined();
  });

  it("says what is open, and how to close it", () => {
    const document = graphOf({ sheet: { type: "plane" }, cube: CUBE, it: { type: "solid-boolean" } }, [
      "sheet.shape>it.shape",
      "cube.shape>it.other",
    ]);
    expect(reportOf(document, "it").problems[0].what).toMatch(/open along 4 edges.*Thicken/);
  });

  it("says so when nothing is left", () => {
    const document = graphOf({ cube: CUBE, ball: BALL, it: { type: "solid-boolean" } }, [
      "ball.shape>it.shape",
      "cube.shape>it.other",
    ]);
    expect(reportOf(document, "it").problems[0].what).toMatch(/Nothing is left/);
  });
});

describe("hull", () => {
  it("of a star's tips is what they span, and all points are within it", () => {
    const mesh = meshIn(formed({ ball: BALL, it: { type: "hull" } }, ["ball.shape>it.shape"]));
    // A convex mesh is its own hull.
    expect(meshVolume(mesh)).toBeCloseTo(meshVolume(meshIn(formed({ it: BALL }, []))), 4);
    expect(isClosed(mesh)).toBe(true);
  });

  it("of eight sites is the box", () => {
    const nodes = { grid: { type: "grid-sites", set: { across: 2, up: 2, deep: 2 } }, it: { type: "hull" } };
    const mesh = meshIn(formed(nodes, ["grid.sites>it.shape"]));
    expect([meshVolume(mesh), pointsIn(mesh).length]).toEqual([expect.closeTo(1, 6), 8]);
  });

  it("tells when points lie in a plane", () => {
    const document = graphOf({ grid: { type: "grid-sites" }, it: { type: "hull" } }, ["grid.sites>it.shape"]);
    expect(reportOf(document, "it").problems[0].what).toMatch(/in one plane/);
  });
});

describe("fracture", () => {
  const broken = (as: string, solid: NodeSpec = CUBE, count = 20): Shape =>
    formed(
      {
        solid,
        sites: { type: "scatter-sites", set: { where: "inside", count } },
        it: { type: "fracture", set: { as } },
      },
      ["solid.shape>it.shape", "solid.shape>sites.shape", "sites.sites>it.around"],
    );

  it("pieces add up to the whole, are closed, and convex ones of a cube have the right side", () => {
    const shape = broken("clones");
    const pieces = (shape.sources ?? []).map(meshIn);
    expect(pieces.length).toBe(20);
    expect(pieces.every(isClosed)).toBe(true);
    expect(pieces.reduce((sum, piece) => sum + meshVolume(piece), 0)).toBeCloseTo(8, 4);
    const outer = pieces.reduce((sum, { faces, ...piece }) => {
      const sides = faces.columns.side.lanes[0];
      return sum + areaWhere({ ...piece, faces }, (f) => sides[f] === 0);
    }, 0);
    expect(outer).toBeCloseTo(24, 3);
  });

  it("as one mesh it fills the same room and knows the pieces", () => {
    const mesh = meshIn(broken("one mesh", { type: "torus", set: { radius: 1, tube: 0.4 } }));
    const torus = meshIn(formed({ it: { type: "torus", set: { radius: 1, tube: 0.4 } } }, []));
    expect(meshVolume(mesh)).toBeCloseTo(meshVolume(torus), 4);
    expect(new Set(mesh.faces.columns.part.lanes[0]).size).toBeGreaterThan(8);
  });
});

/** The area of some faces of triangles. */
function areaWhere(mesh: ReturnType<typeof meshIn>, holds: (face: number) => boolean): number {
  const places = pointsIn(mesh);
  let sum = 0;
  for (let f = 0; f < mesh.faces.count; f++) {
    if (!holds(f)) continue;
    const [a, b, c] = [0, 1, 2].map((k) => places[mesh.cornerPoint[mesh.faceStarts[f] + k]]);
    const [u, v] = [b, c].map((p) => p.map((x, i) => x - a[i]));
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
}
