/** The state of one open studio. Document changes go through `edit`; everything else is view state. */
import { createContext, useContext } from "react";
import { createStore, type StoreApi, useStore } from "zustand";
import { definitionOf } from "@/core/capsules/definitions";
import { applyEdit, type Edit } from "@/core/document/edits";
import { indexGraph } from "@/core/document/links";
import { overfull } from "@/core/document/overfull";
import type { GraphNode, PieceDocument, View } from "@/core/document/schema";
import type { EvaluationReport, NodeReport } from "@/core/evaluate/report";
import type { Trace } from "@/core/inspect/trace";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import type { Peek, Queries, QueryKind } from "@/engine/protocol";
import type { CapsuleSummary } from "@/server/capsules";
import type { Sending } from "@/ui/request";
import type { Recipe } from "../graph/adder/recipe-edits";
import type { Box } from "../graph/opening-view";
import type { DrawMode } from "../stage/mesh-materials";
import { amend, type Changed, closeGroup, EMPTY_HISTORY, type History, perform, redo, undo } from "./history";
import type { Arrangement } from "./kept-areas";
import { keyedEdit } from "./keyed-edits";
import { type Opened, openedAt } from "./opened";
import { createTimeStore, type Time, type TimeStore } from "./time";

export type SaveState =
  | { readonly kind: "saved" }
  | { readonly kind: "saving" }
  | { readonly kind: "unsaved" }
  /** The server does not answer, or cannot save now; it is tried again. `what`: why, if it says. */
  | { readonly kind: "waiting"; readonly what: string | null }
  /** Another window saved a newer revision; nothing here is saved until the designer decides. */
  | { readonly kind: "conflict"; readonly revision: number }
  | { readonly kind: "refused"; readonly what: string };

/** Where the adder was asked for: on the screen, and what the new node should be linked with. */
export interface AdderRequest {
  readonly screen: readonly [number, number];
  readonly link?: { readonly address: string; readonly end: "from" | "to" };
  /** Typed already. */
  readonly words?: string;
  /** An input that cannot take the link as it is: the new node stands between. */
  readonly into?: string;
}

export const DRAWERS = ["values", "trace", "cost"] as const;
export type Drawer = (typeof DRAWERS)[number];

export const PACES = ["live", "on release", "on demand"] as const;
export type Pace = (typeof PACES)[number];

/** Elements of an output, by the path of its node. */
export interface Picked {
  readonly node: string;
  readonly port: string;
  readonly elements: readonly number[];
}

export type Query = <K extends QueryKind>(
  kind: K,
  ask: Queries[K]["ask"],
) => Promise<Queries[K]["answer"] | null>;

/** What the stage shows a second time, beside the piece as it is. */
export interface Compared {
  readonly title: string;
  readonly document: PieceDocument | null;
  /** Values of dials over the present piece, when it is no document of its own. */
  readonly values: Readonly<Record<string, Setting>>;
}

export interface GraphView {
  /** Shows all of it. */
  whole(): void;
  /** Shows the chosen nodes, or all when none is. */
  chosen(): void;
  /** Shows these nodes, if there are any. */
  show(nodes: readonly string[]): void;
  /** The view before the present one. */
  back(): void;
  /** Width to height of the area. */
  shape(): number;
  /** Asks what to add, at the pointer. @param words typed already */
  add(words?: string): void;
  /** Where all cards lie, by their nodes. */
  boxes(): ReadonlyMap<string, Box>;
  /** Puts a note area behind what is chosen, or at the pointer. */
  note(): void;
}

export interface Offer {
  /** The notice that it belongs to. */
  readonly notice: string;
  readonly label: string;
  readonly run: () => void;
}

