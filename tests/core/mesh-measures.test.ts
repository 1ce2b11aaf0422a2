/** Meshes measured, made even, thinned out, cut and laid out, against geometry. */
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { topologyOf } from "../../src/core/geometry/topology";
import { SIMPLIFYING } from "../../src/core/meshes/decimate";
import { distancesAlong } from "../../src/core/meshes/geodesic";
import type { Setting } from "../../src/core/nodes/ports";
import { SOLIDS } from "../../src/core/solids/solid";
import { faceSizes, formed, meshIn, pointsIn, through } from "../formed";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

beforeAll(() => Promise.all([SOLIDS.load(), SIMPLIFYING.load()]));

const ball = (radius: number, detail = 4): NodeSpec => ({
  type: "sphere",
  set: { radius, build: "geodesic", detail },
});
const CUBE: NodeSpec = { type: "box", set: { size: [2, 2, 2], cuts: 7 } };
const SHEET: NodeSpec = { type: "plane", set: { width: 2, depth: 2, across: 20, deep: 20 } };
const made = (from: NodeSpec, type: string, set: Record<string, Setting> = {}): Mesh =>
  meshIn(through(from, type, set));
const values = (mesh: Mesh, on: "points" | "edges" | "faces" | "corners", name: string): number[] =>
  Array.from(mesh[on]?.columns[name].lanes[0] ?? []);

describe("measure surface", () => {
  it("a ball of radius 2 bends by 1/2, and by 1/4 both ways (differential geometry)", () => {
    for (const value of values(
      made(ball(2), "measure-surface", { what: "curvature" }),
      "points",
      "curvature",
    ))
      expect(value).toBeCloseTo(0.5, 1);
    const total = made(ball(2), "measure-surface", { what: "saddle" });
    const mean = values(total, "points", "saddle").reduce((a, b) => a + b, 0) / total.points.count;
    expect(mean).toBeCloseTo(0.25, 2);
  });

  it("a pipe bends by half of what its circle does and is no saddle; a flat sheet does neither", () => {
    const pipe: NodeSpec = {
      type: "cylinder",
      set: { radius: 1, height: 4, around: 64, bands: 40, caps: false },
    };
    const inner = (mesh: Mesh, name: string) => {
      const places = pointsIn(mesh);
      return values(mesh, "points", name).filter((_, p) => Math.abs(places[p][1]) < 1.5);
    };
    for (const value of inner(made(pipe, "measure-surface", { what: "curvature" }), "curvature"))
      expect(value).toBeCloseTo(0.5, 2);
    for (const value of inner(made(pipe, "measure-surface", { what: "saddle" }), "saddle"))
      expect(value).toBeCloseTo(0, 3);
    for (const value of values(made(SHEET, "measure-surface", { what: "curvature" }), "points", "curvature"))
      expect(value).toBeCloseTo(0, 5);
  });

  it("edges of a cube bend by 90°, its faces have their area, its corners are right", () => {
    const angles = values(
      made({ type: "box", set: {} }, "measure-surface", { what: "edge angle" }),
      "edges",
      "edgeAngle",
    );
    expect(angles.length).toBe(12);
    for (const angle of angles) expect(angle).toBeCloseTo(Math.PI / 2, 5);
    const areas = values(made(CUBE, "measure-surface", { what: "area" }), "faces", "area");
    expect(areas.reduce((a, b) => a + b, 0)).toBeCloseTo(24, 4);
    for (const angle of values(
      made(CUBE, "measure-surface", { what: "corner angle" }),
      "corners",
      "cornerAngle",
    ))
      expect(angle).toBeCloseTo(Math.PI / 2, 5);
  });

  it("is as thick as it is: a slab, and a ball through its middle", () => {
    const slab: NodeSpec = { type: "box", set: { size: [4, 0.3, 4], cuts: 5 } };
    const mesh = made(slab, "measure-surface", { what: "thickness", reach: 9 });
    for (const [p, thick] of values(mesh, "points", "thickness").entries())
      if (Math.max(Math.abs(pointsIn(mesh)[p][0]), Math.abs(pointsIn(mesh)[p][2])) < 1.9)
        expect(thick).toBeCloseTo(0.3, 2);
    for (const thick of values(
      made(ball(1), "measure-surface", { what: "thickness", reach: 9 }),
      "points",
      "thickness",
    ))
      expect(thick).toBeCloseTo(2, 1);
  });

  it("is open where nothing is in front: outside of a ball all, inside of one nothing", () => {
    for (const open of values(
      made(ball(1, 2), "measure-surface", { what: "openness", reach: 5 }),
      "points",
      "openness",
    ))
      expect(open).toBe(1);
    const nodes = {
      ball: ball(1, 2),
      in: { type: "thicken", set: { thickness: 0.2, towards: "the back" } },
      it: { type: "measure-surface", set: { what: "openness", reach: 5 } },
    };
    const hollow = meshIn(
      formed(nodes as Record<string, NodeSpec>, ["ball.shape>in.shape", "in.shape>it.shape"]),
    );
    const inside = values(hollow, "points", "openness").filter(
      (_, p) => Math.hypot(...pointsIn(hollow)[p]) < 0.9,
    );
    expect(inside.length).toBeGreaterThan(100);
    for (const open of inside) expect(open).toBeLessThan(0.05);
  });

  it("gives a field that reads it", () => {
    const nodes = {
      cube: CUBE,
      measure: { type: "measure-surface", set: { what: "height" } },
      it: { type: "move", set: { by: [1, 0, 0] } },
    };
    const mesh = meshIn(
      formed(nodes as Record<string, NodeSpec>, [
        "cube.shape>measure.shape",
        "measure.shape>it.shape",
        "measure.value>it.amount",
      ]),
    );
    for (const [x, y] of pointsIn(mesh)) if (y > 0.99) expect(x).toBeGreaterThan(-1e-6);
  });
});

