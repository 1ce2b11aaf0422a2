/** Evaluates one node with settings and inputs, the way a document would. */
import { blankDocument, type GraphNode, type PieceDocument } from "../src/core/document/schema";
import { type Evaluation, Evaluator } from "../src/core/evaluate/evaluator";
import type { EvaluateOptions } from "../src/core/evaluate/options";
import type { NodeReport } from "../src/core/evaluate/report";
import type { Value } from "../src/core/fields/expression";
import { runValues } from "../src/core/fields/run";
import type { Domain } from "../src/core/geometry/column";
import { makeSites } from "../src/core/geometry/shape";
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

export const sitesAt = (places: readonly (readonly number[])[]): Domain =>
  makeSites(places.length, ({ position }) => {
    places.forEach((place, i) => {
      for (let a = 0; a < 3; a++) position[a][i] = place[a];
    });
  });

/** A port of a node by itself, a field or a number, at places that are elements 0, 1, 2 … */
export function numbersAt(
  type: string,
  set: Record<string, Setting>,
  port: string,
  places: readonly (readonly number[])[],
  frame = 0,
  keys?: GraphNode["keys"],
): number[] {
  const document = graphOf({ node: { type, set } });
  const [node] = document.graph.nodes;
  const keyed = keys ? { ...document, graph: { ...document.graph, nodes: [{ ...node, keys }] } } : document;
  const outputs = outputsOf(keyed, "node", frame);
  return [...runValues([outputs[port] as Value], sitesAt(places)).lanes[0]];
}

/** The report of a node that is expected not to run. */
export const reportOf = (
  document: PieceDocument,
  target: string,
  options: EvaluateOptions = {},
): NodeReport => evaluate(document, 0, { ...options, target }).report.nodes[target];
