/**
 * Saves the document shortly after it changed; one save at a time, tried again while the server is away. Every
 * change is also kept in the browser until the server has it, and taken up again when the piece is opened.
 */
import { validateDocument, writeDocument } from "@/core/document/read";
import type { PieceDocument } from "@/core/document/schema";
import { faultText } from "@/ui/request";
import { forgetEdits, keepEdits, keptEdits } from "./kept-edits";
import type { StudioStore } from "./store";

/** Milliseconds of quiet before a save, and at most this long after the first change. */
const QUIET = 400;
const LONGEST = 900;
const RETRY = 2000;
/** Milliseconds between two copies to the browser's storage while a value is being dragged. */
const KEEP_EVERY = 150;

/** Starts saving; returns the function that stops it. */
export function startAutosave(store: StudioStore, startRevision: number): () => void {
  const saver = new Autosave(store, startRevision);
  return () => saver.stop();
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
    void this.takeUp();
  }

  stop(): void {
    this.onLeave();
    this.stopped = true;
    clearTimeout(this.timer);
    this.unsubscribe();
    window.removeEventListener("pagehide", this.onLeave);
  }

  /** Edits left from an earlier visit, when the server did not get them. */
  private async takeUp(): Promise<void> {
    const { pieceId, document } = this.store.getState();
    const kept = await keptEdits(pieceId);
    const read = validateDocument(kept?.document);
    if (!kept || !read.ok || this.stopped || this.store.getState().document !== document) return;
    if (writeDocument(read.document) === writeDocument(document)) {
      void forgetEdits(pieceId);
      return;
    }
    const newer = kept.base !== this.revision;
    // Based on an older revision, they are shown, and the designer decides between the two.
    this.revision = kept.base;
    const { editPiece, set } = this.store.getState();
    editPiece({ kind: "replace", document: read.document });
    if (!newer) set({ notice: "Edits from your last visit had not been saved; they are back." });
  }

  private changed(): void {
    const { document, save, set } = this.store.getState();
    if (document === this.saved) return;
    this.keepSoon();
    if (save.kind === "conflict") return;
    this.changedAt ||= Date.now();
    if (this.sending) return;
    if (save.kind !== "unsaved" && save.kind !== "away") set({ save: { kind: "unsaved" } });
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
    if (this.store.getState().save.kind !== "away") set({ save: { kind: "saving" } });
    // A network fault and a server that is going down look the same: the edits stay here and are sent again.
    const response = await this.put(document).catch(() => null);
    this.sending = false;
    if (this.stopped) return;
    if (!response || response.status >= 500) {
      set({ save: { kind: "away" } });
      this.schedule(RETRY);
      return;
    }
    const answer = (await response.json()) as { revision?: number; faults?: { what: string }[] };
    if (response.ok) this.hasSaved(document, answer.revision as number);
    else if (response.status === 409) await this.conflict(document, answer.revision as number);
    else
      set({
        save: {
          kind: "refused",
          what: faultText(answer),
        },
      });
  }

  /**
   * Someone saved a newer revision. It may have been this window, in a save that was sent on leaving and whose
   * answer never came back; then there is nothing to decide.
   */
  private async conflict(document: PieceDocument, revision: number): Promise<void> {
    const { pieceId, set } = this.store.getState();
    const answer = await fetch(`/api/pieces/${pieceId}`).catch(() => null);
    const present = answer?.ok
      ? ((await answer.json()) as { document: PieceDocument; revision: number })
      : null;
    if (present && writeDocument(present.document) === writeDocument(document))
      this.hasSaved(document, present.revision);
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
