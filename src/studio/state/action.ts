/** What the studio can do by name; the list of it is made by the shell and read by menus everywhere. */
import { createContext } from "react";

export interface Action {
  readonly id: string;
  readonly title: string;
  /** As shown; `Mod` is Ctrl or ⌘. */
  readonly keys?: string;
  /** Handled by the part that has the pointer or focus, so only listed here. */
  readonly elsewhere?: boolean;
  readonly run: () => void;
}

export const Actions = createContext<readonly Action[]>([]);

export const keyText = (keys: string): string =>
  keys
    .replace("Mod", "Ctrl")
    .replace("ArrowRight", "→")
    .replace("ArrowLeft", "←")
    .replace("ArrowDown", "↓")
    .replaceAll("+", " ");