describe("distance along surface", () => {
  it("over a flat sheet is the straight distance, however its faces are cut", () => {
    const mesh = meshIn(formed({ it: SHEET }, []));
    const places = pointsIn(mesh);
    const seed = places.findIndex(([x, , z]) => x === -1 && z === -1);
    const found = distancesAlong(mesh, [[seed, 0]]);
    for (const [p, [x, , z]] of places.entries()) expect(found[p]).toBeCloseTo(Math.hypot(x + 1, z + 1), 1);
    expect(Math.max(...found)).toBeLessThan(2 * Math.SQRT2 * 1.01);
  });

  it("around a ball is the great circle", () => {
    const mesh = meshIn(formed({ it: ball(1, 5) }, []));
    const places = pointsIn(mesh);
    const found = distancesAlong(mesh, [[0, 0]]);
    for (const [p, place] of places.entries()) {
      const angle = Math.acos(
        Math.min(
          1,
          Math.max(
            -1,
            place.reduce((sum, v, a) => sum + v * places[0][a], 0),
          ),
        ),
      );
      expect(Math.abs(found[p] - angle)).toBeLessThan(0.03 * angle + 1e-3);
    }
  });

  it("as a mask is 1 at seeds and 0 at the reach; what is not reached is told apart", () => {
    const nodes = {
      sheet: SHEET,
      seed: { type: "single-site", set: { at: [-1, 0, -1] } },
      it: { type: "distance-along-surface", set: { from: "the nearest points to sites", reach: 1 } },
    };
    const mesh = meshIn(
      formed(nodes as Record<string, NodeSpec>, ["sheet.shape>it.shape", "seed.sites>it.sites"]),
    );
    const found = values(mesh, "points", "distance");
    expect([Math.min(...found), Math.max(...found)]).toEqual([0, 1]);
  });
});

describe("remesh", () => {
  const edges = (mesh: Mesh): number[] => {
    const topology = topologyOf(mesh);
    const places = pointsIn(mesh);
    return Array.from({ length: topology.edges.count }, (_, e) => {
      const [a, b] = [places[topology.pointOfEdge(e, 0)], places[topology.pointOfEdge(e, 1)]];
      return Math.hypot(...a.map((v, i) => v - b[i]));
    });
  };

  it("makes a ball of even triangles: the same surface, closed, edges about as long as asked", () => {
    const mesh = made({ type: "sphere", set: { radius: 1, around: 48, rings: 24 } }, "remesh", {
      length: 0.15,
      rounds: 5,
    });
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
    const lengths = edges(mesh).sort((a, b) => a - b);
    const at = (part: number) => lengths[Math.floor(part * (lengths.length - 1))] / 0.15;
    expect(at(0.02)).toBeGreaterThan(0.5);
    expect(at(0.98)).toBeLessThan(1.45);
    expect(at(0.5)).toBeGreaterThan(0.85);
    expect(at(0.5)).toBeLessThan(1.15);
    for (const place of pointsIn(mesh)) expect(Math.hypot(...place)).toBeGreaterThan(0.985);
  });

  it("keeps the edges of a box and the border of a sheet", () => {
    const box = made({ type: "box", set: { size: [2, 2, 2] } }, "remesh", { length: 0.3 });
    expect(meshVolume(box)).toBeCloseTo(8, 2);
    const sheet = made({ type: "plane", set: { width: 2, depth: 1 } }, "remesh", { length: 0.1 });
    expect(meshArea(sheet)).toBeCloseTo(2, 4);
    expect(eulerCharacteristic(sheet)).toBe(1);
  });

  it("pairs most triangles to quads, on the same surface, so that it is closed as before", () => {
    const mesh = made({ type: "sphere", set: { radius: 1, around: 48, rings: 24 } }, "remesh", {
      into: "mostly quads",
      length: 0.15,
      rounds: 5,
    });
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
    const sizes = faceSizes(mesh);
    expect(sizes.every((size) => size === 3 || size === 4)).toBe(true);
    expect(sizes.filter((size) => size === 4).length / sizes.length).toBeGreaterThan(0.8);
    expect(meshVolume(mesh)).toBeGreaterThan(4.1);
  });

  it("is finer where a field says so, and takes colours over", () => {
    const nodes = {
      sheet: SHEET,
      red: { type: "tint", set: { color: "#ff0000" } },
      place: { type: "position" },
      fine: { type: "remap", set: { low: -1, high: 1, toLow: 0.05, toHigh: 0.3 } },
      it: { type: "remesh", set: { rounds: 4 } },
    };
    const mesh = meshIn(
      formed(nodes as Record<string, NodeSpec>, [
        "sheet.shape>red.shape",
        "red.shape>it.shape",
        "place.x>fine.value",
        "fine.value>it.length",
      ]),
    );
    const left = pointsIn(mesh).filter(([x]) => x < -0.5).length;
    expect(left).toBeGreaterThan(5 * pointsIn(mesh).filter(([x]) => x > 0.5).length);
    for (const red of values(mesh, "points", "color")) expect(red).toBeCloseTo(1, 4);
  });
});

