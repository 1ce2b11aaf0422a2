/** A node comes into the graph with its links and with room for its card. */
import { applyEdit, type Edit } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import type { StudioStore } from "../state/store";
import { autoLinked, linkingEdit } from "./auto-link";
import { type Boxes, roomFor, roomForJoint } from "./card-places";
import { CARD_WIDTH, usualHeight } from "./card-size";
import { typeOf } from "./graph-edits";
import { guardedEdit } from "./guarded-edit";

/**
 * The node is one step, its links with the moves of other cards the next, so that undoing once takes the links away and keeps
 * the node. False when it was refused, which is then told.
 * @param edit that adds the node @param id of it @param boxes of all cards @param pointer where it goes if it stands by none
 */
export function addLinked(
  store: StudioStore,
  edit: Edit,
  id: string,
  boxes: Boxes,
  pointer: readonly [number, number],
): boolean {
  const { opened, selected } = store.getState();
  const alone = applyEdit(opened.document, edit).document;
  const linked = autoLinked(alone, id, selected.size === 1 ? [...selected][0] : null);
  const ontoOf = (node: string) =>
    (indexGraph(linked.document.graph).outOf.get(node) ?? []).map(({ to }) => to.node);
  const sizeOf = (node: string) => ({
    width: CARD_WIDTH,
    height: usualHeight(typeOf(linked.document, node)),
  });
  const joint = linked.document.graph.nodes.slice(alone.graph.nodes.length).at(0);
  const room = joint
    ? roomForJoint(sizeOf(id), sizeOf(joint.id), boxes, pointer, {
        beside: linked.after ?? "",
        onto: ontoOf(joint.id)[0] ?? "",
      })
    : roomFor(sizeOf(id), boxes, pointer, { ...linked, onto: ontoOf(id) });
  const moved =
    joint && "joint" in room ? { ...room.moved, [joint.id]: room.joint as [number, number] } : room.moved;

  const placed: Edit = { kind: "several", edits: [edit, { kind: "move-nodes", to: { [id]: room.at } }] };
  if (!guardedEdit(store, placed)) return false;
  const linking = linkingEdit(alone, linked.document);
  const edits: Edit[] = [
    ...(linking ? [linking] : []),
    ...(Object.keys(moved).length > 0 ? [{ kind: "move-nodes", to: moved } as const] : []),
  ];
  if (edits.length > 0) guardedEdit(store, { kind: "several", edits });
  store.getState().select([id]);
  return true;
}
