import type { Edit } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";
import { type Linked, linkingEdit } from "./auto-link";
import { type Boxes, type Corner, roomFor, roomForJoint, type Size } from "./card-places";
import { usualSize } from "./card-size";
import { typeOf } from "./graph-edits";

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
  const ontoOf = (node: string) =>
    (indexGraph(document.graph).outOf.get(node) ?? []).map(({ to }) => to.node);
  const joint = document.graph.nodes.at(alone.graph.nodes.length);
  const { at, moved } = joint
    ? roomForJoint(size, { id: joint.id, ...usualSize(typeOf(document, joint.id)) }, boxes, pointer, {
        beside: stands.after ?? "",
        onto: ontoOf(joint.id)[0] ?? "",
      })
    : roomFor(size, boxes, pointer, { ...stands, onto: ontoOf(end) });
  const linking = linkingEdit(alone, document);
  if (!linking) return { at, link: null };
  const moves: Edit = { kind: "move-nodes", to: moved };
  return {
    at,
    link: Object.keys(moved).length > 0 ? { kind: "several", edits: [linking, moves] } : linking,
  };
}
