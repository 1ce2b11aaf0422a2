import { useEffect } from "react";
import type { Action } from "../state/action";
import { actionForKey } from "./actions";
import { isPressedByKeys } from "./use-keys-after-clicks";

/** Runs actions by their keys, wherever those are not for something else: what is typed, chosen from a list, or pressed. */
export function useActionKeys(actions: readonly Action[]): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const typing = target.closest("input, textarea, [contenteditable]") !== null;
      const action = actionForKey(actions, event);
      if (!action || (typing && !action.keys?.startsWith("Mod+K"))) return;
      if (action.id !== "search" && target.closest("[role=dialog], [role=listbox], [role=menu]")) return;
      if (["Space", "Enter"].includes(action.keys ?? "") && isPressedByKeys(target)) return;
      if (action.keys?.startsWith("Arrow") && target.closest(".react-flow__node")) return;
      event.preventDefault();
      action.run();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [actions]);
}
