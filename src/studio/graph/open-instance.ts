import { parseCapsuleType } from "@/core/capsules/definitions";
import type { StudioStore } from "../state/store";

/** Goes into the capsule that a node is an instance of, if it is one. */
export function openInstance(store: StudioStore, node: string): void {
  const { opened, openPath } = store.getState();
  const type = opened.document.graph.nodes.find(({ id }) => id === node)?.type ?? "";
  if (parseCapsuleType(type)?.role === "capsule") openPath([...opened.path, node]);
}
