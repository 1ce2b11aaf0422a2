/** The index of a graph, worked out once per graph. */
import { type GraphIndex, indexGraph } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";

const known = new WeakMap<PieceDocument["graph"], GraphIndex>();

export function graphIndexOf(graph: PieceDocument["graph"]): GraphIndex {
  let index = known.get(graph);
  if (!index) known.set(graph, (index = indexGraph(graph)));
  return index;
}
