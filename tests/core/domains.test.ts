/** Faces, edges and corners as elements of their own, and values that go from one to another. */
import fc from "fast-check";
import { BoxGeometry, EdgesGeometry } from "three";
import { triangulate } from "../../src/core/draw/triangulate";
import { areKin, carryAcross, countOf, incidence, withKin } from "../../src/core/geometry/across";
import { type Column, type Domain, makeColumn, withColumns } from "../../src/core/geometry/column";
import { copyOfShape } from "../../src/core/geometry/copy";
import { makeCurve } from "../../src/core/geometry/curves";
import { DOMAIN_NAMES, DOMAINS, type DomainName } from "../../src/core/geometry/domains";
import { mergeShapes } from "../../src/core/geometry/merge";
import type { Mesh } from "../../src/core/geometry/mesh";
import { boxMesh, geodesicMesh, planeMesh, sphereMesh, torusMesh } from "../../src/core/geometry/primitives";
import type { Shape } from "../../src/core/geometry/shape";
import { keepCurvePoints, keepFaces } from "../../src/core/geometry/subset";
import { topologyOf } from "../../src/core/geometry/topology";
import { transformShape } from "../../src/core/geometry/transform";
import { validateShape } from "../../src/core/geometry/validate";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

const CUBE: Shape = { mesh: boxMesh([1, 1, 1], 0) };
const meshOf = (shape: Shape): Mesh => shape.mesh as Mesh;
const numbers = (...values: number[]): Column => makeColumn("number", [Float32Array.from(values)]);
const listed = ({ starts, items }: { starts: Int32Array; items: Int32Array }, i: number) => [
  ...items.subarray(starts[i], starts[i + 1]),
];

/** Middle of each edge, worked out from the two corners that name it. */
const middles = (mesh: Mesh): number[][] => {
  const { corners, count } = topologyOf(mesh).edges;
  const { lanes } = mesh.points.columns.position;
  return Array.from({ length: count }, (_, e) =>
    lanes.map((l) => (l[mesh.cornerPoint[corners[2 * e]]] + l[mesh.cornerPoint[corners[2 * e + 1]]]) / 2),
  );
};

/** A shape whose edges are named by where their middles are. */
const withNamedEdges = (mesh: Mesh): Shape => {
  const lanes = [0, 1, 2].map((a) => Float32Array.from(middles(mesh), (m) => m[a]));
  return {
    mesh: { ...mesh, edges: { count: lanes[0].length, columns: { at: makeColumn("vector", lanes) } } },
  };
};

describe("topology", () => {
  // Euler's polyhedron formula: V − E + F is 2 on a sphere, 0 on a torus (Coxeter, Regular Polytopes, 1.6).
  test.each([
    ["cube", boxMesh([1, 1, 1], 0), 12, 2],
    ["sphere of rings", sphereMesh(1, 12, 6), undefined, 2],
    ["geodesic sphere", geodesicMesh(1, 2), undefined, 2],
    ["torus", torusMesh(1, 0.3, 12, 8), undefined, 0],
  ])("%s", (_, mesh, edges, euler) => {
    const found = topologyOf(mesh).edges;
    if (edges) expect(found.count).toBe(edges);
    expect(mesh.points.count - found.count + mesh.faces.count).toBe(euler);
    const { starts } = topologyOf(mesh).cornersOfEdges;
    // Closed: every edge borders two faces.
    for (let e = 0; e < found.count; e++) expect(starts[e + 1] - starts[e]).toBe(2);
  });

  test("the edges of a cube are where another library has them", () => {
    const { array } = new EdgesGeometry(new BoxGeometry(1, 1, 1)).getAttribute("position");
    const theirs = Array.from({ length: array.length / 6 }, (_, e) =>
      [0, 1, 2].map((a) => (array[e * 6 + a] + array[e * 6 + 3 + a]) / 2).join(),
    );
    expect(
      middles(meshOf(CUBE))
        .map((m) => m.join())
        .sort(),
    ).toEqual(theirs.sort());
  });

  test("is one for all shapes with the same faces", () => {
    const moved = transformShape(CUBE, { move: [1, 0, 0], turn: [0, 0, 0, 1], scale: [1, 1, 1] });
    expect(topologyOf(meshOf(moved))).toBe(topologyOf(meshOf(CUBE)));
    expect(topologyOf(boxMesh([1, 1, 1], 0))).not.toBe(topologyOf(meshOf(CUBE)));
  });
});

