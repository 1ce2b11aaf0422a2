/**
 * Saves the document shortly after it changed; one save at a time. Every save ends in saved, waiting (it is tried again) or
 * refused. Every change is also kept in the browser until the server has it, and taken up again when the piece is opened.
 */
import { writeDocument } from "@/core/document/read";
import type { PieceDocument } from "@/core/document/schema";
import { faultText, readAnswer } from "@/ui/request";
import { forgetEdits, keepEdits } from "./kept-edits";
import type { StudioStore } from "./store";
import { takeUpEdits } from "./take-up-edits";

/** Milliseconds of quiet before a save, and at most this long after the first change. */
const QUIET = 400;
const LONGEST = 900;
const RETRY = 2000;
/** Milliseconds after which an answer is no longer waited for. */
const PATIENCE = 30_000;
/** Milliseconds between two copies to the browser's storage while a value is being dragged. */
const KEEP_EVERY = 150;

/** Starts saving; returns the function that stops it. */
export function startAutosave(store: StudioStore, startRevision: number): () => void {
  const saver = new Autosave(store, startRevision);
  return () => saver.stop();
}

interface SaveAnswer {
  readonly revision?: number;
  readonly faults?: readonly { readonly what: string }[];
}

class Autosave {
  private saved: PieceDocument;
  private changedAt = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private keeping: ReturnType<typeof setTimeout> | undefined;
  private sending = false;
  private stopped = false;
  private readonly unsubscribe: () => void;

  constructor(
    private readonly store: StudioStore,
    private revision: number,
  ) {
    this.saved = store.getState().document;
    this.unsubscribe = store.subscribe(({ document }, before) => {
      if (document !== before.document) this.changed();
    });
    window.addEventListener("pagehide", this.onLeave);
    void takeUpEdits(store, revision, {
      // Based on an older revision, they are shown, and the designer decides between the two.
      basedOn: (base) => {
        this.revision = base;
      },
      isStopped: () => this.stopped,
    });
  }

  stop(): void {
    this.onLeave();
    this.stopped = true;
    clearTimeout(this.timer);
    this.unsubscribe();
    window.removeEventListener("pagehide", this.onLeave);
  }

  private changed(): void {
    const { document, save, set } = this.store.getState();
    if (document === this.saved) return;
    this.keepSoon();
    if (save.kind === "conflict") return;
    this.changedAt ||= Date.now();
    if (this.sending) return;
    if (save.kind !== "unsaved" && save.kind !== "waiting") set({ save: { kind: "unsaved" } });
    this.schedule(Math.max(0, Math.min(QUIET, this.changedAt + LONGEST - Date.now())));
  }

  /** A copy in the browser shortly, however many steps a drag makes meanwhile. */
  private keepSoon(): void {
    this.keeping ??= setTimeout(() => this.keepNow(), KEEP_EVERY);
  }

  private keepNow(): void {
    clearTimeout(this.keeping);
    this.keeping = undefined;
    const { pieceId, document } = this.store.getState();
    if (document !== this.saved) void keepEdits(pieceId, { base: this.revision, document });
  }

  private schedule(delay: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.send(), delay);
  }

  private async send(): Promise<void> {
    const { document, set } = this.store.getState();
    if (this.sending || document === this.saved || this.stopped) return;
    this.sending = true;
    this.changedAt = 0;
    if (this.store.getState().save.kind !== "waiting") set({ save: { kind: "saving" } });
    // A network fault, an answer that is cut short and a server that is going down look the same: nobody knows whether it was
    // saved, so the edits stay here and are sent again.
    const answer = await this.put(document)
      .then((response) => readAnswer<SaveAnswer>(response))
      .catch(() => null);
    this.sending = false;
    if (this.stopped) return;
    if (!answer?.body || answer.status >= 500) this.wait(answer?.body ?? null);
    else if (answer.ok) this.hasSaved(document, answer.body.revision as number);
    else if (answer.status === 409) await this.conflict(document, answer.body.revision as number);
    else set({ save: { kind: "refused", what: faultText(answer.body) } });
  }

  /** @param body what the server says, if it says anything: that its disk is full, for one */
  private wait(body: SaveAnswer | null): void {
    const what = body?.faults?.length ? faultText(body) : null;
    this.store.getState().set({ save: { kind: "waiting", what } });
    this.schedule(RETRY);
  }

  /**
   * Someone saved a newer revision. It may have been this window, in a save whose answer never came back; then there is
   * nothing to decide.
   */
  private async conflict(document: PieceDocument, revision: number): Promise<void> {
    const { pieceId, set } = this.store.getState();
    const present = await fetch(`/api/pieces/${pieceId}`, { signal: AbortSignal.timeout(PATIENCE) })
      .then((response) => readAnswer<{ document: PieceDocument; revision: number }>(response))
      .catch(() => null);
    if (present?.ok && present.body && writeDocument(present.body.document) === writeDocument(document))
      this.hasSaved(document, present.body.revision);
    else set({ save: { kind: "conflict", revision } });
  }

  private hasSaved(document: PieceDocument, revision: number): void {
    this.revision = revision;
    this.saved = document;
    const { pieceId, document: present, set } = this.store.getState();
    if (present === document) {
      void forgetEdits(pieceId);
      set({ save: { kind: "saved" } });
    } else {
      void keepEdits(pieceId, { base: revision, document: present });
      set({ save: { kind: "unsaved" } });
      this.schedule(QUIET);
    }
  }

  private put(document: PieceDocument, leaving = false): Promise<Response> {
    return fetch(`/api/pieces/${this.store.getState().pieceId}`, {
      method: "PUT",
      keepalive: leaving,
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ base: this.revision, document }),
      signal: AbortSignal.timeout(PATIENCE),
    });
  }

  /** Leaving the page: what is not saved yet is sent on its way; the browser keeps it in any case. */
  private readonly onLeave = (): void => {
    const { document, save } = this.store.getState();
    this.keepNow();
    if (document === this.saved || this.sending || save.kind === "conflict") return;
    void this.put(document, true).catch(() => undefined);
  };
}
