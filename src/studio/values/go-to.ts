import { WAY } from "@/core/capsules/flatten";
import type { StudioStore } from "../state/store";

/** Opens what a node lies in and chooses it. */
export function goTo(store: StudioStore, way: string): void {
  const parts = way.split(WAY);
  const { opened, openWay } = store.getState();
  const inside = parts.slice(0, -1);
  if (inside.join(WAY) !== opened.way.join(WAY)) openWay(inside);
  store.getState().select(parts.slice(-1));
}
