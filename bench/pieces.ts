/** Documents that are measured, and nodes of them worked out frame after frame. */
import { blankDocument, type GraphNode, type PieceDocument } from "../src/core/document/schema";
import { Evaluator } from "../src/core/evaluate/evaluator";

export type Nodes = Readonly<Record<string, readonly [type: string, set?: GraphNode["set"]]>>;

export const piece = (nodes: Nodes, links: readonly string[]): PieceDocument => ({
  ...blankDocument("bench"),
  graph: {
    nodes: Object.entries(nodes).map(([id, [type, set = {}]]) => ({ id, type, at: [0, 0], set })),
    links: links.map((link) => ({ from: link.split(">")[0], to: link.split(">")[1] })),
  },
});

/** Sites that a wave lifts. */
export const WAVE: Nodes = { wave: ["wave"], lift: ["join-vector"], move: ["move"] };
export const LIFTED = ["grid.sites>move.shape", "wave.value>lift.y", "lift.vector>move.by"];

/** Goes on from frame to frame; gives what a node then made. */
export function player(document: PieceDocument, target: string): (frame?: number) => Record<string, unknown> {
  const evaluator = new Evaluator();
  let at = 0;
  return (frame = at++) => {
    const { outputs, report } = evaluator.evaluate(document, frame, { target });
    if (!outputs) throw new Error(JSON.stringify(report.nodes[target]));
    return outputs as Record<string, unknown>;
  };
}

/** Copying so many numbers once. */
export function copying(count: number): () => void {
  const [from, to] = [new Float32Array(count).fill(1), new Float32Array(count).fill(2)];
  return () => to.set(from);
}

/** Copies in turn, so that none lies in a cache when it is read again. */
const COLD = 16;

/** The same of numbers that have not been touched for a while, as those of the frame before. */
export function copyingCold(count: number): () => void {
  const [from, to] = [new Float32Array(COLD * count).fill(1), new Float32Array(COLD * count).fill(2)];
  let turn = 0;
  return () => {
    const at = (turn++ % COLD) * count;
    to.set(from.subarray(at, at + count), at);
  };
}