export interface StudioState {
  readonly pieceId: string;
  readonly document: PieceDocument;
  /** The capsules that are open, and the piece as it is seen in there; the piece itself when none is. */
  readonly opened: Opened;
  readonly history: History;
  readonly save: SaveState;
  /** Of the last evaluation that said something new of any node; which frame was worked out last is told by `Time.shown`. */
  readonly report: EvaluationReport | null;
  readonly selected: ReadonlySet<string>;
  /** The output that the stage shows instead of the result, by the path of its node. */
  readonly peek: Peek | null;
  /** Elements that are chosen; the last one is traced. */
  readonly picked: Picked | null;
  /** The traced element's way, as last worked out. */
  readonly trace: Trace | null;
  /** What is open under the stage. */
  readonly drawer: Drawer | null;
  /** Asks the engine about the present frame; null while there is none. */
  readonly query: Query | null;
  /** Cards are tinted by their share of the time. */
  readonly heat: boolean;
  /** When the piece is worked out again: with every change, when a drag ends, or when asked. */
  readonly pace: Pace;
  /** Every value that is set becomes a key at the frame that is shown. */
  readonly autoKey: boolean;
  /** The rows of keyed inputs are shown above the strip. */
  readonly tracksOpen: boolean;
  /** There are changes that have not been worked out. */
  readonly stale: boolean;
  /** Capsules that every piece may use. */
  readonly library: readonly CapsuleSummary[];
  /** Small ready graphs for needs. */
  readonly recipes: readonly Recipe[];
  /** Values of dials that are shown beside the present ones. */
  readonly compared: Compared | null;
  /** How the graph is looked at; null while none is drawn. */
  readonly graphView: GraphView | null;
  /** Nodes whose cards show all inputs, by their paths. */
  readonly unfolded: ReadonlySet<string>;
  /** Nodes that what is read just now speaks of. */
  readonly spokenOf: ReadonlySet<string>;
  /** The map of the graph is shown. */
  readonly miniMap: boolean;
  /** Addresses of vectors whose parts keep their proportions, with the paths of their nodes. */
  readonly locked: ReadonlySet<string>;
  readonly adder: AdderRequest | null;
  readonly drawMode: DrawMode;
  /** The piece took too long when it was opened; nothing is worked out until the designer asks. */
  readonly paused: boolean;
  /** A file on its way to the server. */
  readonly sending: Sending | null;
  /** A message for the designer that belongs to no node. */
  readonly notice: string | null;
  /** What the notice offers to do. */
  readonly offer: Offer | null;
  /** The ways of clones over the range are drawn on the stage. */
  readonly paths: boolean;
  /** Area that fills the studio, if any; "play" is the stage with the dials. */
  readonly maximised: "stage" | "graph" | "play" | null;
  /** The tour is shown. */
  readonly touring: boolean;
  /** How the areas lie to each other. */
  readonly arrangement: Arrangement;
  /** The graph is called over the stage, where it is a sheet. */
  readonly sheetOut: boolean;

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
  set(
    state: Partial<
      Pick<
        StudioState,
        | "history"
        | "save"
        | "report"
        | "adder"
        | "drawMode"
        | "notice"
        | "offer"
        | "paths"
        | "maximised"
        | "touring"
        | "arrangement"
        | "sheetOut"
        | "paused"
        | "sending"
        | "locked"
        | "library"
        | "recipes"
        | "peek"
        | "picked"
        | "trace"
        | "drawer"
        | "query"
        | "heat"
        | "pace"
        | "stale"
        | "autoKey"
        | "tracksOpen"
        | "compared"
        | "graphView"
        | "unfolded"
        | "spokenOf"
        | "miniMap"
      >
    >,
  ): void;
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
      history: EMPTY_HISTORY,
      save: { kind: "saved" },
      report: null,
      selected: new Set(),
      locked: new Set(),
      peek: null,
      picked: null,
      trace: null,
      drawer: null,
      query: null,
      heat: false,
      pace: "live",
      autoKey: false,
      tracksOpen: false,
      stale: false,
      library: [],
      recipes: [],
      compared: null,
      graphView: null,
      unfolded: new Set(),
      spokenOf: new Set(),
      miniMap: false,
      adder: null,
      drawMode: "lit",
      paused: false,
      sending: null,
      notice: null,
      offer: null,
      paths: false,
      maximised: null,
      touring: false,
      arrangement: "beside",
      sheetOut: true,

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
