/** Filling shapes, standing along paths, clones that fit cells, and real geometry of clones. */
import fc from "fast-check";
import { Matrix4, Quaternion as ThreeQuaternion, Vector3 } from "three";
import { drawingOf } from "../../src/core/draw/drawing";
import { curveTangents } from "../../src/core/geometry/curves";
import { steadyNormals } from "../../src/core/geometry/frames";
import { meshVolume } from "../../src/core/geometry/measure";
import { type Mesh, makeMesh, pointLanes } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { Inside } from "../../src/core/spatial/inside";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf, runNode } from "../run-node";

type Set = Record<string, Setting>;
const lanesOf = (shape: Shape, name = "position") => shape.sites?.columns[name].lanes ?? [];
const pointsOf = (shape: Shape): [number, number, number][] => {
  const [x, y, z] = lanesOf(shape);
  return Array.from(x, (_, i) => [x[i], y[i], z[i]]);
};
const filled = (source: NodeSpec, set: Set): Shape =>
  outputsOf(graphOf({ source, fill: { type: "fill-sites", set } }, ["source.shape>fill.shape"]), "fill")
    .sites as Shape;
const box = (size: number): NodeSpec => ({ type: "box", set: { size: [size, size, size] } });
const BALL: NodeSpec = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 4 } };