describe("decimate", () => {
  it("leaves as many as asked, and a shape that is nearly the same", () => {
    const mesh = made(ball(1, 5), "decimate", { part: 0.05 });
    expect(mesh.faces.count).toBeLessThanOrEqual(20 * 4 ** 5 * 0.05);
    expect(mesh.faces.count).toBeGreaterThan(20 * 4 ** 5 * 0.04);
    expect(meshVolume(mesh)).toBeGreaterThan(0.98 * (4 / 3) * Math.PI);
    expect(isClosed(mesh)).toBe(true);
  });

  it("takes most where it is flat: a cube in 768 quads comes down to its twelve triangles", () => {
    const mesh = made(CUBE, "decimate", { by: "a count", count: 12 });
    expect(meshVolume(mesh)).toBeCloseTo(8, 4);
    expect(mesh.faces.count).toBeLessThanOrEqual(48);
  });
});

describe("clip by plane", () => {
  it.each([true, false])("halves a ball (closed: %s)", (close) => {
    const mesh = made(ball(1), "clip-by-plane", { close, towards: [0, 0, 1] });
    expect(isClosed(mesh)).toBe(close);
    for (const [, , z] of pointsIn(mesh)) expect(z).toBeGreaterThan(-1e-5);
    const whole = meshIn(formed({ it: ball(1) }, []));
    if (close) expect(meshVolume(mesh)).toBeCloseTo(meshVolume(whole) / 2, 2);
    else expect(meshArea(mesh)).toBeCloseTo(meshArea(whole) / 2, 2);
  });

  it("both halves of anything are together the whole, with pictures and faces kept", () => {
    const plane = { place: [0.2, 0.1, 0], towards: [1, 2, 0.5] };
    const [one, two] = [1, -1].map((sign) =>
      made(CUBE, "clip-by-plane", {
        close: false,
        place: plane.place,
        towards: plane.towards.map((v) => v * sign),
      }),
    );
    expect(meshArea(one) + meshArea(two)).toBeCloseTo(24, 3);
    expect(one.corners.columns.uv).toBeDefined();
  });

  it("says why the cut of a sheet stays open", () => {
    const document = graphOf({ sheet: SHEET, it: { type: "clip-by-plane", set: { towards: [1, 0, 0] } } }, [
      "sheet.shape>it.shape",
    ]);
    expect(reportOf(document, "it").problems[0].what).toMatch(/stays open.*open along 80 edges/);
  });
});

describe("project UVs", () => {
  const uvs = (mesh: Mesh): number[][] => {
    const { lanes } = mesh.corners.columns.uv;
    return Array.from({ length: mesh.corners.count }, (_, c) => lanes.map((lane) => lane[c]));
  };

  it("from one side a sheet fills the picture, its back edge at the top", () => {
    const mesh = made(SHEET, "project-uvs", { how: "from one side", axis: "y" });
    for (const [c, [u, v]] of uvs(mesh).entries()) {
      const [x, , z] = pointsIn(mesh)[mesh.cornerPoint[c]];
      expect([u, v]).toEqual([expect.closeTo((x + 1) / 2, 5), expect.closeTo(1 - (z + 1) / 2, 5)]);
    }
  });

  it.each(["cylinder", "ball"])("around a %s no face goes back over the whole picture", (how) => {
    const mesh = made({ type: "sphere", set: { radius: 1 } }, "project-uvs", { how });
    const all = uvs(mesh);
    for (let f = 0; f < mesh.faces.count; f++) {
      const us = all.slice(mesh.faceStarts[f], mesh.faceStarts[f + 1]).map(([u]) => u);
      expect(Math.max(...us) - Math.min(...us)).toBeLessThan(0.1);
    }
  });
});
