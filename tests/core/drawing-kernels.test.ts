/** What crosses to the stage, by kernels, against the same worked out number by number and against what is known of surfaces. */
import { cancellable } from "../../src/core/cancelling";
import { bySource } from "../../src/core/draw/by-source";
import { IN_MEMORY } from "../../src/core/draw/draw-memory";
import { drawingOf } from "../../src/core/draw/drawing";
import { isMoved, MovingMesh } from "../../src/core/draw/moving-mesh";
import { triangulated } from "../../src/core/draw/triangulate";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { Cancelled } from "../../src/core/evaluate/options";
import type { Domain } from "../../src/core/geometry/column";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { engine } from "../../src/core/kernels/kernels";
import { interleave } from "../../src/core/kernels/placing";
import { type Dressing, SentGeometries } from "../../src/engine/sent-geometries";
import { graphOf, outputsOf } from "../run-node";

const PLAIN: Dressing = { outlined: false, laid: false };

/** A place that picks the first source. */
const ONE_SITE = {
  count: 1,
  columns: {
    position: { kind: "vector", lanes: [0, 1, 2].map(() => new Float32Array(1)) },
    source: { kind: "integer", lanes: [new Int32Array(1)] },
  },
} as const satisfies Domain;

/** A sheet in a wave that runs along X: y = sin(x + t), at frames 0 and up. */
const sheet = graphOf(
  {
    plane: { type: "plane", set: { width: 6, depth: 2, across: 200, deep: 20 } },
    wave: { type: "formula", set: { formula: "sin((place.x + a) * 180 / pi)" } },
    clock: { type: "clock" },
    lift: { type: "join-vector" },
    node: { type: "move" },
  },
  ["clock.seconds>wave.a", "wave.value>lift.y", "lift.vector>node.by", "plane.shape>node.shape"],
);
const meshAt = (evaluator: Evaluator, frame: number): Mesh => {
  const { outputs = {} } = evaluator.evaluate(sheet, frame, { target: "node" });
  return (outputs.shape as Shape).mesh as Mesh;
};

it("moves the vertices of a mesh whose faces stay, with light that follows: normals of y = sin x", () => {
  const evaluator = new Evaluator();
  const first = meshAt(evaluator, 0);
  const moving = new MovingMesh(first, triangulated(first), IN_MEMORY);
  const next = meshAt(evaluator, 20);
  expect(isMoved(first, next)).toBe(true);
  const { positions, normals } = moving.moved(next);
  const { geometry } = triangulated(next);
  expect([...positions]).toEqual([...geometry.positions]);
  let worst = 0;
  for (let v = 0; v < positions.length / 3; v++) {
    const x = positions[v * 3];
    if (Math.abs(x) > 2.9) continue;
    // The normal of a graph y = f(x) is (−f′, 1, 0) ÷ its length.
    const slope = Math.cos(x + 20 / 25);
    const size = Math.hypot(slope, 1);
    const off = [-slope / size, 1 / size, 0].map((n, a) => n - normals[v * 3 + a]);
    worst = Math.max(worst, Math.hypot(...off));
  }
  expect(worst).toBeLessThan(2e-3);
  moving.dispose();
});