describe("fill sites", () => {
  it("fill a box with as many cubes as fit, whole spacings apart and half a spacing from its sides", () => {
    // Common practice, no source: cubes of the spacing touch, balls have half of it as radius.
    const sites = filled(box(4), { spacing: 1 });
    expect(sites.sites?.count).toBe(64);
    const xs = [...new Set(lanesOf(sites)[0])].sort((a, b) => a - b);
    expect(xs).toEqual([-1.5, -0.5, 0.5, 1.5]);
    expect(new Set(lanesOf(sites, "size")[0])).toEqual(new Set([1]));
  });

  // Densities of touching balls, J. H. Conway and N. J. A. Sloane, 1988 (check SAM-04): balls of half the least distance.
  it.each([
    ["boxes", 0.5235987756, 1],
    ["bricks", 0.5235987756, 1],
    ["hexagonal", 0.7404804897, 1],
    ["body-centred", 0.6801747616, Math.sqrt(3) / 2],
  ])("%s lie as densely as balls do: %f", (packing, density, least) => {
    const spacing = 0.04;
    const sites = filled(BALL, { spacing, packing });
    const radius = (least * spacing) / 2;
    const volume = meshVolume((runNode(BALL.type, BALL.set).shape as Shape).mesh as Mesh);
    const covered = ((sites.sites?.count ?? 0) * (4 / 3) * Math.PI * radius ** 3) / volume;
    expect(covered / density).toBeGreaterThan(0.985);
    expect(covered / density).toBeLessThan(1.015);
  });

  it.each(["boxes", "bricks", "hexagonal", "body-centred"])(
    "%s: no two are nearer than they should",
    (packing) => {
      const places = pointsOf(filled(box(1), { spacing: 0.25, packing }));
      const least = packing === "body-centred" ? (0.25 * Math.sqrt(3)) / 2 : 0.25;
      let nearest = Number.POSITIVE_INFINITY;
      for (const [i, a] of places.entries())
        for (const b of places.slice(0, i))
          nearest = Math.min(nearest, Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]));
      // Bricks of one layer stand half over those below, a spacing further up.
      expect(nearest).toBeGreaterThan(least - 1e-6);
      expect(nearest).toBeLessThan(least + 1e-6);
    },
  );

  it("keep shells inside, outside and on both sides, by the distance to the surface", () => {
    const whole = filled(BALL, { spacing: 0.2 }).sites?.count ?? 0;
    const shell = (keep: string) => pointsOf(filled(BALL, { spacing: 0.2, keep, thickness: 0.3 }));
    const [inner, outer, both] = ["a shell inside", "a shell outside", "a shell on both sides"].map(shell);
    for (const p of inner) expect(Math.hypot(...p)).toBeGreaterThan(0.695);
    for (const p of inner) expect(Math.hypot(...p)).toBeLessThan(1.001);
    for (const p of outer) expect(Math.hypot(...p)).toBeGreaterThan(0.99);
    for (const p of outer) expect(Math.hypot(...p)).toBeLessThan(1.301);
    expect(both.length).toBeGreaterThan(inner.length);
    expect(inner.length).toBeLessThan(whole);
    // What is kept has the ids that it has in the whole.
    const ids = new Set(lanesOf(filled(BALL, { spacing: 0.2 }), "id")[0]);
    const kept = lanesOf(filled(BALL, { spacing: 0.2, keep: "a shell inside" }), "id")[0];
    expect([...kept].every((id) => ids.has(id))).toBe(true);
  });

  it("keep only those that others do not hide: n³ − (n − 2)³ of a cube, and all that is outermost of a ball", () => {
    const skin = filled(box(1), { spacing: 0.2, keep: "the surface only" });
    expect(skin.sites?.count).toBe(5 ** 3 - 3 ** 3);
    const whole = pointsOf(filled(BALL, { spacing: 0.2 }));
    const kept = new Set(pointsOf(filled(BALL, { spacing: 0.2, keep: "the surface only" })).map(String));
    const isIn = new Set(whole.map((p) => p.map((c) => Math.round(c * 100)).join()));
    expect(kept.size).toBeLessThan(whole.length * 0.8);
    // Who has a free side is kept: none of the six beside a hidden one is missing.
    for (const p of whole) {
      if (kept.has(String(p))) continue;
      for (const axis of [0, 1, 2])
        for (const step of [-0.2, 0.2])
          expect(isIn).toContain(p.map((c, a) => Math.round((c + (a === axis ? step : 0)) * 100)).join());
    }
  });

  it("refuse a spacing that would take too many, with the least that fits", () => {
    const { problems, state } = reportOf(
      graphOf({ source: box(4), fill: { type: "fill-sites", set: { spacing: 0.001 } } }, [
        "source.shape>fill.shape",
      ]),
      "fill",
    );
    expect(state).toBe("failed");
    expect(problems[0].what).toMatch(/asks for .* million sites; the limit is 4 million/);
    const fits = problems[0].repair?.value as number;
    expect(problems[0].repair?.input).toBe("spacing");
    // 4³ ÷ s³ = 4,000,000.
    expect(fits).toBeGreaterThan(0.0252 - 1e-4);
    expect(fits).toBeLessThan(0.027);
  });

  it("say so of open shapes, of spacing 0, of shapes that are too small and of nothing", () => {
    const told = (source: NodeSpec, set: Set) =>
      reportOf(graphOf({ source, fill: { type: "fill-sites", set } }, ["source.shape>fill.shape"]), "fill")
        .problems[0];
    const open = told({ type: "cylinder", set: { caps: false, height: 1 } }, { spacing: 0.1 });
    // A tube without lids is met twice by every line across it, so it is filled all the same; a bowl is not.
    expect(open).toBeUndefined();
    expect(told({ type: "plane", set: {} }, { spacing: 0.1 }).what).toMatch(/No site of the lattice|open/);
    expect(told(box(1), { spacing: 0 }).repair).toMatchObject({ input: "spacing" });
    expect(reportOf(graphOf({ fill: { type: "fill-sites" } }), "fill").problems[0].what).toMatch(
      /No mesh and no volume arrive/,
    );
  });
});

