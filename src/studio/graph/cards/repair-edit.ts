import type { Edit } from "@/core/document/edits";
import { joinAddress } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";
import type { Remedy } from "@/core/nodes/define";
import { addNodeEdit } from "../graph-edits";

/** Units of the graph from a node to the one that is put after it. */
const AFTER = 270;

/** What the button of a repair does. */
export function repairEdit(document: PieceDocument, node: string, repair: Remedy): Edit {
  if ("bypass" in repair) return { kind: "set-bypass", node, bypass: true };
  if ("input" in repair) {
    const { input, value, also = [] } = repair;
    const sets = [{ input, value }, ...also].map((set): Edit => ({ kind: "set-input", node, ...set }));
    return sets.length === 1 ? sets[0] : { kind: "several", edits: sets };
  }
  const from = joinAddress(node, repair.port);
  const taken = document.graph.links.filter((link) => link.from === from);
  const [x, y] = document.graph.nodes.find(({ id }) => id === node)?.at ?? [0, 0];
  const added = addNodeEdit(document, repair.insert, [x + AFTER, y], { address: from, end: "from" });
  return {
    kind: "several",
    edits: [
      { kind: "remove", links: taken },
      added.edit,
      {
        kind: "add",
        links: taken.map((link, i) => ({
          item: { ...link, from: joinAddress(added.id, "shape") },
          index: document.graph.links.length - taken.length + 1 + i,
        })),
      },
    ],
  };
}
