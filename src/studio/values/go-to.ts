import { PATH_SEPARATOR } from "@/core/capsules/flatten";
import type { StudioStore } from "../state/store";

/** Opens what a node lies in and chooses it. */
export function goTo(store: StudioStore, path: string): void {
  const parts = path.split(PATH_SEPARATOR);
  const { opened, openPath } = store.getState();
  const inside = parts.slice(0, -1);
  if (inside.join(PATH_SEPARATOR) !== opened.path.join(PATH_SEPARATOR)) openPath(inside);
  store.getState().select(parts.slice(-1));
}
