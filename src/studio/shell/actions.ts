/** Everything the studio can do by name: for the search, the shortcuts list and the keyboard. */

import { packEdit } from "@/core/capsules/pack";
import { loopedEdit } from "@/core/capsules/step-loop";
import { unpackEdit } from "@/core/capsules/unpack";
import type { Edit } from "@/core/document/edits";
import type { PieceDocument } from "@/core/document/schema";
import type { CardSize } from "../graph/cards/card-size";
import { swapEdit } from "../graph/cards/input-edits";
import { nodesAsText } from "../graph/clipboard-edits";
import { duplicateEdit } from "../graph/graph-edits";
import { alignEdit } from "../graph/layout/align";
import { tidyEdit } from "../graph/layout/tidy";
import { tidyEngine } from "../graph/layout/tidy-engine";
import { pullOutEdit, removeHealedEdit } from "../graph/links/link-edits";
import { openInstance } from "../graph/open-instance";
import { pasteText } from "../graph/use-clipboard";
import { cameraHere } from "../stage/camera-edits";
import { DEFAULT_VIEW } from "../stage/default-view";
import type { DrawMode } from "../stage/mesh-materials";
import type { Action } from "../state/action";
import { ARRANGEMENTS, type Arrangement, keepAreas } from "../state/kept-areas";
import { TIME_UNITS } from "../state/playback";
import { chosenNode, definitionOfNode, type StudioStore } from "../state/store";
import type { Drawer } from "../state/view-state";
import { loopWords, pairWords } from "../timeline/loop-words";

export type Dialogs = "search" | "link" | "shortcuts" | "take-away" | "versions" | "library" | "history";

export interface ActionHosts {
  readonly store: StudioStore;
  readonly frameAll: () => void;
  readonly open: (what: Dialogs) => void;
  readonly switchTheme: () => void;
  /** Works out what is paused or waits. */
  readonly resume: () => void;
  /** Works the range out ahead, or stops that. */
  readonly workRange: () => void;
}

