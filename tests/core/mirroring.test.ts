/** Scales that mirror: what came out looks outward still, and stands where three's matrices put it. */
import { Matrix3, Matrix4, Quaternion, Vector3 } from "three";
import { siteMatrices } from "../../src/core/geometry/bounds";
import { makeColumn, withColumns } from "../../src/core/geometry/column";
import { isClosed, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { pointNormals } from "../../src/core/geometry/normals";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { transformShape } from "../../src/core/geometry/transform";
import type { Setting } from "../../src/core/nodes/ports";
import { evaluate, graphOf, outputsOf } from "../run-node";

const meshOf = (shape: unknown): Mesh => (shape as Shape).mesh as Mesh;
const chained = (type: string, set: Record<string, Setting>, of = "box", links: string[] = [], more = {}) =>
  outputsOf(
    graphOf({ made: { type: of }, changed: { type, set }, ...more }, ["made.shape>changed.shape", ...links]),
    "changed",
  ).shape;

const SCALES: [number, number, number][] = [
  [-1, 2, 3],
  [-1, -2, 3],
  [-1, -2, -3],
  [1, 2, -3],
];

describe.each(SCALES)("scale (%d, %d, %d)", (...scale) => {
  it.each([
    ["transform", { scale }],
    ["scale", { axes: scale }],
  ] as [string, Record<string, Setting>][])(
    "a box under %s keeps its volume of 6 and its outside",
    (type, set) => {
      const mesh = meshOf(chained(type, set));
      expect(meshVolume(mesh)).toBeCloseTo(6, 5);
      expect(isClosed(mesh)).toBe(true);
    },
  );

  it("a mesh with normals of its own has them by the inverse transpose", () => {
    const ball = meshOf(outputsOf(graphOf({ ball: { type: "sphere" } }), "ball").shape);
    const radial = pointNormals(ball).map((lane) => Float32Array.from(ball.cornerPoint, (p) => lane[p]));
    const corners = withColumns(ball.corners, { normal: makeColumn("vector", radial) });
    const shaded = { ...ball, corners };
    const turn = new Quaternion().setFromAxisAngle(new Vector3(1, 2, 3).normalize(), 0.8);
    const placed = meshOf(
      transformShape({ mesh: shaded }, { move: [1, 2, 3], turn: [turn.x, turn.y, turn.z, turn.w], scale }),
    );
    const matrix = new Matrix4().compose(new Vector3(1, 2, 3), turn, new Vector3(...scale));
    const normalMatrix = new Matrix3().getNormalMatrix(matrix);
    const wanted = new Map<number, Vector3>();
    ball.cornerPoint.forEach((p, c) => {
      wanted.set(p, new Vector3(radial[0][c], radial[1][c], radial[2][c]).applyNormalMatrix(normalMatrix));
    });
    const own = placed.corners.columns.normal.lanes;
    placed.cornerPoint.forEach((p, c) => {
      expect(wanted.get(p)?.distanceTo(new Vector3(own[0][c], own[1][c], own[2][c]))).toBeLessThan(1e-4);
    });
  });

  it("sites at right angles stand as three's matrices put them, mirror included", () => {
    // Quarter turns: an uneven scale is no shear for them.
    const turns = [
      [0, 0, 0],
      [0.5, 0, 0],
      [0, 0.5, 0],
      [0.5, 0.5, 0],
      [0.5, 1, 1.5],
    ].map(([a, b, c]) =>
      new Quaternion()
        .setFromAxisAngle(new Vector3(1, 0, 0), a * Math.PI)
        .multiply(new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), b * Math.PI))
        .multiply(new Quaternion().setFromAxisAngle(new Vector3(0, 0, 1), c * Math.PI)),
    );
    const sites = makeSites(turns.length, ({ position, rotation }) => {
      turns.forEach((q, i) => {
        position[0][i] = i + 1;
        position[1][i] = 2 * i - 3;
        q.toArray().forEach((v, l) => {
          rotation[l][i] = v;
        });
      });
    });
    const turn = new Quaternion().setFromAxisAngle(new Vector3(3, 1, 2).normalize(), 1.1);
    const placed = transformShape(
      { sites },
      { move: [4, 5, 6], turn: [turn.x, turn.y, turn.z, turn.w], scale },
    ).sites as NonNullable<Shape["sites"]>;
    const whole = new Matrix4().compose(new Vector3(4, 5, 6), turn, new Vector3(...scale));
    const before = siteMatrices(sites, new Float32Array(16 * turns.length));
    const after = siteMatrices(placed, new Float32Array(16 * turns.length));
    turns.forEach((_, i) => {
      const wanted = whole.clone().multiply(new Matrix4().fromArray(before, i * 16));
      wanted.elements.forEach((v, k) => {
        expect(after[i * 16 + k]).toBeCloseTo(v, 4);
      });
    });
  });
});

describe("what else mirrors", () => {
  it("a scale by a field mirrors when it does so at every point", () => {
    const document = graphOf(
      {
        made: { type: "box" },
        dice: { type: "random", set: { least: -2, greatest: -1 } },
        along: { type: "join-vector", set: { y: 1, z: 1 } },
        changed: { type: "scale" },
      },
      ["made.shape>changed.shape", "dice.value>along.x", "along.vector>changed.axes"],
    );
    expect(meshVolume(meshOf(outputsOf(document, "changed").shape))).toBeGreaterThan(0);
  });

  it("Repeat alternates sides, as the same steps by three's matrices do", () => {
    const step = { step: [2, 0, 0], turn: [0, 30, 0], scale: [-1, 1, 1] } as Record<string, Setting>;
    const repeated = outputsOf(
      graphOf({ one: { type: "single-site" }, many: { type: "repeat", set: { count: 4, ...step } } }, [
        "one.sites>many.shape",
      ]),
      "many",
    ).shape as Shape;
    const sites = repeated.sites as NonNullable<Shape["sites"]>;
    const matrices = siteMatrices(sites, new Float32Array(64));
    const quarter = new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), Math.PI / 6);
    const one = new Matrix4().compose(new Vector3(2, 0, 0), quarter, new Vector3(-1, 1, 1));
    const at = new Matrix4();
    for (let i = 0; i < 4; i++) {
      at.elements.forEach((v, k) => {
        expect(matrices[i * 16 + k]).toBeCloseTo(v, 5);
      });
      at.multiply(one);
    }
  });

  it.each([
    ["transform", { scale: [-1, 1, 1] }],
    ["scale", { axes: [-1, 1, 1] }],
    ["mirror", { keep: false }],
  ] as [string, Record<string, Setting>][])(
    "clones under %s are baked with their outside outside",
    (type, set) => {
      const { outputs } = evaluate(
        graphOf(
          {
            box: { type: "box", set: { size: [1, 2, 3] } },
            ring: { type: "ring-sites", set: { count: 5 } },
            clones: { type: "clone-onto-sites" },
            changed: { type, set },
            baked: { type: "bake-clones" },
          },
          [
            "box.shape>clones.shapes",
            "ring.sites>clones.sites",
            "clones.clones>changed.shape",
            "changed.shape>baked.shape",
          ],
        ),
        0,
        { target: "baked" },
      );
      expect(meshVolume(meshOf(outputs?.shape))).toBeCloseTo(30, 3);
    },
  );
});
