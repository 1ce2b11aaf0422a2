/** Subdivision and duals against the rules of their papers and worked limits. */
import { BufferAttribute, BufferGeometry } from "three";
import { LoopSubdivision } from "three-subdivide";
import { triangulated } from "../../src/core/draw/triangulate";
import { edgeCount, eulerCharacteristic, isClosed, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { loopWeight } from "../../src/core/meshes/subdivide/split-points";
import type { Setting } from "../../src/core/nodes/ports";
import { faceSizes, formed, meshIn, pointsIn, through } from "../formed";
import type { NodeSpec } from "../run-node";

const CUBE: NodeSpec = { type: "box", set: { size: [2, 2, 2] } };
const BALL = (detail: number): NodeSpec => ({
  type: "sphere",
  set: { radius: 1, build: "geodesic", detail },
});
const SHEET: NodeSpec = { type: "plane", set: { width: 2, depth: 2, across: 2, deep: 2 } };
const subdivided = (from: NodeSpec, set: Record<string, Setting>): Mesh =>
  meshIn(through(from, "subdivide", set));
const counts = (mesh: Mesh) => [mesh.points.count, edgeCount(mesh), mesh.faces.count];
const size = (place: readonly number[]) => Math.hypot(...place);

describe("Catmull–Clark", () => {
  it.each([
    [0, [8, 12, 6]],
    [1, [26, 48, 24]],
    [2, [98, 192, 96]],
    [3, [386, 768, 384]],
  ])("makes of a cube in %i rounds as many points, edges and faces [SUB-01]", (rounds, wanted) => {
    expect(counts(subdivided(CUBE, { rounds }))).toEqual(wanted);
  });

  it("puts face, edge and corner points of the cube ±1 where the paper has them [SUB-02]", () => {
    const all = pointsIn(subdivided(CUBE, { rounds: 1 })).map((place) => place.map(Math.abs).sort());
    const near = (place: number[], wanted: number[]) => place.every((v, i) => Math.abs(v - wanted[i]) < 1e-6);
    const found = [
      [0, 0, 1],
      [0, 0.75, 0.75],
      [5 / 9, 5 / 9, 5 / 9],
    ].map((wanted) => all.filter((place) => near(place, wanted)).length);
    expect(found).toEqual([6, 12, 8]);
  });

  it("comes to the limit points of J. Halstead and others, 1993 [SUB-03]", () => {
    // The first eight points are what the corners became.
    const mesh = subdivided(CUBE, { rounds: 5 });
    const places = pointsIn(mesh);
    for (const place of places.slice(0, 8)) for (const v of place) expect(Math.abs(v)).toBeCloseTo(0.5, 3);
    expect(Math.max(...places.map(([x]) => x))).toBeCloseTo(0.8395061728, 2);
  });

  it("makes quads of a tetrahedron, which keeps eight points of three edges [SUB-04]", () => {
    // A cone of three sides.
    const tetrahedron: NodeSpec = { type: "cone", set: { around: 3, radius: 1, height: 1 } };
    const [one, two] = [1, 2].map((rounds) => subdivided(tetrahedron, { rounds }));
    expect([counts(one), counts(two)]).toEqual([
      [14, 24, 12],
      [50, 96, 48],
    ]);
    expect(new Set(faceSizes(two))).toEqual(new Set([4]));
  });

  it("leaves a cube whose edges are all sharp as it was", () => {
    const mesh = subdivided(CUBE, { rounds: 2, sharp: 45 });
    expect(meshVolume(mesh)).toBeCloseTo(8, 5);
  });

  it("takes creases from edges, and in part what is between", () => {
    const volume = (crease: number) => {
      const shape = formed(
        {
          cube: CUBE,
          crease: { type: "store-attribute", set: { on: "edges", name: "crease", number: crease } },
          it: { type: "subdivide", set: { rounds: 3 } },
        },
        ["cube.shape>crease.shape", "crease.shape>it.shape"],
      );
      return meshVolume(meshIn(shape));
    };
    expect(volume(1)).toBeCloseTo(8, 4);
    expect(volume(0)).toBeCloseTo(meshVolume(subdivided(CUBE, { rounds: 3 })), 5);
    expect(volume(0.5)).toBeGreaterThan(volume(0));
    expect(volume(0.5)).toBeLessThan(8);
  });

  it("keeps the corners of a sheet on request, and its border flat in any case", () => {
    const reach = (tips: string) => Math.max(...pointsIn(subdivided(SHEET, { rounds: 3, tips })).map(size));
    expect(reach("stay")).toBeCloseTo(Math.SQRT2, 6);
    expect(reach("are rounded")).toBeLessThan(1.3);
    for (const [, y] of pointsIn(subdivided(SHEET, { rounds: 2 }))) expect(y).toBe(0);
  });
});

describe("Loop", () => {
  it("weighs neighbours as in his thesis [SUB-05]", () => {
    const wanted = [0.1875, 0.12109375, 0.08409321893, 0.0625, 0.04902492019];
    for (const [i, beta] of wanted.entries()) expect(loopWeight(i + 3)).toBeCloseTo(beta, 9);
  });

  it("puts the points of the unit icosahedron as far out as worked out [SUB-07]", () => {
    const distances = pointsIn(subdivided(BALL(0), { by: "Loop", rounds: 1 })).map(size);
    for (const old of distances.slice(0, 12)) expect(old).toBeCloseTo(0.7675720593, 5);
    for (const edge of distances.slice(12)) expect(edge).toBeCloseTo(0.7694208843, 5);
    const after = pointsIn(subdivided(BALL(0), { by: "Loop", rounds: 5 })).map(size);
    for (const old of after.slice(0, 12)) expect(old).toBeCloseTo(0.7078091169, 3);
  });

  // The three-subdivide package, 1.1.5: triangles apart, so its places are compared as a set.
  it.each([0, 1, 2])("puts points where another library has them, from a ball of detail %i on", (detail) => {
    const ball = meshIn(formed({ it: BALL(detail) }, []));
    const { positions, indices } = triangulated(ball).geometry;
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(positions, 3));
    geometry.setIndex(new BufferAttribute(indices, 1));
    const other = LoopSubdivision.modify(geometry, 1, { split: false }).getAttribute("position");
    const key = (place: readonly number[]) =>
      place.map((v) => (Math.round(v * 2000) / 2000 + 0).toFixed(4)).join(" ");
    const theirs = Array.from({ length: other.count }, (_, k) => [
      other.getX(k),
      other.getY(k),
      other.getZ(k),
    ]);
    const ours = pointsIn(subdivided(BALL(detail), { by: "Loop", rounds: 1 }));
    expect(ours.length).toBe(new Set(theirs.map(key)).size);
    for (const place of ours)
      expect(
        Math.min(...theirs.map((their) => Math.hypot(...their.map((v, a) => v - place[a])))),
      ).toBeLessThan(1e-5);
  });

  it("makes four triangles of each, and cuts quads first", () => {
    expect(counts(subdivided(BALL(0), { by: "Loop" }))).toEqual([42, 120, 80]);
    expect(subdivided(CUBE, { by: "Loop" }).faces.count).toBe(48);
  });
});

