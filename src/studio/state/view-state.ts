/** What the studio shows and how, and what it waits for: everything in the store that an edit of the document does not change. */
import type { PieceDocument } from "@/core/document/schema";
import type { EvaluationReport } from "@/core/evaluate/report";
import type { Trace } from "@/core/inspect/trace";
import type { Setting } from "@/core/nodes/ports";
import type { Peek, Queries, QueryKind } from "@/engine/protocol";
import type { CapsuleSummary } from "@/server/capsules";
import type { Sending } from "@/ui/request";
import type { Recipe } from "../graph/adder/recipe-edits";
import type { Box } from "../graph/opening-view";
import type { DrawMode } from "../stage/mesh-materials";
import { EMPTY_HISTORY, type History } from "./history";
import type { Arrangement } from "./kept-areas";

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

export const DRAWERS = ["values", "trace", "over-time", "cost"] as const;
export type Drawer = (typeof DRAWERS)[number];

export const PACES = ["live", "on release", "on demand"] as const;
export type Pace = (typeof PACES)[number];

/** Elements of an output, by the path of its node. */
export interface Picked {
  readonly node: string;
  readonly port: string;
  /** Their numbers at the frame that is shown, −1 for those that are not there. */
  readonly elements: readonly number[];
  /** By which they are followed from frame to frame; null until they are known, and where there are none. */
  readonly ids: readonly number[] | null;
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

export interface ViewState {
  readonly history: History;
  readonly save: SaveState;
  /** Of the last evaluation that said something new of any node; which frame was worked out last is told by `Time.shown`. */
  readonly report: EvaluationReport | null;
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
  /** The stage is seen through the piece's camera, where it has one. */
  readonly through: boolean;
  /** What that camera sees is shown in a corner while the stage is looked at freely. */
  readonly second: boolean;
  /** Area that fills the studio, if any; "play" is the stage with the dials. */
  readonly maximised: "stage" | "graph" | "play" | null;
  /** The tour is shown. */
  readonly touring: boolean;
  /** How the areas lie to each other. */
  readonly arrangement: Arrangement;
  /** The graph is called over the stage, where it is a sheet. */
  readonly sheetOut: boolean;
}

/** As a studio opens. */
export const FIRST_VIEW: ViewState = {
  history: EMPTY_HISTORY,
  save: { kind: "saved" },
  report: null,
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
  through: true,
  second: true,
  maximised: null,
  touring: false,
  arrangement: "beside",
  sheetOut: true,
};
