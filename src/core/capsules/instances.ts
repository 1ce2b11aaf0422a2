/** Where a capsule is used. */
import type { GraphNode, PieceDocument } from "../document/schema";
import { capsuleType } from "./definitions";

export interface InstanceAt {
  /** The capsule in whose graph it is; null in the piece's own. */
  readonly within: string | null;
  readonly node: GraphNode;
}

/** All instances of a capsule in a piece, those in other capsules included. */
export const instancesOf = ({ graph, capsules }: PieceDocument, name: string): InstanceAt[] =>
  [
    [null, graph] as const,
    ...Object.entries(capsules).map(([within, own]) => [within, own.graph] as const),
  ].flatMap(([within, { nodes }]) =>
    nodes.filter(({ type }) => type === capsuleType("capsule", name)).map((node) => ({ within, node })),
  );