describe("values from one domain to another", () => {
  test("what belongs to what on a cube", () => {
    const count = (from: DomainName, to: DomainName) => {
      const found = incidence(CUBE, from, to);
      return new Set(Array.from({ length: countOf(CUBE, to) }, (_, i) => listed(found, i).length));
    };
    // Three faces, three edges and three corners meet at a cube's point; a face has four of each.
    for (const from of ["faces", "edges", "corners"] as const)
      expect([...count(from, "points")]).toEqual([3]);
    for (const from of ["points", "edges", "corners"] as const)
      expect([...count(from, "faces")]).toEqual([4]);
    expect([...count("points", "edges")]).toEqual([2]);
    expect([...count("faces", "edges")]).toEqual([2]);
    expect([...count("edges", "corners")]).toEqual([2]);
    expect([...count("corners", "edges")]).toEqual([4]);
  });

  test("belonging together goes both ways, on any mesh with borders and cuts", () => {
    const kinds = ["points", "corners", "edges", "faces"] as const;
    fc.assert(
      fc.property(
        fc.array(fc.boolean(), { minLength: 24, maxLength: 24 }),
        fc.constantFrom(...kinds),
        fc.constantFrom(...kinds),
        (kept, from, to) => {
          if (from === to) return;
          const faces = Int32Array.from(kept.flatMap((k, f) => (k ? [f] : [])));
          const shape = { mesh: keepFaces(boxMesh([1, 2, 3], 1), faces) };
          const [there, back] = [incidence(shape, from, to), incidence(shape, to, from)];
          for (let i = 0; i < countOf(shape, to); i++)
            for (const j of listed(there, i)) expect(listed(back, j)).toContain(i);
          expect(there.items.length).toBe(back.items.length);
        },
      ),
      { numRuns: 60 },
    );
  });

  test("rules, on two faces that share an edge", () => {
    const shape: Shape = { mesh: planeMesh(2, 1, 2, 1) };
    const values = numbers(2, 5);
    const onPoints = (rule: Parameters<typeof carryAcross>[2]) =>
      new Set(carryAcross(values, incidence(shape, "faces", "points"), rule).lanes[0]);
    expect(onPoints("mean")).toEqual(new Set([2, 3.5, 5]));
    expect(onPoints("first")).toEqual(new Set([2, 5]));
    expect(
      [...carryAcross(values, incidence(shape, "faces", "points"), "greatest").lanes[0]].filter(
        (v) => v === 5,
      ),
    ).toHaveLength(4);
    expect(
      [...carryAcross(values, incidence(shape, "faces", "points"), "least").lanes[0]].filter((v) => v === 2),
    ).toHaveLength(4);
  });

  test("what is the same everywhere stays so, whichever way it goes", () => {
    for (const from of DOMAIN_NAMES)
      for (const to of DOMAIN_NAMES) {
        if (!areKin(from, to)) continue;
        const shape: Shape = { ...CUBE, curves: makeCurve(5, true, (i) => [i, i * i, 0]) };
        const column = numbers(...new Array<number>(countOf(shape, from)).fill(0.25));
        expect(new Set(carryAcross(column, incidence(shape, from, to), "mean").lanes[0])).toEqual(
          new Set([0.25]),
        );
      }
  });

  test("clear colours have no say, turns take the shorter way, whole numbers the first", () => {
    const shape: Shape = { mesh: planeMesh(2, 1, 2, 1) };
    const across = incidence(shape, "faces", "points");
    const between = [0, 1, 2, 3, 4, 5].filter((p) => listed(across, p).length === 2);
    const color = makeColumn(
      "color",
      [
        [1, 0],
        [0, 1],
        [0, 0],
        [1, 0],
      ].map((l) => Float32Array.from(l)),
    );
    const mixed = carryAcross(color, across, "mean").lanes;
    expect(between.map((p) => mixed.map((l) => l[p]))).toEqual([
      [1, 0, 0, 0.5],
      [1, 0, 0, 0.5],
    ]);
    const turn = makeColumn(
      "rotation",
      [
        [0, 0],
        [0, 0],
        [0, 0],
        [1, -1],
      ].map((l) => Float32Array.from(l)),
    );
    expect(Math.abs(carryAcross(turn, across, "mean").lanes[3][between[0]])).toBe(1);
    const whole = makeColumn("integer", [Int32Array.of(7, 9)]);
    expect(carryAcross(whole, across, "mean").lanes[0][between[0]]).toBe(7);
  });

  test("fields on faces find their middles, their facings and what their points have", () => {
    const lifted = withColumns(meshOf(CUBE).points, {
      heat: makeColumn("number", [meshOf(CUBE).points.columns.position.lanes[1].map((y) => y * 2)]),
    });
    const faces = withKin(DOMAINS.points.put(CUBE, lifted), "faces");
    const of = (name: string, l = 0) => [...faces.columns[name].lanes[l]];
    // A cube of edge 1: the middles of its faces lie half its edge along their normals (Coxeter, Table I).
    expect(of("position", 1)).toEqual(of("normal", 1).map((n) => n / 2));
    expect(of("heat")).toEqual(of("normal", 1));
    // Only what is its own is listed, and kept when others are added.
    expect(Object.keys(withColumns(faces, { own: numbers(0, 0, 0, 0, 0, 0) }).columns)).toEqual(["own"]);
  });
});