describe("inside", () => {
  it("counts parts that pass through each other once, and is right about a ball wherever one asks", () => {
    const twin = outputsOf(
      graphOf({ a: BALL, b: { type: "transform", set: { move: [0.7, 0, 0] } }, both: { type: "merge" } }, [
        "a.shape>b.shape",
        "a.shape>both.shapes",
        "b.shape>both.shapes",
      ]),
      "both",
    ).shape as Shape;
    const inside = new Inside(twin.mesh as Mesh);
    const part = fc.double({ min: -2, max: 2, noNaN: true });
    fc.assert(
      fc.property(part, part, part, (x, y, z) => {
        const far = Math.min(Math.hypot(x, y, z), Math.hypot(x - 0.7, y, z));
        // Between the ball and the many flat faces that stand for it nothing is said.
        if (Math.abs(far - 1) > 0.01) expect(inside.contains(x, y, z)).toBe(far < 1);
      }),
    );
  });

  it("is right along edges and through corners of a cube, and tells a hole", () => {
    const cube = (runNode("box", { size: [2, 2, 2] }).shape as Shape).mesh as Mesh;
    const inside = new Inside(cube);
    for (const y of [-1, -0.5, 0, 0.5])
      for (const z of [-1, 0, 0.25]) {
        const { count, turns, open } = inside.crossings(y, z);
        expect([count, turns[0] + turns[1], open]).toEqual([2, 0, false]);
      }
    const lanes = pointLanes(cube);
    const torn = makeMesh({
      position: [lanes[0].slice(), lanes[1].slice(), lanes[2].slice()],
      cornerPoint: cube.cornerPoint.slice(4),
      faceStarts: cube.faceStarts.slice(1).map((start) => start - 4),
    } as Parameters<typeof makeMesh>[0]);
    const rows = [-0.5, 0.1, 0.6].map((y) => new Inside(torn).crossings(y, 0.3).open);
    // Whichever face is gone, lines along X see it only when it looks that way.
    const gone = new Set(rows);
    expect(gone.size).toBe(1);
  });
});

const along = (source: NodeSpec, set: Set): Shape =>
  outputsOf(graphOf({ source, path: { type: "path-sites", set } }, ["source.shape>path.shape"]), "path")
    .sites as Shape;

describe("path sites", () => {
  it("stand by count, by spacing, and by spacing with both ends", () => {
    const line: NodeSpec = { type: "line", set: { from: [0, 0, 0], to: [3, 0, 0] } };
    const xs = (set: Set) => Array.from(lanesOf(along(line, set))[0], (x) => Number(x.toFixed(5)));
    expect(xs({ by: "count", count: 4 })).toEqual([0, 1, 2, 3]);
    expect(xs({ by: "spacing", spacing: 0.8 })).toEqual([0, 0.8, 1.6, 2.4]);
    expect(xs({ by: "spacing, both ends", spacing: 0.8 })).toEqual([0, 0.75, 1.5, 2.25, 3]);
    expect(xs({ by: "spacing", spacing: 1 })).toEqual([0, 1, 2, 3]);
  });

  it("go round a closed curve without standing twice on its beginning, and move along it", () => {
    const arc: NodeSpec = { type: "arc", set: { radius: 2, sweep: 360, steps: 720 } };
    const sites = along(arc, { by: "count", count: 12 });
    const [x, y, z] = lanesOf(sites);
    // 2 R sin(π/n) from one to the next (check ARR-06).
    for (let i = 0; i < 12; i++) {
      const j = (i + 1) % 12;
      expect(Math.hypot(x[i] - x[j], y[i] - y[j], z[i] - z[j])).toBeCloseTo(2 * 0.5176380902, 3);
    }
    const moved = along(arc, { by: "count", count: 12, shift: 1 / 12 });
    expect(lanesOf(moved)[0][0]).toBeCloseTo(x[1], 3);
    expect(lanesOf(moved)[0][11]).toBeCloseTo(x[0], 3);
  });

  it("point along the curve with whichever axis, and turn about it by the roll", () => {
    const helix: NodeSpec = { type: "helix", set: {} };
    for (const axis of ["x", "y", "z"] as const) {
      const sites = along(helix, { by: "count", count: 30, along: axis });
      const rotation = lanesOf(sites, "rotation");
      const places = pointsOf(sites);
      for (let i = 1; i < 29; i++) {
        const q = new ThreeQuaternion(rotation[0][i], rotation[1][i], rotation[2][i], rotation[3][i]);
        const own = new Vector3(
          axis === "x" ? 1 : 0,
          axis === "y" ? 1 : 0,
          axis === "z" ? 1 : 0,
        ).applyQuaternion(q);
        const ahead = new Vector3(...places[i + 1]).sub(new Vector3(...places[i - 1])).normalize();
        expect(own.dot(ahead)).toBeGreaterThan(0.995);
      }
    }
    const plain = along(helix, { by: "count", count: 3 });
    const rolled = along(helix, { by: "count", count: 3, roll: 90 });
    const q = (shape: Shape) =>
      new ThreeQuaternion(...[0, 1, 2, 3].map((l) => lanesOf(shape, "rotation")[l][1]));
    const [a, b] = [q(plain), q(rolled)].map((r) => new Vector3(0, 1, 0).applyQuaternion(r));
    expect(a.dot(b)).toBeCloseTo(0, 5);
  });

  it("say so of spacing 0 and of nothing", () => {
    expect(reportOf(graphOf({ path: { type: "path-sites" } }), "path").problems[0].what).toMatch(/No curves/);
    const document = graphOf(
      { source: { type: "line" }, path: { type: "path-sites", set: { by: "spacing", spacing: 0 } } },
      ["source.shape>path.shape"],
    );
    expect(reportOf(document, "path").problems[0].repair).toMatchObject({ input: "spacing" });
  });
});

