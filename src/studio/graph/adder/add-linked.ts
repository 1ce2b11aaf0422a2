/** What is new comes into the graph with its links. */
import { applyEdit, type Edit } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import { chosenNode, type StudioStore } from "../../state/store";
import type { Boxes, Corner } from "../cards/card-places";
import { cardSize, usualSize } from "../cards/card-size";
import { guardedEdit } from "../guarded-edit";
import { autoLinked } from "../links/auto-link";
import { linkedWithRoom } from "../links/linked-with-room";

/**
 * What is new is one step, its links the next, so that undoing once takes the links away and keeps it. False when it was
 * refused, which is then told.
 */
export function performLinked(
  store: StudioStore,
  add: Edit,
  link: Edit | null,
  ids: readonly string[],
): boolean {
  if (!guardedEdit(store, add)) return false;
  if (link) store.getState().edit(link);
  store.getState().select(ids);
  return true;
}

/** @param edit that adds the node */
export function addLinked(
  store: StudioStore,
  edit: Edit,
  id: string,
  boxes: Boxes,
  pointer: Corner,
): boolean {
  const state = store.getState();
  const alone = applyEdit(state.opened.document, edit).document;
  const linked = autoLinked(alone, id, chosenNode(state));
  const node = indexGraph(linked.document.graph).nodes.get(id);
  const size = node ? cardSize(linked.document, node) : usualSize(undefined);
  const { at, link } = linkedWithRoom(alone, linked, id, size, boxes, pointer);
  const placed: Edit = { kind: "several", edits: [edit, { kind: "move-nodes", to: { [id]: at } }] };
  return performLinked(store, placed, link, [id]);
}
