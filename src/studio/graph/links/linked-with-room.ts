import type { Edit } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";
import {
  type Boxes,
  type Corner,
  roomFor,
  roomForGrown,
  roomForJoint,
  type Size,
} from "../cards/card-places";
import { cardSize } from "../cards/card-size";
import type { Box } from "../opening-view";
import { type Linked, linkingEdit } from "./auto-link";

/**
 * Where what is new goes, and the edit that links it, with the moves of cards that make room; null when there is nothing to link.
 * @param alone the document with what is new, without links to the rest @param end its node that leads on
 * @param size around all of its cards @param boxes of all cards that were there @param pointer where it goes if it stands by none
 */
export function linkedWithRoom(
  alone: PieceDocument,
  { document, ...stands }: Linked,
  end: string,
  size: Size,
  boxes: Boxes,
  pointer: Corner,
): { readonly at: Corner; readonly link: Edit | null } {
  const grownTo = grownBoxes(alone, document, boxes);
  const down = roomForGrown(
    boxes,
    grownTo,
    [...boxes.keys()].filter((id) => grownTo.get(id) !== boxes.get(id)),
  );
  const now = new Map([...grownTo].map(([id, box]) => [id, movedTo(box, down[id])]));
  const ontoOf = (node: string) =>
    (indexGraph(document.graph).outOf.get(node) ?? []).map(({ to }) => to.node);
  const joint = document.graph.nodes.at(alone.graph.nodes.length);
  const { at, moved } = joint
    ? roomForJoint(size, { id: joint.id, ...cardSize(document, joint) }, now, pointer, {
        beside: stands.after ?? "",
        onto: ontoOf(joint.id)[0] ?? "",
      })
    : roomFor(size, now, pointer, { ...stands, onto: ontoOf(end) });
  const linking = linkingEdit(alone, document);
  if (!linking) return { at, link: null };
  const moves: Edit = { kind: "move-nodes", to: { ...down, ...moved } };
  return {
    at,
    link: Object.keys(moves.to).length > 0 ? { kind: "several", edits: [linking, moves] } : linking,
  };
}

/** The cards with the rows that their new links bring. */
function grownBoxes(alone: PieceDocument, document: PieceDocument, boxes: Boxes): Boxes {
  const { nodes } = indexGraph(document.graph);
  return new Map(
    [...boxes].map(([id, box]) => {
      const node = nodes.get(id);
      const by = node ? cardSize(document, node).height - cardSize(alone, node).height : 0;
      return [id, by > 0 ? { ...box, height: box.height + by } : box];
    }),
  );
}

const movedTo = (box: Box, corner: Corner | undefined): Box =>
  corner ? { ...box, x: corner[0], y: corner[1] } : box;