describe("frames that do not twist", () => {
  it("turn on a helix by −2πc/√(r²+c²) against its own normal [CUR-10: Bishop 1975, Wang et al. 2008]", () => {
    const [r, c, steps] = [2, 0.5, 4096];
    const place = [0, 1, 2].map(() => new Float64Array(steps + 1));
    const tangent = [0, 1, 2].map(() => new Float64Array(steps + 1));
    const speed = Math.hypot(r, c);
    for (let i = 0; i <= steps; i++) {
      const t = (i / steps) * 2 * Math.PI;
      [r * Math.cos(t), r * Math.sin(t), c * t].forEach((v, a) => {
        place[a][i] = v;
      });
      [-r * Math.sin(t), r * Math.cos(t), c].forEach((v, a) => {
        tangent[a][i] = v / speed;
      });
    }
    const normals = steadyNormals(place, tangent, 0, steps + 1, false, [-1, 0, 0]);
    const at = (lanes: readonly Float64Array[], i: number) =>
      new Vector3(lanes[0][i], lanes[1][i], lanes[2][i]);
    const [end, axis] = [at(normals, steps), at(tangent, steps)];
    const angle = Math.atan2(new Vector3(-1, 0, 0).cross(end).dot(axis), new Vector3(-1, 0, 0).dot(end));
    expect(angle).toBeCloseTo(-1.523896276, 5);
  });

  it("come back unturned on a closed flat curve, and stay across it [CUR-12]", () => {
    const ellipse = outputsOf(
      graphOf(
        {
          a: { type: "arc", set: { radius: 1, sweep: 360, steps: 96 } },
          b: { type: "transform", set: { scale: [2, 1, 1] } },
        },
        ["a.shape>b.shape"],
      ),
      "b",
    ).shape as Shape;
    const curves = ellipse.curves as NonNullable<Shape["curves"]>;
    const tangents = curveTangents(curves);
    const count = curves.points.count;
    const normals = steadyNormals(curves.points.columns.position.lanes, tangents, 0, count, true, [0, 1, 0]);
    for (let i = 0; i < count; i++) {
      expect(Math.abs(normals[1][i])).toBeCloseTo(1, 4);
      const across = [0, 1, 2].reduce((sum, a) => sum + normals[a][i] * tangents[a][i], 0);
      expect(Math.abs(across)).toBeLessThan(1e-5);
    }
  });
});