it("sends triangles once, and then only where points have moved to; other faces are sent anew", () => {
  const evaluator = new Evaluator();
  const sent = new SentGeometries();
  const drawing = (shape: Shape) => drawingOf(shape);
  const first = sent.sendingOf(drawing({ mesh: meshAt(evaluator, 0) }), PLAIN);
  expect([first.fresh.length, first.moved.length]).toEqual([1, 0]);
  const mesh = meshAt(evaluator, 5);
  const second = sent.sendingOf(drawing({ mesh }), PLAIN);
  expect([second.fresh.length, second.moved.length]).toEqual([0, 1]);
  expect(second.moved[0].key).toBe(first.fresh[0].key);
  expect(sent.meshOf(second.moved[0].key)).toBe(mesh);
  const same = sent.sendingOf(drawing({ mesh }), PLAIN);
  expect([same.fresh.length, same.moved.length]).toEqual([0, 0]);
  const other = outputsOf(graphOf({ node: { type: "box" } }, []), "node").shape as Shape;
  const laidBox = outputsOf(
    graphOf({ box: { type: "box" }, it: { type: "project-uvs" } }, ["box.shape>it.shape"]),
    "it",
  ).shape as Shape;
  const third = sent.sendingOf(drawing(other), PLAIN);
  expect([third.fresh.length, third.moved.length]).toEqual([1, 0]);
  expect(sent.meshOf(second.moved[0].key)).toBeUndefined();
  // With lines the same is sent once more. A corner of a box is three vertices that grow one way: along its diagonal.
  sent.clear();
  const [{ geometry, outward = [] }] = sent.sendingOf(drawing(other), { ...PLAIN, outlined: true }).fresh;
  expect(outward).toHaveLength(24 * 3);
  for (let k = 0; k < outward.length; k++)
    expect(outward[k]).toBeCloseTo(Math.sign(geometry.positions[k]), 6);
  // Where it lies on a picture it is told only when that is drawn: six squares, whose corners are the picture's.
  expect(geometry.uvs).toBeUndefined();
  sent.clear();
  const [{ geometry: laid }] = sent.sendingOf(drawing(laidBox), { ...PLAIN, laid: true }).fresh;
  expect(Array.from(laid.uvs ?? [], Math.abs).sort()).toEqual([...Array(24).fill(0), ...Array(24).fill(1)]);
});

it("tells of everything anew when it was cut short, and keeps no memory for it", () => {
  const evaluator = new Evaluator();
  const sent = new SentGeometries();
  const before = meshAt(evaluator, 0);
  sent.sendingOf(drawingOf({ mesh: before }), PLAIN);
  sent.sendingOf(drawingOf({ mesh: meshAt(evaluator, 1) }), PLAIN);
  const wide = outputsOf(graphOf({ node: { type: "sphere", set: { around: 300, rings: 300 } } }, []), "node");
  const both = drawingOf({
    mesh: meshAt(evaluator, 2),
    sites: ONE_SITE,
    sources: [wide.shape as Shape],
  });
  const { used } = engine().memory;
  const cut = () => {
    throw new Cancelled();
  };
  expect(() => cancellable(cut, () => sent.sendingOf(both, PLAIN))).toThrow(Cancelled);
  expect(engine().memory.used).toBe(used);
  sent.clear();
  expect(sent.sendingOf(both, PLAIN).fresh).toHaveLength(2);
});

it("lays places side by side, whatever their number", () => {
  for (const count of [0, 1, 3, 4, 5, 1023, 1024, 1029, 5000]) {
    const lanes = [0, 1, 2].map((a) => Float32Array.from({ length: count }, (_, i) => i * 3 + a));
    const out = interleave("interleave3", lanes, 3, new Float32Array(count * 3));
    expect([...out]).toEqual(Array.from({ length: count * 3 }, (_, i) => i));
  }
});

it("groups sites by what they pick, in order, those that pick nothing there is among the bare ones", () => {
  const picks = Array.from({ length: 500 }, (_, i) => [2, 0, -1, 7, 0, 1][(i * i) % 6]);
  const sites: Domain = {
    count: picks.length,
    columns: { source: { kind: "integer", lanes: [Int32Array.from(picks)] } },
  };
  const groups = bySource(sites, 3).map(([s, numbers]) => [s, [...(numbers as Int32Array)]] as const);
  const order = [...new Set(picks.map((s) => (s >= 0 && s < 3 ? s : -1)))];
  expect(groups.map(([s]) => s)).toEqual(order);
  for (const [s, numbers] of groups)
    expect(numbers).toEqual(
      picks.flatMap((pick, i) => ((pick >= 0 && pick < 3 ? pick : -1) === s ? [i] : [])),
    );
});

