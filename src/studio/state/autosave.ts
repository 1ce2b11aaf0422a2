/** Saves the document shortly after it changed; one save at a time, tried again while the server is away. */
import type { PieceDocument } from "@/core/document/schema";
import type { StudioStore } from "./store";

/** Milliseconds of quiet before a save, and at most this long after the first change. */
const QUIET = 400;
const LONGEST = 900;
const RETRY = 2000;

/** Starts saving; returns the function that stops it. */
export function startAutosave(store: StudioStore, startRevision: number): () => void {
  let revision = startRevision;
  let saved: PieceDocument = store.getState().document;
  let changedAt = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sending = false;
  let stopped = false;

  const schedule = (delay: number) => {
    clearTimeout(timer);
    timer = setTimeout(send, delay);
  };

  const send = async () => {
    const { document, pieceId, set } = store.getState();
    if (sending || document === saved || stopped) return;
    sending = true;
    changedAt = 0;
    set({ save: { kind: "saving" } });
    let response: Response | null = null;
    try {
      response = await fetch(`/api/pieces/${pieceId}`, {
        method: "PUT",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ base: revision, document }),
      });
    } catch {
      // The network or the server; the edits stay here and are sent again.
    }
    sending = false;
    if (!response || response.status >= 500) {
      set({ save: { kind: "away" } });
      schedule(RETRY);
      return;
    }
    const answer = (await response.json()) as {
      revision?: number;
      faults?: { where?: string; what: string }[];
    };
    if (response.ok) {
      revision = answer.revision as number;
      saved = document;
      const current = store.getState().document === saved;
      set({ save: { kind: current ? "saved" : "unsaved" } });
      if (!current) schedule(QUIET);
    } else if (response.status === 409)
      set({ save: { kind: "conflict", revision: answer.revision as number } });
    else
      set({
        save: {
          kind: "refused",
          what: answer.faults?.map((f) => f.what).join(" ") ?? "The server refused it.",
        },
      });
  };

  const unsubscribe = store.subscribe(({ document, save }, before) => {
    if (document === before.document || save.kind === "conflict") return;
    changedAt ||= Date.now();
    if (save.kind !== "unsaved" && !sending) store.getState().set({ save: { kind: "unsaved" } });
    if (!sending) schedule(Math.max(0, Math.min(QUIET, changedAt + LONGEST - Date.now())));
  });

  /** Leaving the page: what is not saved yet is sent on its way. */
  const onLeave = () => {
    const { document, pieceId } = store.getState();
    if (document === saved || sending) return;
    void fetch(`/api/pieces/${pieceId}`, {
      method: "PUT",
      keepalive: true,
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ base: revision, document }),
    }).catch(() => undefined);
  };
  window.addEventListener("pagehide", onLeave);

  return () => {
    onLeave();
    stopped = true;
    clearTimeout(timer);
    unsubscribe();
    window.removeEventListener("pagehide", onLeave);
  };
}
