/** The store of one open studio: the piece, what is open of it, and edits. Document changes go through `edit`; all else is view state. */
import { createContext, useContext } from "react";
import { createStore, type StoreApi, useStore } from "zustand";
import { definitionOf } from "@/core/capsules/definitions";
import { applyEdit, type Edit } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import { overfull } from "@/core/document/overfull";
import type { GraphNode, PieceDocument, View } from "@/core/document/schema";
import type { NodeReport } from "@/core/evaluate/report";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import { amend, type Changed, closeGroup, perform, redo, undo } from "./history";
import { keyedEdit } from "./keyed-edits";
import { type Opened, openedAt } from "./opened";
import { createTimeStore, type Time, type TimeStore } from "./time";
import { FIRST_VIEW, type ViewState } from "./view-state";

export interface StudioState extends ViewState {
  readonly pieceId: string;
  readonly document: PieceDocument;
  /** The capsules that are open, and the piece as it is seen in there; the piece itself when none is. */
  readonly opened: Opened;
  readonly selected: ReadonlySet<string>;

  /** An edit of what is open. */
  edit(edit: Edit, group?: string): void;
  /** An edit of the piece, whatever is open. */
  editPiece(edit: Edit, group?: string): void;
  /** An edit of what is open that belongs to the last step. */
  amend(edit: Edit): void;
  /** Opens the capsules that these instances are of, one in the other. */
  openPath(instances: readonly string[]): void;
  endGroup(): void;
  undo(): void;
  redo(): void;
  /** The camera is saved, but moving it is no step of the history. */
  setView(view: View): void;
  set(state: Partial<ViewState>): void;
  select(nodes: Iterable<string>): void;
}

export interface StudioStore extends StoreApi<StudioState> {
  /** What changes while it plays. */
  readonly time: TimeStore;
}

/**
 * The chosen nodes that have the same input, none of them linked, when the node is one of them: they are changed together. Else
 * the node alone.
 */
export function alike(
  { opened: { document }, selected }: StudioState,
  node: string,
  input: string,
): string[] {
  if (selected.size < 2 || !selected.has(node)) return [node];
  const { nodes, into } = indexGraph(document.graph);
  const own = definitionOf(document, nodes.get(node)?.type ?? "")?.inputs[input] as AnyInput | undefined;
  return [...selected].filter((id) => {
    const other: AnyInput | undefined = definitionOf(document, nodes.get(id)?.type ?? "")?.inputs[input];
    return (
      id === node ||
      (other?.kind === own?.kind &&
        other?.choices?.join() === own?.choices?.join() &&
        !into.get(id)?.has(input))
    );
  });
}

/** The one node that is chosen; null when none or several are. */
export const chosenNode = ({ selected }: Pick<StudioState, "selected">): string | null =>
  selected.size === 1 ? [...selected][0] : null;

export function createStudioStore(pieceId: string, document: PieceDocument): StudioStore {
  const time = createTimeStore(document.settings.first);
  const store = createStore<StudioState>((set, get) => {
    /** What is open stays so, as far as it is still there. */
    const take = (changed: Changed | null) => {
      if (!changed) return;
      const { opened } = get();
      const now = openedAt(changed.document, opened.path);
      set({ ...changed, opened: now, ...(now.prefix === opened.prefix ? {} : { selected: new Set() }) });
    };
    return {
      pieceId,
      document,
      opened: openedAt(document, []),
      selected: new Set(),
      ...FIRST_VIEW,

      edit: (edit, group) => {
        const { capsule } = get().opened;
        get().editPiece(capsule === null ? edit : { kind: "within", capsule, edit }, group);
      },
      editPiece: (edit, group) => {
        const { document, history, autoKey } = get();
        const { frame } = time.getState();
        const changed = perform(document, history, keyedEdit(document, edit, frame, autoKey), group);
        // What could not be saved is not made in the first place.
        const notice = overfull(changed.document);
        if (notice) set({ notice });
        else take(changed);
      },
      amend: (edit) => {
        const { opened, document, history } = get();
        const whole: Edit =
          opened.capsule === null ? edit : { kind: "within", capsule: opened.capsule, edit };
        take(amend(document, history, whole));
      },
      openPath: (instances) =>
        set({ opened: openedAt(get().document, instances), selected: new Set(), adder: null }),
      endGroup: () => set({ history: closeGroup(get().history) }),
      undo: () => take(undo(get().document, get().history)),
      redo: () => take(redo(get().document, get().history)),
      setView: (view) =>
        take({
          document: applyEdit(get().document, { kind: "set-view", view }).document,
          history: get().history,
        }),
      set,
      select: (nodes) => set({ selected: new Set(nodes) }),
    };
  });
  return Object.assign(store, { time });
}

/** A node of what is open, and what is known of its type. */
export const nodeOf = (state: StudioState, id: string): GraphNode | undefined =>
  indexGraph(state.opened.document.graph).nodes.get(id);

export const definitionOfNode = (state: StudioState, id: string): AnyNode | undefined =>
  definitionOf(state.document, nodeOf(state, id)?.type ?? "");

/** What the last evaluation said of a node of what is open. */
export const reportOf = (state: StudioState, id: string): NodeReport | undefined =>
  state.report?.nodes[state.opened.prefix + id];

/** The frame, for what is keyed; 0 for all else, so that it is not drawn anew while it plays. */
export const useKeyedFrame = (keyed: unknown): number => useTime((t) => (keyed ? t.frame : 0));

export const StudioContext = createContext<StudioStore | null>(null);

export function useStudioStore(): StudioStore {
  const store = useContext(StudioContext);
  if (!store) throw new Error("This part of the studio is outside of a StudioContext.");
  return store;
}

export const useStudio = <T>(pick: (state: StudioState) => T): T => useStore(useStudioStore(), pick);

export const useTime = <T>(pick: (time: Time) => T): T => useStore(useStudioStore().time, pick);
