/** Random graphs of what is carried from frame to frame: the same bits in any order, whatever is kept on the way. */
import fc from "fast-check";
import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { Cancelled } from "../../src/core/evaluate/options";
import { arraysOf } from "../../src/core/geometry/domains";
import { Checkpoints } from "../../src/core/simulate/checkpoints";
import { type Disk, DiskCache } from "../../src/core/simulate/disk-cache";
import { Simulation } from "../../src/core/simulate/simulation";
import { graphOf, type NodeSpec } from "../run-node";

const LAST = 24;

/** Nodes that follow each other; each is linked to one before it. */
const STATEFUL: readonly NodeSpec[] = [
  { type: "spring", set: { stiffness: 90, damping: 0.2 } },
  { type: "spring", set: { runUp: 5, amount: 0.7 } },
  { type: "lag", set: { half: 0.2, runUp: 3 } },
  { type: "lag", set: { of: "an attribute", attribute: "color" } },
  { type: "hold-frame", set: { which: "some frames earlier", frame: 3 } },
  { type: "hold-frame", set: { frame: 6.5 } },
  { type: "close-loop", set: { over: 8 } },
  { type: "move", set: { by: [0.1, 0, 0] } },
];

const graphs = fc
  .array(fc.tuple(fc.constantFrom(...STATEFUL), fc.nat()), { minLength: 1, maxLength: 5 })
  .map((picked): PieceDocument => {
    const nodes: Record<string, NodeSpec> = {
      grid: { type: "grid-sites", set: { across: 4, deep: 3 } },
      wave: { type: "wave" },
      lift: { type: "join-vector" },
      move: { type: "move" },
      tint: { type: "tint" },
      grad: { type: "gradient", set: { low: -1, high: 1 } },
      spring: { type: "spring-value", set: { runUp: 2 } },
      pull: { type: "scale" },
    };
    const links = [
      "grid.sites>move.shape",
      "wave.value>lift.y",
      "lift.vector>move.by",
      "wave.value>grad.value",
      "grad.color>tint.color",
      "move.shape>tint.shape",
      "tint.shape>pull.shape",
      "spring.value>pull.amount",
    ];
    const names = ["pull"];
    for (const [i, [spec, before]] of picked.entries()) {
      nodes[`n${i}`] = spec;
      links.push(`${names[before % names.length]}.shape>n${i}.shape`);
      names.push(`n${i}`);
    }
    nodes.all = { type: "merge" };
    nodes.stage = { type: "stage" };
    for (const name of names) links.push(`${name}.shape>all.shapes`);
    const document = graphOf(nodes, [...links, "all.shape>stage.shape"]);
    const spring = document.graph.nodes.find(({ id }) => id === "spring");
    if (spring)
      spring.keys = {
        value: {
          keys: [
            { frame: 0, value: 0, ease: "hold" },
            { frame: 4, value: 1, ease: "hold" },
          ],
        },
      };
    return { ...document, settings: { ...document.settings, first: 0, last: LAST } };
  });

function bitsAt(evaluator: Evaluator, document: PieceDocument, frame: number): string {
  const { shape, report } = evaluator.evaluate(document, frame);
  if (!shape) throw new Error(JSON.stringify(report.nodes));
  return [...arraysOf(shape)]
    .map((lane: ArrayBufferView) =>
      Buffer.from(lane.buffer, lane.byteOffset, lane.byteLength).toString("base64"),
    )
    .join(" ");
}

const frames = fc.array(
  fc.oneof(
    fc.integer({ min: 0, max: LAST }),
    fc.integer({ min: 0, max: LAST * 4 }).map((quarter) => quarter / 4),
  ),
  { minLength: 3, maxLength: 8 },
);

it("gives the same bits in any order as in order, with room for few states or many", () => {
  fc.assert(
    fc.property(graphs, frames, fc.constantFrom(1, 3_000, 20_000, 2 ** 27), (document, order, room) => {
      const inOrder = new Evaluator();
      const wanted = new Map(
        [...new Set(order)].sort((a, b) => a - b).map((frame) => [frame, bitsAt(inOrder, document, frame)]),
      );
      const evaluator = new Evaluator(new Simulation(new Checkpoints(room)));
      for (const frame of order) expect(bitsAt(evaluator, document, frame)).toBe(wanted.get(frame));
    }),
    { numRuns: 14 },
  );
});

/** A file in memory. @param room bytes that fit into it */
class Memory implements Disk {
  bytes = new Uint8Array(0);
  constructor(public room = Number.POSITIVE_INFINITY) {}
  size = () => this.bytes.length;
  read(at: number, count: number): Uint8Array {
    if (at + count > this.bytes.length) throw new Error("It ends before.");
    return this.bytes.slice(at, at + count);
  }
  write(at: number, bytes: Uint8Array): void {
    if (at + bytes.length > this.room) throw new Error("no space left");
    const wider = new Uint8Array(Math.max(this.bytes.length, at + bytes.length));
    wider.set(this.bytes);
    wider.set(bytes, at);
    this.bytes = wider;
  }
  cut(size: number): void {
    this.bytes = this.bytes.slice(0, size);
  }
}

