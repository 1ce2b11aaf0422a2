/** A whole frame: moving noise and a falloff place, turn, size and colour the clones of a grid, to matrices and colours. */
import { blankDocument, type GraphNode, type PieceDocument } from "../src/core/document/schema";
import { IN_MEMORY } from "../src/core/draw/draw-memory";
import { drawingOf } from "../src/core/draw/drawing";
import { DEFAULT_BUDGET } from "../src/core/evaluate/budget";
import { Evaluator } from "../src/core/evaluate/evaluator";
import { type Helper, HelperPool, setHelpers } from "../src/core/kernels/helpers";
import { inTurns, median, type Pair } from "./measure";

export function wall(count: number): PieceDocument {
  const side = Math.sqrt(count);
  const node = (id: string, type: string, set: GraphNode["set"] = {}): GraphNode => ({
    id,
    type,
    at: [0, 0],
    set,
  });
  const link = (from: string, to: string) => ({ from, to });
  return {
    ...blankDocument("bench"),
    graph: {
      nodes: [
        node("wall", "grid-sites", { across: Math.ceil(side), deep: Math.round(count / Math.ceil(side)) }),
        node("block", "box"),
        node("clones", "clone-onto-sites"),
        node("hills", "noise", { size: 3, speed: 0.5, loop: true }),
        node("near", "falloff", { outer: side / 4 }),
        node("rise", "move"),
        node("turn", "rotate"),
        node("size", "scale"),
        node("colors", "gradient"),
        node("paint", "tint"),
        node("stage", "stage"),
      ],
      links: [
        link("wall.sites", "clones.sites"),
        link("block.shape", "clones.shapes"),
        link("clones.clones", "rise.shape"),
        link("hills.value", "rise.amount"),
        link("rise.shape", "turn.shape"),
        link("near.value", "turn.amount"),
        link("turn.shape", "size.shape"),
        link("near.value", "size.size"),
        link("size.shape", "paint.shape"),
        link("near.value", "colors.value"),
        link("colors.color", "paint.color"),
        link("paint.shape", "stage.shape"),
      ],
    },
  };
}

/** Works the next frame out at each call; returns the bytes it is drawn from. */
function frames(count: number): () => number {
  const document = wall(count);
  const evaluator = new Evaluator();
  const budget = { ...DEFAULT_BUDGET, sites: 2e7, bytes: 2 ** 33 };
  let frame = 0;
  return () => {
    const { shape } = evaluator.evaluate(document, frame++ % 200, { budget });
    if (!shape) throw new Error("The wall failed.");
    let bytes = 0;
    for (const { matrices, colors } of drawingOf(shape, IN_MEMORY).batches) {
      bytes += matrices.byteLength + colors.byteLength;
      IN_MEMORY.give(matrices);
      IN_MEMORY.give(colors);
    }
    return bytes;
  };
}

/** Against copying the frame's bytes once. */
export function wholeFrame(count: number): Pair {
  const draw = frames(count);
  const from = new Uint8Array(draw()).fill(1);
  const to = new Uint8Array(from.length).fill(2);
  return inTurns(draw, () => to.set(from));
}

/** With a helper, against without. */
export function twoThreads(helper: Helper): (count: number) => Pair {
  return (count) => {
    const pool = new HelperPool();
    pool.add(helper);
    const draw = frames(count);
    return inTurns(() => {
      setHelpers(pool);
      draw();
      setHelpers(null);
    }, draw);
  };
}

/** A frame asked for again, against the first one ever. */
export function nothingChanged(count: number): Pair {
  const document = wall(count);
  const first = Array.from({ length: 5 }, () => {
    const begun = performance.now();
    new Evaluator().evaluate(document, 0);
    return performance.now() - begun;
  });
  const evaluator = new Evaluator();
  const again = Array.from({ length: 600 }, () => {
    const begun = performance.now();
    evaluator.evaluate(document, 0);
    return performance.now() - begun;
  });
  return { ours: median(again.slice(300)), other: median(first) };
}