describe("any subdivision", () => {
  it("splits only chosen faces and leaves no gap beside them", () => {
    const shape = formed(
      {
        ball: { type: "sphere", set: { radius: 1 } },
        place: { type: "position" },
        above: { type: "compare", set: { b: 0.2 } },
        it: { type: "subdivide", set: { rounds: 2 } },
      },
      ["ball.shape>it.shape", "place.y>above.a", "above.value>it.where"],
    );
    const mesh = meshIn(shape);
    const whole = subdivided({ type: "sphere", set: { radius: 1 } }, { rounds: 2 });
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(2);
    expect(mesh.faces.count).toBeLessThan(whole.faces.count * 0.6);
    expect(mesh.faces.count).toBeGreaterThan(24 * 12 * 2);
  });

  it("flat keeps the solid, carries pictures and lets edges know what they were", () => {
    const mesh = meshIn(
      formed(
        {
          cube: CUBE,
          mark: { type: "store-attribute", set: { on: "edges", name: "old", number: 1 } },
          it: { type: "subdivide", set: { by: "flat", rounds: 2 } },
        },
        ["cube.shape>mark.shape", "mark.shape>it.shape"],
      ),
    );
    expect(meshVolume(mesh)).toBeCloseTo(8, 5);
    const [u, v] = mesh.corners.columns.uv.lanes;
    // Each face keeps its share of the picture: 1 ÷ 16 of its side's.
    for (let f = 0; f < mesh.faces.count; f++) {
      const [a, b, c] = [0, 1, 2].map((k) => mesh.faceStarts[f] + k);
      const area = Math.abs((u[b] - u[a]) * (v[c] - v[a]) - (u[c] - u[a]) * (v[b] - v[a]));
      expect(area).toBeCloseTo(1 / 16, 5);
    }
    // Twelve edges in four pieces each.
    const old = mesh.edges?.columns.old.lanes[0] ?? [];
    expect(Array.from(old).filter((value) => value === 1).length).toBe(48);
  });
});

describe("dual", () => {
  it.each([
    ["the cube is the octahedron", CUBE, [6, 12, 8], 3],
    ["the octahedron's dual is the cube", { type: "sphere", set: { around: 4, rings: 2 } }, [8, 12, 6], 4],
    ["the icosahedron is the dodecahedron", BALL(0), [20, 30, 12], 5],
  ])("of %s [MSH-16]", (_, from, wanted, sides) => {
    const mesh = meshIn(through(from as NodeSpec, "dual"));
    expect(counts(mesh)).toEqual(wanted);
    expect(new Set(faceSizes(mesh))).toEqual(new Set([sides]));
    expect(meshVolume(mesh)).toBeGreaterThan(0);
  });

  it("of an icosphere has twelve pentagons among hexagons [MSH-08]", () => {
    const sizes = faceSizes(meshIn(through(BALL(2), "dual")));
    expect(sizes.length).toBe(162);
    expect(sizes.filter((n) => n === 5).length).toBe(12);
    expect(sizes.filter((n) => n === 6).length).toBe(150);
  });

  it("of a sheet covers it and has its Euler characteristic", () => {
    const mesh = meshIn(through(SHEET, "dual"));
    expect(eulerCharacteristic(mesh)).toBe(1);
    expect(mesh.faces.count).toBe(9);
    expect(pointsIn(mesh).filter(([x, , z]) => Math.abs(x) === 1 && Math.abs(z) === 1).length).toBe(4);
  });
});
