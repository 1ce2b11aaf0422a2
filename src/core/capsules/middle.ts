import type { GraphNode } from "../document/schema";

/** The middle of where nodes stand. */
export function middleOf(nodes: readonly GraphNode[]): [number, number] {
  const span = (axis: 0 | 1) => {
    const at = nodes.map((node) => node.at[axis]);
    return Math.round((Math.min(...at) + Math.max(...at)) / 2);
  };
  return [span(0), span(1)];
}