describe("what edges carry", () => {
  const holds = (shape: Shape) => {
    expect(validateShape(shape)).toEqual([]);
    const { lanes } = (meshOf(shape).edges as Domain).columns.at;
    return Array.from(lanes[0], (_, e) => lanes.map((lane) => lane[e]));
  };

  test("goes along when shapes are merged, mirrored, copied and reduced", () => {
    const named = withNamedEdges(boxMesh([1, 2, 3], 1));
    const { mesh } = copyOfShape(named);
    expect(holds({ mesh })).toEqual(middles(mesh as Mesh));
    const both = mergeShapes([CUBE, named]);
    expect(holds(both).slice(12)).toEqual(middles(meshOf(both)).slice(12));
    const mirrored = transformShape(named, { move: [0, 0, 0], turn: [0, 0, 0, 1], scale: [-1, 1, 1] });
    expect(holds(mirrored).map(([x, y, z]) => [-x + 0, y, z])).toEqual(
      middles(meshOf(mirrored)).map(([x, y, z]) => [x + 0, y, z]),
    );
    const reduced = { mesh: keepFaces(meshOf(named), Int32Array.of(1, 2, 5, 11)) };
    expect(holds(reduced)).toEqual(middles(reduced.mesh));
  });

  test("a count that is wrong is named", () => {
    const wrong = { mesh: { ...meshOf(CUBE), edges: { count: 11, columns: {} } } };
    expect(validateShape(wrong)).toEqual(["shape.edges has 11 elements; the faces have 12 edges."]);
  });
});

