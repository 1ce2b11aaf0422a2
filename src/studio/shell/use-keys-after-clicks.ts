import { useEffect } from "react";

/** What a key would press again when the pointer has left the focus on it. */
const PRESSED = "button, a, summary, [role=switch], [role=combobox], [role=tab], [role=checkbox]";
/** What is dragged may be moved further by keys, so it keeps the focus; see below. */
const GRIP = "[data-grip]";
/** In these the focus belongs to what is open. */
const OPEN = "[role=dialog], [role=alertdialog], [role=menu], [role=listbox]";
/** Text that may be chosen, as to be copied. */
const TEXT = "input, textarea, [contenteditable], [role=alert], [role=status], [data-selectable]";

/** Whether Space and Enter press what has the focus: not so what the pointer only took hold of to drag it. */
export const isPressedByKeys = (target: Element): boolean =>
  target.closest(`${PRESSED}, [role=spinbutton], [role=row]`) !== null &&
  !target.matches(`${GRIP}:not(:focus-visible)`);

/**
 * After a click the studio's keys work at once: the focus does not stay on what the pointer has pressed, nor come back to it
 * when what it opened is closed. Whoever goes by the keyboard keeps it. A click elsewhere lets go of chosen text.
 */
export function useKeysAfterClicks(): void {
  useEffect(() => {
    const clicked = new WeakSet<Element>();
    let byTab = false;
    const leave = (element: HTMLElement) => {
      if (document.activeElement === element && !element.closest(OPEN)) element.blur();
    };
    const onPointer = (event: PointerEvent) => {
      byTab = false;
      const target = event.target as Element;
      const pressed = target.closest(PRESSED);
      if (pressed && !pressed.matches(GRIP)) clicked.add(pressed);
      if (!target.closest(TEXT)) getSelection()?.removeAllRanges();
    };
    const onKey = ({ key }: KeyboardEvent) => {
      byTab = key === "Tab";
    };
    const onFocus = ({ target }: FocusEvent) => {
      if (!(target instanceof HTMLElement) || !clicked.has(target)) return;
      if (byTab) clicked.delete(target);
      // What is pressed reads the focus itself at first. Who has come to it by Tab before this runs keeps it.
      else setTimeout(() => clicked.has(target) && leave(target), 0);
    };
    const onClick = ({ target }: MouseEvent) => {
      const pressed = (target as Element).closest(PRESSED);
      if (pressed instanceof HTMLElement && clicked.has(pressed)) leave(pressed);
    };
    window.addEventListener("pointerdown", onPointer, true);
    window.addEventListener("keydown", onKey, true);
    window.addEventListener("focusin", onFocus, true);
    window.addEventListener("click", onClick);
    return () => {
      window.removeEventListener("pointerdown", onPointer, true);
      window.removeEventListener("keydown", onKey, true);
      window.removeEventListener("focusin", onFocus, true);
      window.removeEventListener("click", onClick);
    };
  }, []);
}
