/** Choosing elements, on the stage or in the table, and following the last one. */

import { definitionOf } from "@/core/capsules/definitions";
import { flatten } from "@/core/capsules/flatten";
import { indexGraph } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";
import { stageOf } from "../graph/graph-edits";
import type { StudioState, StudioStore } from "../state/store";

export interface Source {
  readonly node: string;
  readonly port: string;
}

/** The output that the stage shows: what is peeked at, else the result. Null without a Stage node. */
export function shownSource({ peek, document }: Pick<StudioState, "peek" | "document">): Source | null {
  if (peek) return peek;
  const stage = stageOf(document);
  return stage ? { node: stage.id, port: "shape" } : null;
}

/** Names of the outputs of a node by its path, the main one first. */
export function outputsAt(document: PieceDocument, path: string): string[] {
  const flat = flatten(document);
  const type = indexGraph(document.graph).nodes.get(path)?.type ?? "";
  const inside = flat.instances.get(path)?.outputs;
  const definition =
    flat.definitions.get(path) ?? definitionOf(document, type) ?? flat.definitions.get(inside ?? "");
  return Object.keys(definition?.outputs ?? {});
}

/** Chooses elements; `add` keeps those of the same output that were chosen, or takes one of them off. */
export function pickElement(store: StudioStore, source: Source, element: number, add: boolean): void {
  const { picked, set } = store.getState();
  const same = picked?.node === source.node && picked.port === source.port;
  const before = add && same ? picked.elements.filter((e) => e >= 0) : [];
  const elements = before.includes(element) ? before.filter((e) => e !== element) : [...before, element];
  set({ picked: elements.length > 0 ? { ...source, elements, ids: null } : null });
}
