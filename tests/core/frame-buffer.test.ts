/** Frames that are kept while a piece plays. */
import type { PieceDocument } from "../../src/core/document/schema";
import { IN_MEMORY } from "../../src/core/draw/draw-memory";
import { drawingOf } from "../../src/core/draw/drawing";
import { arraysOfLoose } from "../../src/core/draw/loose";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Shape } from "../../src/core/geometry/shape";
import { FrameBuffer } from "../../src/engine/frame-buffer";
import { ledgerOf } from "../../src/engine/ledger";
import { readDemo } from "../../src/server/demo";
import { graphOf } from "../run-node";

const document = graphOf(
  {
    grid: { type: "grid-sites", set: { across: 40, deep: 40 } },
    noise: { type: "noise", set: { speed: 2 } },
    move: { type: "move" },
    stage: { type: "stage" },
  },
  ["grid.sites>move.shape", "noise.vector>move.by", "move.shape>stage.shape"],
);
const placesOf = (shape: Shape | undefined) =>
  (shape?.sites?.columns.position.lanes ?? []).map((lane) => [...lane]);

describe("frame buffer", () => {
  it("keeps no frame ahead while memory is short, and gives all of them up", () => {
    const evaluator = new Evaluator();
    let room = true;
    const buffer = new FrameBuffer(evaluator, undefined, () => room);
    const put = (frame: number) => buffer.put(document, frame, evaluator.evaluate(document, frame));
    for (const frame of [0, 1, 2]) put(frame);
    expect(buffer.frames.ready).toEqual([[1, 2]]);
    room = false;
    put(3);
    expect(buffer.get(document, 3)).toBeUndefined();
    buffer.clear();
    expect([buffer.bytes, buffer.frames.ready, buffer.frames.stale]).toEqual([0, [], [[1, 2]]]);
  });

  it("gives frames back with the bits they had, whatever was worked out since", () => {
    const evaluator = new Evaluator();
    const buffer = new FrameBuffer(evaluator);
    const places: number[][][] = [];
    for (let frame = 0; frame < 12; frame++) {
      const result = evaluator.evaluate(document, frame);
      places.push(placesOf(result.shape));
      buffer.put(document, frame, result);
    }
    // The first one of a document only begins: a drag changes it every time.
    expect(buffer.get(document, 0)).toBeUndefined();
    for (let frame = 1; frame < 12; frame++)
      expect(placesOf(buffer.get(document, frame)?.shape)).toEqual(places[frame]);
  });

  it("knows no frames of another document, and gives back what it held", () => {
    const evaluator = new Evaluator();
    const buffer = new FrameBuffer(evaluator);
    for (let frame = 0; frame < 6; frame++) buffer.put(document, frame, evaluator.evaluate(document, frame));
    const full = evaluator.arena.bytes;
    const other = graphOf({ grid: { type: "grid-sites" }, stage: { type: "stage" } }, [
      "grid.sites>stage.shape",
    ]);
    expect(buffer.get(other, 3)).toBeUndefined();
    buffer.put(other, 0, evaluator.evaluate(other, 0));
    evaluator.evaluate(other, 1);
    expect(buffer.get(document, 3)).toBeUndefined();
    expect(evaluator.arena.bytes).toBeLessThan(full);
  });

  it("keeps its frames while cards are moved, notes are written, the camera turns and the piece gets a name", () => {
    const evaluator = new Evaluator();
    const buffer = new FrameBuffer(evaluator);
    for (let frame = 0; frame < 6; frame++) buffer.put(document, frame, evaluator.evaluate(document, frame));
    const kept = buffer.get(document, 3);
    expect(kept).toBeDefined();
    // As they come to the worker: copies of everything.
    const { graph } = document;
    const note = { id: "n", at: [0, 0], size: [100, 100], text: "here", tint: "moss" } as const;
    const others: PieceDocument[] = [
      structuredClone(document),
      { ...document, name: "other", about: "words", tags: ["a"], made: "so" },
      { ...document, view: { position: [1, 2, 3], target: [0, 0, 0] } },
      { ...document, dials: [{ label: "speed", input: "noise.speed" }] },
      { ...document, graph: { ...graph, notes: [{ ...note, at: [0, 0], size: [100, 100] }] } },
      {
        ...document,
        graph: {
          links: graph.links.map((link) => ({ ...link, via: [[1, 2]] })),
          nodes: graph.nodes.map((node) => ({ ...node, at: [7, 8], limits: { speed: [0, 9] } })),
        },
      } as PieceDocument,
    ];
    for (const other of others) {
      buffer.put(other, 4, evaluator.evaluate(other, 4));
      expect(buffer.get(other, 3)).toBe(kept);
    }
    const [, noise, ...rest] = graph.nodes;
    const changed: PieceDocument[] = [
      { ...document, settings: { ...document.settings, seed: 2 } },
      { ...document, graph: { ...graph, nodes: [graph.nodes[0], { ...noise, set: { speed: 3 } }, ...rest] } },
      { ...document, graph: { ...graph, nodes: [graph.nodes[0], { ...noise, bypass: true }, ...rest] } },
      { ...document, graph: { ...graph, links: graph.links.slice(1) } },
    ];
    for (const other of changed) expect(buffer.get(other, 3)).toBeUndefined();
  });

  it("keeps no more than there is room for", () => {
    const evaluator = new Evaluator();
    // Three lanes of 1,600 numbers of four bytes are new with every frame.
    const buffer = new FrameBuffer(evaluator, 4 * 3 * 1600 * 4);
    for (let frame = 0; frame < 30; frame++) buffer.put(document, frame, evaluator.evaluate(document, frame));
    const kept = Array.from({ length: 30 }, (_, frame) => buffer.get(document, frame)).filter(Boolean);
    expect(kept.length).toBeGreaterThan(0);
    expect(kept.length).toBeLessThan(8);
  });
});

it("the ledger names what is held, each kind by itself, and all of it is no more than what is used", () => {
  const evaluator = new Evaluator();
  const buffer = new FrameBuffer(evaluator);
  const piece = readDemo("24-sprouts-that-remember");
  const before = ledgerOf(evaluator, buffer);
  let shape: Shape | undefined;
  for (let frame = 0; frame <= 8; frame++) shape = evaluator.evaluate(piece, frame).shape;
  const drawing = drawingOf(shape as Shape, IN_MEMORY);
  const held = ledgerOf(evaluator, buffer);
  expect(held.results).toBeGreaterThan(0);
  expect(held.states).toBeGreaterThan(0);
  const arrays = [
    ...drawing.batches.flatMap(({ matrices, colors, looks }) => [
      matrices,
      colors,
      ...(looks ? [looks] : []),
    ]),
    ...[drawing.dots, drawing.lines].flatMap(arraysOfLoose),
  ];
  // Sixteen numbers a matrix and four a colour, four bytes each; rooms are a little larger than what stands in them.
  const drawn = arrays.reduce((sum, array) => sum + array.byteLength, 0);
  expect(held.drawings - before.drawings).toBeGreaterThanOrEqual(drawn);
  expect(held.drawings - before.drawings).toBeLessThan(drawn * 1.5 + 1024);
  expect(held.drawings).toBeLessThanOrEqual(held.used);
  for (const array of arrays) IN_MEMORY.give(array);
  expect(ledgerOf(evaluator, buffer).drawings).toBe(before.drawings);
});