describe("nodes that say on which elements they work", () => {
  /** What a chain of nodes makes of a cube. */
  const through = (...nodes: NodeSpec[]): Shape => {
    const chain = Object.fromEntries(nodes.map((node, i) => [`n${i}`, node]));
    const links = nodes.map((_, i) => (i === 0 ? "box.shape>n0.shape" : `n${i - 1}.shape>n${i}.shape`));
    return outputsOf(graphOf({ box: { type: "box" }, ...chain }, links), `n${nodes.length - 1}`)
      .shape as Shape;
  };
  const extent = (shape: Shape, axis: number) => {
    const lane = meshOf(shape).points.columns.position.lanes[axis];
    return [Math.min(...lane), Math.max(...lane)];
  };

  test("faces, edges and corners take their points along", () => {
    for (const on of ["faces", "edges", "corners"])
      expect(extent(through({ type: "move", set: { on, by: [0, 2, 0] } }), 1)).toEqual([1.5, 2.5]);
  });

  test("faces are scaled and turned about their middles", () => {
    // Every point is the mean of where three faces put it: two shrink it along each axis, one leaves it (0.5 → ⅓·(0 + 0 + 0.5)).
    const small = through({ type: "scale", set: { on: "faces", size: 0 } });
    expect(extent(small, 0)[1]).toBeCloseTo(0.5 / 3, 6);
    const turned = through({ type: "rotate", set: { on: "faces", turn: [0, 360, 0] } });
    for (const axis of [0, 1, 2]) expect(extent(turned, axis)[1]).toBeCloseTo(0.5, 5);
  });

  test("a colour of faces is drawn with its edges sharp, and what is coloured last is seen", () => {
    const faces = through({ type: "tint", set: { on: "faces", color: "#ff0000" } });
    expect(Object.keys(meshOf(faces).faces.columns)).toEqual(["color"]);
    expect(triangulate(meshOf(faces)).colors?.slice(0, 4)).toEqual(Float32Array.of(1, 0, 0, 1));
    const after = through(
      { type: "tint", set: { on: "faces", color: "#ff0000" } },
      { type: "tint", set: { color: "#00ff00" } },
    );
    expect(meshOf(after).faces.columns.color).toBeUndefined();
    expect(triangulate(meshOf(after)).colors?.slice(0, 4)).toEqual(Float32Array.of(0, 1, 0, 1));
  });

  test("merging a shape with coloured faces and one with coloured points keeps both", () => {
    const tinted = (set: object) => through({ type: "tint", set: set as NodeSpec["set"] });
    const both = mergeShapes([tinted({ on: "faces", color: "#ff0000" }), tinted({ color: "#0000ff" })]);
    const { colors } = triangulate(meshOf(both));
    const reds = Array.from(colors as Float32Array).filter((_, i) => i % 4 === 0);
    expect(reds.filter((red) => red === 1)).toHaveLength(reds.length / 2);
  });

  test("values are kept on edges and carried across", () => {
    const shape = through(
      { type: "store-attribute", set: { on: "edges", name: "heat", number: 3 } },
      { type: "carry-across", set: { from: "edges", to: "points", rule: "greatest" } },
    );
    expect(meshOf(shape).edges?.count).toBe(12);
    expect(new Set(meshOf(shape).points.columns.heat.lanes[0])).toEqual(new Set([3]));
  });

  test("some faces are kept", () => {
    const graph = graphOf(
      {
        box: { type: "box" },
        up: { type: "position", set: { of: "normal" } },
        split: { type: "split-vector" },
        keep: { type: "keep", set: { on: "faces" } },
      },
      ["box.shape>keep.shape", "up.vector>split.vector", "split.y>keep.when"],
    );
    const kept = outputsOf(graph, "keep").shape as Shape;
    expect([meshOf(kept).faces.count, meshOf(kept).points.count]).toEqual([1, 4]);
    expect(validateShape(kept)).toEqual([]);
  });

  test("a change of faces counts as one", () => {
    const hintsOf = (set: NodeSpec["set"]) =>
      evaluate(
        graphOf(
          {
            box: { type: "box" },
            first: { type: "tint", set: { on: "faces", color: "#ff0000" } },
            tint: { type: "tint", set: { on: "faces", ...set } },
          },
          ["box.shape>first.shape", "first.shape>tint.shape"],
        ),
        0,
        { target: "tint", inspect: true },
      ).report.nodes.tint.hints;
    expect(hintsOf({ color: "#00ff00" })).toBeUndefined();
    expect(hintsOf({ amount: 0, how: "add" })?.[0].what).toContain("It changes nothing");
  });

  test("what does not arrive is told, with a way out", () => {
    const report = reportOf(
      graphOf({ box: { type: "box" }, move: { type: "move", set: { on: "sites" } } }, [
        "box.shape>move.shape",
      ]),
      "move",
    );
    expect(report.problems[0]).toMatchObject({
      what: "No sites arrive, so there is nothing to change.",
      repair: { input: "on", value: "what is there" },
    });
  });
});

test("a curve is cut where points are left out", () => {
  const ring = makeCurve(6, true, (i) => [i, 0, 0]);
  const cut = keepCurvePoints(ring, (p) => p !== 2 && p !== 4);
  expect([...cut.points.columns.position.lanes[0]]).toEqual([3, 5, 0, 1]);
  expect([...cut.curveStarts]).toEqual([0, 1, 4]);
  expect([...cut.curves.columns.closed.lanes[0]]).toEqual([0, 0]);
  expect([...keepCurvePoints(ring, () => true).curves.columns.closed.lanes[0]]).toEqual([1]);
});
