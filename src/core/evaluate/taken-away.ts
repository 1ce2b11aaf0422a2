/** A document as it is worked out for what is taken away: choices of its nodes may stand for finer ones there. */
import type { Graph, GraphNode, PieceDocument } from "../document/schema";
import { catalogue } from "../nodes/catalogue";
import type { Input } from "../nodes/ports";

/** The document itself where nothing of it is made differently. */
export function asTakenAway(document: PieceDocument): PieceDocument {
  const graph = graphTakenAway(document.graph);
  let isSame = graph === document.graph;
  const capsules: PieceDocument["capsules"] = {};
  for (const [name, capsule] of Object.entries(document.capsules)) {
    const own = graphTakenAway(capsule.graph);
    isSame &&= own === capsule.graph;
    capsules[name] = own === capsule.graph ? capsule : { ...capsule, graph: own };
  }
  return isSame ? document : { ...document, graph, capsules };
}

function graphTakenAway(graph: Graph): Graph {
  let isSame = true;
  const nodes = graph.nodes.map((node) => {
    const set = setTakenAway(node);
    isSame &&= set === node.set;
    return set === node.set ? node : { ...node, set };
  });
  return isSame ? graph : { ...graph, nodes };
}

function setTakenAway({ type, set }: GraphNode): GraphNode["set"] {
  const inputs: Readonly<Record<string, Input<unknown>>> = catalogue.get(type)?.inputs ?? {};
  const finer = Object.entries(inputs).flatMap(([name, { takenAway }]) => {
    const instead = takenAway?.[String(set[name])];
    return instead === undefined ? [] : [[name, instead] as const];
  });
  return finer.length === 0 ? set : { ...set, ...Object.fromEntries(finer) };
}
