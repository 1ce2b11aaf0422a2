/** What the nodes of a piece need loaded before it can be evaluated. */
import type { PieceDocument } from "../document/schema";
import type { Library } from "../library";
import { catalogue } from "../nodes/catalogue";
import { type AnyNode, NodeError } from "../nodes/define";

/** Loads all that a piece needs and that is not there yet. Never rejects: the nodes that lack something say so. */
export async function prepareLibraries({ graph, capsules }: PieceDocument): Promise<void> {
  const graphs = [graph, ...Object.values(capsules).map((capsule) => capsule.graph)];
  await loadLibraries(graphs.flatMap(({ nodes }) => nodes.flatMap(({ type }) => catalogue.get(type) ?? [])));
}

/** The same for nodes by themselves. */
export async function loadLibraries(nodes: Iterable<AnyNode>): Promise<void> {
  const needed = new Set<Library>([...nodes].flatMap(({ needs = [] }) => needs));
  await Promise.all([...needed].filter((library) => !library.isReady).map((library) => library.load()));
}

/** @throws NodeError when something that a node needs is not there */
export function checkLibraries({ needs = [] }: AnyNode): void {
  const missing = needs.find((library: Library) => !library.isReady);
  if (missing)
    throw new NodeError(
      `The ${missing.title} is not loaded${missing.fault ? `: ${missing.fault}` : " yet"}. Change anything to try again.`,
    );
}