describe("clones in cells", () => {
  const cloned = (set: Set, source: NodeSpec): Shape =>
    outputsOf(
      graphOf(
        {
          body: { type: "box", set: { size: [2, 2, 2] } },
          fill: { type: "fill-sites", set: { spacing: 0.5 } },
          source,
          high: { type: "transform", set: { move: [7, 8, 9] } },
          clones: { type: "clone-onto-sites", set },
        },
        [
          "body.shape>fill.shape",
          "fill.sites>clones.sites",
          "source.shape>high.shape",
          "high.shape>clones.shapes",
        ],
      ),
      "clones",
    ).clones as Shape;

  it("fill the cell whatever size the shape has, about its middle or on its foot", () => {
    for (const size of [0.01, 1, 300]) {
      const shape = cloned(
        { fit: "into the cell", pivot: "middle" },
        { type: "box", set: { size: [size, size, size] } },
      );
      const { bounds, clones } = drawingOf(shape);
      expect(clones).toBe(64);
      // Cubes that touch fill the box they are in.
      for (let a = 0; a < 3; a++) {
        expect(bounds?.min[a]).toBeCloseTo(-1, 4);
        expect(bounds?.max[a]).toBeCloseTo(1, 4);
      }
    }
    const standing = cloned(
      { fit: "into the cell", pivot: "base" },
      { type: "box", set: { size: [3, 6, 3] } },
    );
    expect(drawingOf(standing).bounds?.min[1]).toBeCloseTo(-0.75, 4);
    expect(drawingOf(standing).bounds?.max[1]).toBeCloseTo(0.75 + 0.5, 4);
    expect(drawingOf(cloned({}, { type: "box", set: {} })).bounds?.min[0]).toBeGreaterThan(5);
  });

  it("become one mesh where they stood, normals and colours with them", () => {
    const document = graphOf(
      {
        ring: { type: "ring-sites", set: { count: 5, outward: "x" } },
        wide: { type: "scale", set: { size: 2, stretch: [1, 3, 1] } },
        red: { type: "tint", set: { color: "#ff0000" } },
        ball: { type: "sphere", set: { radius: 0.3 } },
        pair: { type: "row-sites", set: { count: 2, from: [0, 0, 0], to: [0, 1, 0] } },
        two: { type: "clone-onto-sites" },
        clones: { type: "clone-onto-sites" },
        bake: { type: "bake-clones" },
      },
      [
        "ring.sites>red.shape",
        "red.shape>clones.sites",
        "pair.sites>two.sites",
        "ball.shape>two.shapes",
        "two.clones>clones.shapes",
        "clones.clones>bake.shape",
      ],
    );
    const clones = outputsOf(document, "clones").clones as Shape;
    const baked = outputsOf(document, "bake").shape as Shape;
    const before = drawingOf(clones);
    const after = drawingOf(baked);
    expect(before.clones).toBe(10);
    expect(baked.sites).toBeUndefined();
    const ball = (runNode("sphere", { radius: 0.3 }).shape as Shape).mesh as Mesh;
    expect(baked.mesh?.faces.count).toBe(10 * ball.faces.count);
    expect(new Set(baked.mesh?.faces.columns.copy.lanes[0]).size).toBe(10);
    for (let a = 0; a < 3; a++) {
      // Those of turned copies are boxes around boxes.
      expect(after.bounds?.min[a]).toBeGreaterThanOrEqual((before.bounds?.min[a] as number) - 1e-5);
      expect(after.bounds?.max[a]).toBeLessThanOrEqual((before.bounds?.max[a] as number) + 1e-5);
    }
    // three.js places the same points by its own matrices.
    const [batch] = before.batches;
    const matrix = new Matrix4().fromArray(batch.matrices, 16 * 7);
    const [x, y, z] = pointLanes(batch.mesh);
    const first = new Vector3(x[3], y[3], z[3]).applyMatrix4(matrix);
    const lanes = pointLanes(baked.mesh as Mesh);
    const n = ball.points.count;
    expect(lanes.map((lane) => lane[7 * n + 3])).toEqual(
      [first.x, first.y, first.z].map((v) => expect.closeTo(v, 5)),
    );
    expect(baked.mesh?.points.columns.color.lanes.map((lane) => lane[0])).toEqual([1, 0, 0, 1]);
    expect(
      evaluate(
        graphOf({ bake: { type: "bake-clones" }, stage: { type: "stage" } }, ["bake.shape>stage.shape"]),
      ).shape,
    ).toBeDefined();
  });
});

describe("mirrored copies", () => {
  it("are turned round when they are baked, so that they are seen from outside", () => {
    const document = graphOf(
      {
        one: { type: "single-site", set: { scale: [-2, 1, 1] } },
        box: { type: "box" },
        clones: { type: "clone-onto-sites" },
        bake: { type: "bake-clones" },
      },
      ["one.sites>clones.sites", "box.shape>clones.shapes", "clones.clones>bake.shape"],
    );
    expect(meshVolume((outputsOf(document, "bake").shape as Shape).mesh as Mesh)).toBeCloseTo(2, 5);
  });
});
