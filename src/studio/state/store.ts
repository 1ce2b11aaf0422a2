/** The state of one open studio. Document changes go through `edit`; everything else is view state. */
import { createContext, useContext } from "react";
import { createStore, type StoreApi, useStore } from "zustand";
import type { Edit } from "@/core/document/edits";
import { applyEdit } from "@/core/document/edits";
import type { PieceDocument, View } from "@/core/document/schema";
import type { EvaluationReport } from "@/core/evaluate/report";
import type { Sending } from "@/ui/request";
import type { DrawMode } from "../stage/stage-view";
import { closeGroup, EMPTY_HISTORY, type History, perform, redo, undo } from "./history";

export type SaveState =
  | { readonly kind: "saved" }
  | { readonly kind: "saving" }
  | { readonly kind: "unsaved" }
  /** The server does not answer; saving is tried again. */
  | { readonly kind: "away" }
  /** Another window saved a newer revision; nothing here is saved until the designer decides. */
  | { readonly kind: "conflict"; readonly revision: number }
  | { readonly kind: "refused"; readonly what: string };

/** Where the adder was asked for: on the screen, and what the new node should be linked with. */
export interface AdderRequest {
  readonly screen: readonly [number, number];
  readonly link?: { readonly address: string; readonly end: "from" | "to" };
}

export interface StudioState {
  readonly pieceId: string;
  readonly document: PieceDocument;
  readonly history: History;
  readonly save: SaveState;
  readonly frame: number;
  readonly playing: boolean;
  readonly busy: boolean;
  readonly report: EvaluationReport | null;
  readonly selected: ReadonlySet<string>;
  readonly adder: AdderRequest | null;
  readonly drawMode: DrawMode;
  /** The piece took too long when it was opened; nothing is worked out until the designer asks. */
  readonly paused: boolean;
  /** A file on its way to the server. */
  readonly sending: Sending | null;
  /** A message for the designer that belongs to no node. */
  readonly notice: string | null;
  /** Area that fills the studio, if any. */
  readonly maximised: "stage" | "graph" | null;

  edit(edit: Edit, group?: string): void;
  endGroup(): void;
  undo(): void;
  redo(): void;
  /** The camera is saved, but moving it is no step of the history. */
  setView(view: View): void;
  set(
    state: Partial<
      Pick<
        StudioState,
        | "history"
        | "save"
        | "playing"
        | "busy"
        | "report"
        | "adder"
        | "drawMode"
        | "notice"
        | "maximised"
        | "paused"
        | "sending"
      >
    >,
  ): void;
  setFrame(frame: number): void;
  select(nodes: Iterable<string>): void;
}

export type StudioStore = StoreApi<StudioState>;

export function createStudioStore(pieceId: string, document: PieceDocument): StudioStore {
  return createStore<StudioState>((set, get) => ({
    pieceId,
    document,
    history: EMPTY_HISTORY,
    save: { kind: "saved" },
    frame: document.settings.first,
    playing: false,
    busy: false,
    report: null,
    selected: new Set(),
    adder: null,
    drawMode: "lit",
    paused: false,
    sending: null,
    notice: null,
    maximised: null,

    edit: (edit, group) => set(perform(get().document, get().history, edit, group)),
    endGroup: () => set({ history: closeGroup(get().history) }),
    undo: () => set(undo(get().document, get().history) ?? {}),
    redo: () => set(redo(get().document, get().history) ?? {}),
    setView: (view) => set({ document: applyEdit(get().document, { kind: "set-view", view }).document }),
    set,
    setFrame: (frame) => set({ frame }),
    select: (nodes) => set({ selected: new Set(nodes) }),
  }));
}

export const StudioContext = createContext<StudioStore | null>(null);

export function useStudioStore(): StudioStore {
  const store = useContext(StudioContext);
  if (!store) throw new Error("This part of the studio is outside of a StudioContext.");
  return store;
}

export const useStudio = <T>(pick: (state: StudioState) => T): T => useStore(useStudioStore(), pick);