it("draws copies of two shapes, lines and bare sites with the same numbers in the memory as in ordinary arrays", () => {
  const document = graphOf(
    {
      grid: { type: "grid-sites", set: { across: 70, deep: 70 } },
      turn: { type: "rotate", set: { turn: [10, 20, 30] } },
      tint: { type: "tint" },
      random: { type: "random" },
      grad: { type: "gradient" },
      box: { type: "box" },
      coil: { type: "helix", set: { points: 9 } },
      clones: { type: "clone-onto-sites" },
      bare: { type: "ring-sites", set: { count: 5000 } },
      all: { type: "merge" },
    },
    [
      "grid.sites>turn.shape",
      "turn.shape>tint.shape",
      "random.value>grad.value",
      "grad.color>tint.color",
      "tint.shape>clones.sites",
      "box.shape>clones.shapes",
      "coil.shape>clones.shapes",
      "clones.clones>all.shapes",
      "bare.sites>all.shapes",
    ],
  );
  const shape = new Evaluator().evaluate(document, 0, { target: "all" }).outputs?.shape as Shape;
  const [ordinary, placed] = [drawingOf(shape), drawingOf(shape, IN_MEMORY)];
  expect(placed.batches.length).toBeGreaterThan(0);
  expect(placed.lines?.count).toBeGreaterThan(0);
  expect(placed.dots?.count).toBeGreaterThan(0);
  const numbers = ({ batches, lines, dots, bounds }: typeof ordinary) =>
    [
      ...batches.flatMap(({ matrices, colors }) => [matrices, colors]),
      ...[lines, dots].flatMap((part) => (part ? [part.positions, part.colors] : [])),
      [...(bounds?.min ?? []), ...(bounds?.max ?? [])],
    ].map((array) => Array.from(array));
  expect(numbers(placed)).toEqual(numbers(ordinary));
});

it("draws lines and bare sites as thick as they say, scaled with the copies that they are in", () => {
  const shape = outputsOf(
    graphOf(
      {
        line: { type: "line", set: { from: [0, 0, 0], to: [2, 0, 0], points: 3 } },
        along: { type: "attribute", set: { name: "along" } },
        thick: { type: "line-thickness", set: { on: "curve points" } },
        fine: { type: "arc", set: { points: 4 } },
        both: { type: "merge" },
        row: { type: "row-sites", set: { count: 2 } },
        sized: { type: "scale", set: { size: 3 } },
        clones: { type: "clone-onto-sites" },
        dots: { type: "line-thickness", set: { thickness: 0.25, roundness: 1 } },
        all: { type: "merge" },
      },
      [
        "line.shape>thick.shape",
        "along.value>thick.thickness",
        "thick.shape>clones.shapes",
        "row.sites>sized.shape",
        "sized.shape>clones.sites",
        "row.sites>dots.shape",
        "fine.shape>both.shapes",
        "dots.shape>both.shapes",
        "clones.clones>all.shapes",
        "both.shape>all.shapes",
      ],
    ),
    "all",
  ).shape as Shape;
  const { lines, dots } = drawingOf(shape);
  // Two copies of two pieces that grow from 0 to 1, three times as large, and the four pieces of a ring without a thickness.
  const sorted = (numbers: ArrayLike<number> = []) => [...(numbers as Float32Array)].sort((a, b) => a - b);
  expect(sorted(lines?.thickness).map((v) => Math.round(v * 1e5) / 1e5)).toEqual([
    ...new Array(2 + 8).fill(0),
    ...new Array(4).fill(1.5),
    ...new Array(2).fill(3),
  ]);
  expect([...(dots?.thickness ?? [])]).toEqual([0.25, 0.25]);
  expect([...(dots?.roundness ?? [])]).toEqual([1, 1]);
  const plain = drawingOf(outputsOf(graphOf({ node: { type: "arc" } }), "node").shape as Shape);
  expect(plain.lines?.thickness).toBeUndefined();
});
