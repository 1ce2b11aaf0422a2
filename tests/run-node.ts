/** Evaluates one node with settings and inputs, the way a document would. */
import { blankDocument, type PieceDocument } from "../src/core/document/schema";
import { type Evaluation, Evaluator } from "../src/core/evaluate/evaluator";
import type { EvaluateOptions } from "../src/core/evaluate/options";
import type { NodeReport } from "../src/core/evaluate/report";
import type { Setting } from "../src/core/nodes/ports";

export type NodeSpec = { type: string; set?: Record<string, Setting> };

/** A document from nodes by id and links written `from.port>to.port`. */
export function graphOf(nodes: Record<string, NodeSpec>, links: readonly string[] = []): PieceDocument {
  const blank = blankDocument("test");
  return {
    ...blank,
    graph: {
      nodes: Object.entries(nodes).map(([id, { type, set }], i) => ({
        id,
        type,
        at: [i * 10, 0],
        set: set ?? {},
      })),
      links: links.map((link) => ({ from: link.split(">")[0], to: link.split(">")[1] })),
    },
  };
}

export const evaluate = (document: PieceDocument, frame = 0, options: EvaluateOptions = {}): Evaluation =>
  new Evaluator().evaluate(document, frame, options);

/** Outputs of the node `target`; fails with its messages when it did not run. */
export function outputsOf(document: PieceDocument, target: string, frame = 0): Record<string, unknown> {
  const { outputs, report } = evaluate(document, frame, { target });
  if (!outputs) {
    const lines = Object.entries(report.nodes).flatMap(([id, n]) =>
      n.problems.map((p) => `${id}: ${p.what}`),
    );
    throw new Error(lines.join("\n") || "nothing was worked out");
  }
  return { ...outputs };
}

export const runNode = (type: string, set: object = {}): Record<string, unknown> =>
  outputsOf(graphOf({ node: { type, set: set as Record<string, Setting> } }), "node");

/** The report of a node that is expected not to run. */
export const reportOf = (
  document: PieceDocument,
  target: string,
  options: EvaluateOptions = {},
): NodeReport => evaluate(document, 0, { ...options, target }).report.nodes[target];
