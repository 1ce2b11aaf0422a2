import { useEffect } from "react";
import type { StudioStore } from "../state/store";
import { nodesAsText, pasteEdit } from "./clipboard-edits";
import { removeEdit } from "./graph-edits";
import { guardedEdit } from "./guarded-edit";

/** Pastes and chooses what was pasted, or says why it cannot. */
export function pasteText(store: StudioStore, text: string, middle: readonly [number, number]): void {
  const { opened, select, set } = store.getState();
  const pasted = pasteEdit(opened.document, text, middle);
  if (!pasted.ok) {
    set({ notice: pasted.what });
    return;
  }
  if (guardedEdit(store, pasted.edit)) select(pasted.ids);
}

/** Copy, cut and paste of nodes by the system's clipboard. `place` gives the middle of what is pasted. */
export function useClipboard(store: StudioStore, place: () => readonly [number, number]): void {
  useEffect(() => {
    const elsewhere = (event: ClipboardEvent) =>
      (event.target as HTMLElement).closest?.("input, textarea, [contenteditable], [role=dialog]") ||
      (getSelection()?.isCollapsed ?? true) === false;
    const onCopy = (event: ClipboardEvent) => {
      const { opened, selected, edit, select } = store.getState();
      if (elsewhere(event) || selected.size === 0) return;
      event.clipboardData?.setData("text/plain", nodesAsText(opened.document, selected));
      event.preventDefault();
      if (event.type !== "cut") return;
      edit(removeEdit(opened.document, selected, []));
      select([]);
    };
    const onPaste = (event: ClipboardEvent) => {
      if (elsewhere(event)) return;
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (text.trim() === "") return;
      event.preventDefault();
      pasteText(store, text, place());
    };
    window.addEventListener("copy", onCopy);
    window.addEventListener("cut", onCopy);
    window.addEventListener("paste", onPaste);
    return () => {
      window.removeEventListener("copy", onCopy);
      window.removeEventListener("cut", onCopy);
      window.removeEventListener("paste", onPaste);
    };
  }, [store, place]);
}