export function actionsOf({ store, frameAll, open, switchTheme, resume, workRange }: ActionHosts): Action[] {
  const state = () => store.getState();
  const step = (by: number) => {
    const { first, last } = state().document.settings;
    const { frame } = store.time.getState();
    store.time.setState({ playing: false, frame: Math.min(last, Math.max(first, Math.round(frame) + by)) });
  };
  const maximise = (area: "stage" | "graph" | "play") =>
    state().set({ maximised: state().maximised === area ? null : area });
  const drawer = (name: Drawer) => state().set({ drawer: state().drawer === name ? null : name });
  const draw = (mode: DrawMode) => state().set({ drawMode: mode });
  return [
    { id: "search", title: "Search everything", keys: "Mod+K", run: () => open("search") },
    {
      id: "add",
      title: "Add a node at the pointer",
      keys: "/",
      elsewhere: true,
      run: () => state().graphView?.add(),
    },
    {
      id: "note",
      title: "Put a note area behind what is chosen",
      keys: "N",
      run: () => state().graphView?.note(),
    },
    { id: "link", title: "Make or take away links of the chosen node", keys: "L", run: () => open("link") },
    { id: "undo", title: "Undo", keys: "Mod+Z", run: () => state().undo() },
    { id: "redo", title: "Redo", keys: "Mod+Shift+Z", run: () => state().redo() },
    {
      id: "play",
      title: "Play or pause",
      keys: "Space",
      run: () => store.time.setState(({ playing }) => ({ playing: !playing })),
    },
    { id: "next", title: "Next frame", keys: "ArrowRight", run: () => step(1) },
    { id: "previous", title: "Previous frame", keys: "ArrowLeft", run: () => step(-1) },
    { id: "first", title: "First frame", keys: "Home", run: () => step(Number.NEGATIVE_INFINITY) },
    { id: "last", title: "Last frame", keys: "End", run: () => step(Number.POSITIVE_INFINITY) },
    { id: "frame", title: "Frame everything on the stage", keys: "F", run: frameAll },
    {
      id: "through",
      title: "Look through the camera, or freely",
      keys: "Q",
      run: () => state().set({ through: !state().through }),
    },
    {
      id: "camera-here",
      title: "Put the camera where I look",
      keys: "Shift+V",
      run: () => {
        const { document, selected, editPiece, set } = state();
        const edit = cameraHere(document, document.view ?? DEFAULT_VIEW, selected);
        if (edit) editPiece(edit);
        set({ through: true });
      },
    },
    { id: "whole-graph", title: "Show the whole graph", keys: "G", run: () => state().graphView?.whole() },
    {
      id: "chosen-graph",
      title: "Show the chosen nodes in the graph",
      keys: "Shift+G",
      run: () => state().graphView?.chosen(),
    },
    {
      id: "last-view",
      title: "Back to the last view of the graph",
      keys: "Z",
      run: () => state().graphView?.back(),
    },
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
    { id: "pack", title: "Pack the chosen nodes into a capsule", keys: "C", run: () => pack(store, false) },
    {
      id: "pack-loop",
      title: "Pack the chosen nodes into a Step loop",
      keys: "Shift+C",
      run: () => pack(store, true),
    },
    { id: "unpack", title: "Unpack the chosen capsule", keys: "U", run: () => unpack(store) },
    { id: "open", title: "Open the chosen capsule", keys: "Enter", run: () => openChosen(store) },
    {
      id: "leave",
      title: "Leave the open capsule",
      keys: "Escape",
      run: () => {
        const { opened, openPath, select, set, peek } = state();
        if (peek) set({ peek: null });
        else if (opened.path.length > 0) {
          const inside = opened.path[opened.path.length - 1];
          openPath(opened.path.slice(0, -1));
          select([inside]);
        } else select([]);
      },
    },
    { id: "library", title: "Library of capsules", keys: "K", run: () => open("library") },
    {
      id: "pull",
      title: "Pull the chosen nodes out of their links",
      keys: "O",
      run: () => change(store, pullOutEdit),
    },
    { id: "swap", title: "Swap the first two inputs of the chosen node", keys: "X", run: () => swap(store) },
    {
      id: "column",
      title: "Align the chosen nodes in a column",
      keys: "Shift+ArrowDown",
      run: () => align(store, 0),
    },
    {
      id: "row",
      title: "Align the chosen nodes in a row",
      keys: "Shift+ArrowRight",
      run: () => align(store, 1),
    },
    {
      id: "peek",
      title: "Peek at the chosen node, and back",
      keys: "P",
      run: () => peekAtChosen(store),
    },
    {
      id: "map",
      title: "Map of the graph",
      keys: "M",
      run: () => state().set({ miniMap: !state().miniMap }),
    },
    { id: "values", title: "Values of the elements", keys: "V", run: () => drawer("values") },
    { id: "trace", title: "Trace of one element", keys: "W", run: () => drawer("trace") },
    { id: "over-time", title: "Numbers of an element over time", run: () => drawer("over-time") },
    { id: "cost", title: "What takes how long", keys: "Y", run: () => drawer("cost") },
    { id: "heat", title: "Heat on the cards", run: () => state().set({ heat: !state().heat }) },
    {
      id: "work-range",
      title: "Work out the range, or stop that",
      keys: "Shift+R",
      run: workRange,
    },
    { id: "resume", title: "Work out what waits", keys: "R", run: resume },
    { id: "tidy", title: "Tidy the chosen nodes, or all", keys: "T", run: () => void tidy(store) },
    {
      id: "select-all",
      title: "Choose all nodes",
      keys: "Mod+A",
      run: () => state().select(state().opened.document.graph.nodes.map((n) => n.id)),
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
    { id: "play-layout", title: "Stage and dials only, and back", keys: "3", run: () => maximise("play") },
    {
      id: "arrange",
      title: "Lay the areas out another way: beside, under, as a sheet",
      keys: "D",
      run: () => {
        const next = ARRANGEMENTS.indexOf(state().arrangement) + 1;
        arrange(store, ARRANGEMENTS[next % ARRANGEMENTS.length]);
      },
    },
    {
      id: "sheet",
      title: "Call the graph over the stage, and send it away",
      keys: "E",
      run: () => {
        if (state().arrangement !== "sheet") arrange(store, "sheet");
        else state().set({ sheetOut: !state().sheetOut });
      },
    },
    {
      id: "tracks",
      title: "Rows of keys, and away",
      keys: "S",
      run: () => store.getState().set({ tracksOpen: !store.getState().tracksOpen }),
    },
    {
      id: "auto-key",
      title: "Every value that is set becomes a key, and no longer",
      keys: "A",
      run: () => store.getState().set({ autoKey: !store.getState().autoKey }),
    },
    ...TIME_UNITS.map((timeUnit) => ({
      id: `time-${timeUnit}`,
      title: `Tell time in ${timeUnit}`,
      run: () => store.time.setState({ timeUnit }),
    })),
    { id: "loop", title: "Check that the loop closes", run: () => void checkLoop(store) },
    { id: "pair", title: "Find two frames that look alike", run: () => void findPair(store) },
    {
      id: "paths",
      title: "Draw the ways of clones over the range, and no longer",
      run: () => store.getState().set({ paths: !store.getState().paths }),
    },
    { id: "lit", title: "Draw lit", run: () => draw("lit") },
    { id: "flat", title: "Draw flat", run: () => draw("flat") },
    { id: "lines", title: "Draw lines", run: () => draw("lines") },
    { id: "checker", title: "Draw a checker by UVs", run: () => draw("checker") },
    {
      id: "take-away",
      title: "Take away a picture, a 3D file or values",
      keys: "Mod+E",
      run: () => open("take-away"),
    },
    { id: "versions", title: "Earlier versions", run: () => open("versions") },
    { id: "history", title: "List of what can be undone", keys: "H", run: () => open("history") },
    { id: "theme", title: "Switch between night and day", run: switchTheme },
    { id: "tour", title: "Take the tour of six steps", run: () => state().set({ touring: true }) },
    { id: "shortcuts", title: "List the shortcuts", keys: "?", run: () => open("shortcuts") },
  ];
}

/** Lays the areas out, and remembers it for the piece. */
export function arrange(store: StudioStore, arrangement: Arrangement): void {
  store.getState().set({ arrangement, sheetOut: true, maximised: null });
  keepAreas(store.getState().pieceId, { arrangement });
}

/** Says how far the frame after the last is from the first. */
async function checkLoop(store: StudioStore): Promise<void> {
  const { query, document, set } = store.getState();
  const { first, last } = document.settings;
  const gap = await query?.("loop", { first, last });
  set({
    notice: gap
      ? loopWords(gap, first, last)
      : "The loop cannot be checked while the piece does not work out.",
  });
}

/** Says which two frames of the range would close a loop best, and offers it as the range. */
async function findPair(store: StudioStore): Promise<void> {
  const { query, document, set } = store.getState();
  const { first, last } = document.settings;
  set({ notice: `Frames ${first} to ${last} are compared with each other …` });
  const pair = await query?.("pair", { first, last }).catch(() => null);
  if (!pair) {
    set({ notice: "No two frames can be compared: the piece does not work out, or its counts change." });
    return;
  }
  const notice = pairWords(pair.gap, pair.first, pair.second);
  const settings = { first: pair.first, last: pair.second - 1 };
  if (settings.first === first && settings.last === last) {
    set({ notice: `${notice} That is the range as it is.`, offer: null });
    return;
  }
  const run = () => {
    const state = store.getState();
    state.editPiece({ kind: "set-settings", settings });
    state.set({ notice: null, offer: null });
  };
  set({ notice, offer: { notice, label: `Play ${settings.first} to ${settings.last}`, run } });
}

function bypass(store: StudioStore): void {
  const { opened, selected, edit } = store.getState();
  const nodes = opened.document.graph.nodes.filter((n) => selected.has(n.id));
  if (nodes.length === 0) return;
  const on = nodes.some((n) => !n.bypass);
  edit({ kind: "several", edits: nodes.map((n) => ({ kind: "set-bypass", node: n.id, bypass: on })) });
}

const copyText = (store: StudioStore): Promise<void> =>
  navigator.clipboard.writeText(nodesAsText(store.getState().opened.document, store.getState().selected));

/** Beside the last node, as there is no pointer to go by. */
async function paste(store: StudioStore): Promise<void> {
  const text = await navigator.clipboard.readText().catch(() => "");
  const { opened } = store.getState();
  const [x, y] = opened.document.graph.nodes.at(-1)?.at ?? [0, 0];
  pasteText(store, text, [x + 80, y + 80]);
}

/** Milliseconds until cards that were moved stand where they should. */
const PLACED = 60;

/** What was moved is seen afterwards. */
async function tidy(store: StudioStore): Promise<void> {
  const { opened, selected, graphView, set } = store.getState();
  const shape = graphView?.shape() ?? 1;
  const tidied = await tidyEngine()
    .then((engine) => tidyEdit(engine, opened.document, selected, cardSizes(store), shape))
    .catch(() => undefined);
  if (tidied === undefined) {
    set({ notice: "The cards could not be laid out just now; nothing was moved." });
    return;
  }
  // What was changed meanwhile is not moved by what was worked out for something else.
  if (!tidied || store.getState().opened.document.graph !== opened.document.graph) return;
  store.getState().edit(tidied);
  // The cards stand at their new places a moment later; frames may be long in coming while the stage draws.
  setTimeout(() => store.getState().graphView?.whole(), PLACED);
}

/** Width and height of every card that is drawn, in units of the graph. */
const cardSizes = (store: StudioStore): ReadonlyMap<string, CardSize> =>
  new Map([...(store.getState().graphView?.boxes() ?? [])].filter(([, { height }]) => height > 0));

function align(store: StudioStore, axis: 0 | 1): void {
  const { opened, selected, edit } = store.getState();
  const aligned = alignEdit(opened.document, selected, cardSizes(store), axis);
  if (aligned) edit(aligned);
}

/** An edit of the chosen nodes, where there is anything to do. */
function change(
  store: StudioStore,
  make: (document: PieceDocument, chosen: ReadonlySet<string>) => Edit | null,
): void {
  const { opened, selected, edit } = store.getState();
  const made = make(opened.document, selected);
  if (made) edit(made);
}

function swap(store: StudioStore): void {
  const node = chosenNode(store.getState());
  if (node) change(store, (document) => swapEdit(document, node));
}

function openChosen(store: StudioStore): void {
  const node = chosenNode(store.getState());
  if (node) openInstance(store, node);
}

/** @param loop whether what leaves the capsule comes back at the next step */
function pack(store: StudioStore, loop: boolean): void {
  const { opened, selected, edit, select, set } = store.getState();
  const packed = packEdit(opened.document, selected, loop ? "Step loop" : "New capsule");
  if (!packed.ok) {
    set({ notice: packed.what });
    return;
  }
  edit(loop ? loopedEdit(opened.document, packed.edit, packed.name) : packed.edit);
  select([packed.node]);
}

function unpack(store: StudioStore): void {
  const { opened, edit, select, set } = store.getState();
  const unpacked = unpackEdit(opened.document, chosenNode(store.getState()) ?? "");
  if (!unpacked.ok) {
    set({ notice: unpacked.what });
    return;
  }
  edit(unpacked.edit);
  select(unpacked.nodes);
}

function peekAtChosen(store: StudioStore): void {
  const { peek, opened, set } = store.getState();
  const node = chosenNode(store.getState());
  const definition = node && definitionOfNode(store.getState(), node);
  const port = definition && Object.keys(definition.outputs)[0];
  const path = opened.prefix + node;
  set({ peek: port && peek?.node !== path ? { node: path, port } : null });
}

function duplicate(store: StudioStore): void {
  const { opened, selected, edit, select } = store.getState();
  if (selected.size === 0) return;
  const { ids, edit: change } = duplicateEdit(opened.document, selected);
  edit(change);
  select(ids);
}

function remove(store: StudioStore): void {
  const { opened, selected, edit, select } = store.getState();
  if (selected.size === 0) return;
  edit(removeHealedEdit(opened.document, selected, []));
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
