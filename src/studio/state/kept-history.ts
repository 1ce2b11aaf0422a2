/** Undo and redo, kept in the browser so that they survive a reload of the same document. */
import { get, set } from "idb-keyval";
import { writeDocument } from "@/core/document/read";
import { EMPTY_HISTORY, type History } from "./history";
import type { StudioStore } from "./store";

/** Steps kept; more would make every change slow to store. */
const STEPS = 100;
/** Milliseconds of quiet before it is stored. */
const QUIET = 300;

const key = (piece: string): string => `history ${piece}`;

interface KeptHistory extends History {
  /** The document that the history leads to, as text; another one makes it void. */
  readonly document: string;
}

/** Takes the kept history up and keeps it from then on; returns the function that stops it. */
export function keepHistory(store: StudioStore): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const { pieceId } = store.getState();
  const write = () => {
    const { document, history } = store.getState();
    const kept: KeptHistory = {
      document: writeDocument(document),
      past: history.past.slice(-STEPS),
      future: history.future.slice(-STEPS),
    };
    // Without browser storage undo lasts as long as the page.
    void set(key(pieceId), kept).catch(() => undefined);
  };
  void get<KeptHistory>(key(pieceId))
    .then((kept) => {
      const { document, history, set: update } = store.getState();
      if (!kept || history !== EMPTY_HISTORY || kept.document !== writeDocument(document)) return;
      update({ history: { past: kept.past, future: kept.future } });
    })
    .catch(() => undefined);
  const unsubscribe = store.subscribe((state, before) => {
    if (state.history === before.history) return;
    clearTimeout(timer);
    timer = setTimeout(write, QUIET);
  });
  return () => {
    clearTimeout(timer);
    unsubscribe();
  };
}