const withDisk = (disk: Disk, room = 2 ** 27): Evaluator => {
  const simulation = new Simulation(new Checkpoints(room));
  simulation.disk = new DiskCache(disk);
  return new Evaluator(simulation);
};

it("gives the same bits after a reload, from a disk that has room, has none, is cut short or damaged", () => {
  const harms = fc.record({
    room: fc.constantFrom(200, 5_000, Number.POSITIVE_INFINITY),
    cut: fc.option(fc.double({ min: 0, max: 1, noNaN: true })),
    flip: fc.option(fc.double({ min: 0, max: 1, noNaN: true })),
  });
  fc.assert(
    fc.property(graphs, frames, harms, (document, order, { room, cut, flip }) => {
      const wanted = order.map((frame) => bitsAt(new Evaluator(), document, frame));
      const disk = new Memory(room);
      const first = withDisk(disk, 3_000);
      for (const [i, frame] of order.entries()) expect(bitsAt(first, document, frame)).toBe(wanted[i]);
      first.simulation.flush();
      if (cut !== null) disk.cut(Math.floor(cut * disk.size()));
      if (flip !== null && disk.size() > 0) disk.bytes[Math.floor(flip * (disk.size() - 1))] ^= 0x55;
      const second = withDisk(disk);
      for (const [i, frame] of order.entries()) expect(bitsAt(second, document, frame)).toBe(wanted[i]);
    }),
    { numRuns: 14 },
  );
});

it("goes on from disk after a reload instead of from the beginning, and says when there is no room", () => {
  const document = graphOf(
    { row: { type: "row-sites" }, node: { type: "spring" }, stage: { type: "stage" } },
    ["row.sites>node.shape", "node.shape>stage.shape"],
  );
  const disk = new Memory();
  const before = withDisk(disk);
  bitsAt(before, document, 60);
  before.simulation.flush();
  const stepped: number[] = [];
  const after = withDisk(disk);
  after.evaluate(document, 60, { stepped: (frame) => stepped.push(frame) });
  expect(stepped).toEqual([]);
  after.evaluate(document, 71, { stepped: (frame) => stepped.push(frame) });
  expect(stepped).toEqual([61, 62, 63, 64, 65, 66, 67, 68, 69, 70]);
  // Another stiffness: what is there does not hold, and nothing of it is read.
  const changed = structuredClone(document);
  changed.graph.nodes[1].set = { stiffness: 60 };
  stepped.length = 0;
  withDisk(disk).evaluate(changed, 3, { stepped: (frame) => stepped.push(frame) });
  expect(stepped).toEqual([0, 1, 2]);
  // A file of another version is begun anew.
  disk.bytes[0] ^= 1;
  expect(withDisk(disk).simulation.disk?.framesOf("any")).toEqual([]);
  const full = withDisk(new Memory(300));
  bitsAt(full, document, 60);
  full.simulation.flush();
  expect(full.simulation.disk?.fault).toMatch(
    /cannot be kept on disk \(no space left\); they are kept in memory/,
  );
});

it("steps everything together: several nodes in a row are stepped once a frame, and what is kept is named", () => {
  const document = graphOf(
    {
      row: { type: "row-sites", set: { count: 5 } },
      wave: { type: "wave" },
      lift: { type: "join-vector" },
      move: { type: "move" },
      a: { type: "lag" },
      b: { type: "lag" },
      c: { type: "lag" },
      stage: { type: "stage" },
    },
    [
      "row.sites>move.shape",
      "wave.value>lift.y",
      "lift.vector>move.by",
      "move.shape>a.shape",
      "a.shape>b.shape",
      "b.shape>c.shape",
      "c.shape>stage.shape",
    ],
  );
  const evaluator = new Evaluator();
  const put = jest.spyOn(evaluator.simulation.checkpoints, "put");
  const { report } = evaluator.evaluate(document, 24);
  // Frames 0 to 24 of three nodes, each once.
  expect(put).toHaveBeenCalledTimes(3 * 25);
  const { bytes } = evaluator.simulation.checkpoints;
  const named = ["a", "b", "c"].reduce((sum, id) => sum + (report.nodes[id].carried ?? 0), 0);
  expect(named).toBe(bytes);
  expect(report.bytes).toBeGreaterThanOrEqual(bytes);
  // One frame back asks for no step, and one further on for one each.
  put.mockClear();
  evaluator.evaluate(document, 23);
  expect(put).not.toHaveBeenCalled();
  evaluator.evaluate(document, 25);
  expect(put).toHaveBeenCalledTimes(3);
});

it("goes on from what it had when a step is cut short", () => {
  const document = graphOf(
    { row: { type: "row-sites" }, node: { type: "spring" }, stage: { type: "stage" } },
    ["row.sites>node.shape", "node.shape>stage.shape"],
  );
  const evaluator = new Evaluator();
  const cut = (frame: number) => {
    if (frame === 9) throw new Cancelled();
  };
  expect(() => evaluator.evaluate(document, 20, { stepped: cut })).toThrow(Cancelled);
  expect(evaluator.simulation.checkpoints.frames.at(-1)).toBe(8);
  expect(bitsAt(evaluator, document, 20)).toBe(bitsAt(new Evaluator(), document, 20));
});
