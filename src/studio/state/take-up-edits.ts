/** Edits that were left unsaved by an earlier visit, or by tabs that were closed: taken up, or offered. */
import { faultsText } from "@/core/document/fault";
import { validateDocument, writeDocument } from "@/core/document/read";
import type { PieceDocument } from "@/core/document/schema";
import { download, fileStem } from "@/ui/download";
import { jsonBody, requestJson } from "@/ui/request";
import { forgetLeftOver, type LeftOver, leftOver } from "./kept-edits";
import type { StudioStore } from "./store";

interface Host {
  /** What is taken up is based on this revision. */
  basedOn(revision: number): void;
  isStopped(): boolean;
}

/** The newest ones that apply become the piece as it is shown; of all others it is said what can be done with them. */
export async function takeUpEdits(store: StudioStore, revision: number, host: Host): Promise<void> {
  const { pieceId, document } = store.getState();
  const others: LeftOver[] = [];
  let isTaken = false;
  for (const kept of await leftOver(pieceId)) {
    const read = validateDocument(kept.document);
    if (read.ok && writeDocument(read.document) === writeDocument(document)) {
      // The server has got them after all.
      void forgetLeftOver(kept);
      continue;
    }
    if (host.isStopped() || store.getState().document !== document) return;
    if (!read.ok || isTaken) {
      others.push(kept);
      continue;
    }
    isTaken = true;
    host.basedOn(kept.base);
    const { editPiece, set } = store.getState();
    editPiece({ kind: "replace", document: read.document });
    // They are this tab's from now on.
    void forgetLeftOver(kept);
    if (kept.base === revision)
      set({ notice: "Edits from your last visit had not been saved; they are back." });
  }
  offer(store, others);
}

/** One after the other: each stays in the browser until something has been done with it. */
function offer(store: StudioStore, [kept, ...others]: readonly LeftOver[]): void {
  if (!kept) return;
  const { document, set } = store.getState();
  const read = validateDocument(kept.document);
  const when = kept.at > 0 ? ` of ${new Date(kept.at).toLocaleString()}` : "";
  // It is said for as long as they are kept: who closes the page meanwhile is told again.
  const done = async () => {
    await forgetLeftOver(kept);
    set({ notice: null, offer: null });
    offer(store, others);
  };
  const failed = (error: Error) =>
    set({ notice: `They could not be opened, and are still kept: ${error.message}` });
  if (!read.ok) {
    const notice = `Edits${when} had not been saved and do not apply any more: ${faultsText(read.faults.slice(0, 1))}. They are kept.`;
    const run = () => {
      const text = JSON.stringify(kept.document, null, 2);
      download(new Blob([text], { type: "application/json" }), `${fileStem(document.name)}-unsaved.json`);
      void done();
    };
    set({ notice, offer: { notice, label: "Take them away as a file", run } });
    return;
  }
  const notice = `Another tab left edits${when} that had not been saved. They are kept.`;
  const run = () => void openApart(read.document).then(done, failed);
  set({ notice, offer: { notice, label: "Open them as a piece", run } });
}

async function openApart(document: PieceDocument): Promise<void> {
  const name = `${document.name.slice(0, 108)} (left over)`;
  const { id } = await requestJson<{ id: string }>(
    "/api/pieces",
    jsonBody("POST", { document: { ...document, name } }),
  );
  window.open(`/piece/${id}`, "_blank");
}
