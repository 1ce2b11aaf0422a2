/** Everything the studio can do by name: for the search, the shortcuts list and the keyboard. */
import { nodesAsText } from "../graph/clipboard-edits";
import { duplicateEdit, removeEdit } from "../graph/graph-edits";
import { tidyEdit } from "../graph/tidy";
import { pasteText } from "../graph/use-clipboard";
import type { DrawMode } from "../stage/stage-view";
import type { StudioStore } from "../state/store";

export interface Action {
  readonly id: string;
  readonly title: string;
  /** As shown; `Mod` is Ctrl or ⌘. */
  readonly keys?: string;
  /** Handled by the part that has the pointer or focus, so only listed here. */
  readonly elsewhere?: boolean;
  readonly run: () => void;
}

export interface ActionHosts {
  readonly store: StudioStore;
  readonly frameAll: () => void;
  readonly open: (what: "search" | "link" | "shortcuts" | "take-away" | "versions") => void;
  readonly switchTheme: () => void;
}

export function actionsOf({ store, frameAll, open, switchTheme }: ActionHosts): Action[] {
  const state = () => store.getState();
  const step = (by: number) => {
    const { document, frame, setFrame, set } = state();
    set({ playing: false });
    setFrame(Math.min(document.settings.last, Math.max(document.settings.first, Math.round(frame) + by)));
  };
  const maximise = (area: "stage" | "graph") =>
    state().set({ maximised: state().maximised === area ? null : area });
  const draw = (mode: DrawMode) => state().set({ drawMode: mode });
  return [
    { id: "search", title: "Search everything", keys: "Mod+K", run: () => open("search") },
    { id: "add", title: "Add a node at the pointer", keys: "/", elsewhere: true, run: () => undefined },
    { id: "link", title: "Make or take away links of the chosen node", keys: "L", run: () => open("link") },
    { id: "undo", title: "Undo", keys: "Mod+Z", run: () => state().undo() },
    { id: "redo", title: "Redo", keys: "Mod+Shift+Z", run: () => state().redo() },
    {
      id: "play",
      title: "Play or pause",
      keys: "Space",
      run: () => state().set({ playing: !state().playing }),
    },
    { id: "next", title: "Next frame", keys: "ArrowRight", run: () => step(1) },
    { id: "previous", title: "Previous frame", keys: "ArrowLeft", run: () => step(-1) },
    { id: "first", title: "First frame", keys: "Home", run: () => step(Number.NEGATIVE_INFINITY) },
    { id: "last", title: "Last frame", keys: "End", run: () => step(Number.POSITIVE_INFINITY) },
    { id: "frame", title: "Frame everything on the stage", keys: "F", run: frameAll },
    { id: "bypass", title: "Pass by the chosen nodes", keys: "B", run: () => bypass(store) },
    { id: "duplicate", title: "Duplicate the chosen nodes", keys: "Mod+D", run: () => duplicate(store) },
    {
      id: "copy",
      title: "Copy the chosen nodes as text",
      keys: "Mod+C",
      elsewhere: true,
      run: () => void copyText(store),
    },
    {
      id: "cut",
      title: "Cut the chosen nodes",
      keys: "Mod+X",
      elsewhere: true,
      run: () => void copyText(store).then(() => remove(store)),
    },
    {
      id: "paste",
      title: "Paste nodes from the clipboard",
      keys: "Mod+V",
      elsewhere: true,
      run: () => void paste(store),
    },
    { id: "tidy", title: "Tidy the chosen nodes, or all", keys: "T", run: () => tidy(store) },
    {
      id: "select-all",
      title: "Choose all nodes",
      keys: "Mod+A",
      run: () => state().select(state().document.graph.nodes.map((n) => n.id)),
    },
    {
      id: "remove",
      title: "Delete what is chosen",
      keys: "Delete",
      elsewhere: true,
      run: () => remove(store),
    },
    { id: "stage", title: "Stage only, and back", keys: "1", run: () => maximise("stage") },
    { id: "graph", title: "Graph only, and back", keys: "2", run: () => maximise("graph") },
    { id: "lit", title: "Draw lit", run: () => draw("lit") },
    { id: "flat", title: "Draw flat", run: () => draw("flat") },
    { id: "lines", title: "Draw lines", run: () => draw("lines") },
    {
      id: "take-away",
      title: "Take away a picture, a 3D file or values",
      keys: "Mod+E",
      run: () => open("take-away"),
    },
    { id: "versions", title: "Earlier versions", run: () => open("versions") },
    { id: "theme", title: "Switch between night and day", run: switchTheme },
    { id: "shortcuts", title: "List the shortcuts", keys: "?", run: () => open("shortcuts") },
  ];
}

function bypass(store: StudioStore): void {
  const { document, selected, edit } = store.getState();
  const nodes = document.graph.nodes.filter((n) => selected.has(n.id));
  if (nodes.length === 0) return;
  const on = nodes.some((n) => !n.bypass);
  edit({ kind: "several", edits: nodes.map((n) => ({ kind: "set-bypass", node: n.id, bypass: on })) });
}

const copyText = (store: StudioStore): Promise<void> =>
  navigator.clipboard.writeText(nodesAsText(store.getState().document, store.getState().selected));

/** Beside the last node, as there is no pointer to go by. */
async function paste(store: StudioStore): Promise<void> {
  const text = await navigator.clipboard.readText().catch(() => "");
  const { document } = store.getState();
  const [x, y] = document.graph.nodes.at(-1)?.at ?? [0, 0];
  pasteText(store, text, [x + 80, y + 80]);
}

function tidy(store: StudioStore): void {
  const { document: piece, selected, edit } = store.getState();
  const cards = [...document.querySelectorAll<HTMLElement>(".react-flow__node")];
  const sizes = new Map(
    cards.map((card) => [card.dataset.id ?? "", [card.offsetWidth, card.offsetHeight] as const]),
  );
  const tidied = tidyEdit(piece, selected, sizes);
  if (tidied) edit(tidied);
}

function duplicate(store: StudioStore): void {
  const { document, selected, edit, select } = store.getState();
  if (selected.size === 0) return;
  const { ids, edit: change } = duplicateEdit(document, selected);
  edit(change);
  select(ids);
}

function remove(store: StudioStore): void {
  const { document, selected, edit, select } = store.getState();
  if (selected.size === 0) return;
  edit(removeEdit(document, selected, []));
  select([]);
}

/** The action that a key press means, if any. */
export function actionForKey(actions: readonly Action[], event: KeyboardEvent): Action | undefined {
  const pressed = [
    event.ctrlKey || event.metaKey ? "Mod+" : "",
    event.shiftKey && event.key !== "?" ? "Shift+" : "",
    event.key === " " ? "Space" : event.key.length === 1 ? event.key.toUpperCase() : event.key,
  ].join("");
  return actions.find((action) => !action.elsewhere && action.keys === pressed);
}
