/** The pieces of the shelf, and what can be done with them. */
import { useRouter } from "next/navigation";
import { useCallback, useState } from "react";
import { writeDocument } from "@/core/document/read";
import { blankDocument, type PieceDocument } from "@/core/document/schema";
import type { PieceSummary } from "@/server/pieces";
import { resumeTour } from "@/studio/state/kept-tour";
import { download, fileStem } from "@/ui/download";
import { jsonBody, requestJson, type Sending, SendingStopped, sendFile } from "@/ui/request";
import { useThumbnails } from "./use-thumbnails";

/** Name of the piece in which the tour is taken. */
const TOUR = "Tour: ring of something";

/** A piece with nothing but a Stage. */
const blankPiece = (): PieceDocument => ({
  ...blankDocument("Untitled piece"),
  graph: { nodes: [{ id: "stage", type: "stage", at: [300, 0], set: {} }], links: [] },
});

export function usePieces(initial: readonly PieceSummary[]) {
  const router = useRouter();
  const [pieces, setPieces] = useState(initial);
  const [fault, setFault] = useState<string | null>(null);
  const [deleted, setDeleted] = useState<PieceSummary | null>(null);
  const [sending, setSending] = useState<Sending | null>(null);
  useThumbnails(initial, setPieces);

  const create = useCallback(
    async (document: unknown) => {
      const { id } = await requestJson<{ id: string }>("/api/pieces", jsonBody("POST", { document }));
      router.push(`/piece/${id}`);
    },
    [router],
  );
  /** Runs what a menu asks for; what goes wrong is told above the pieces. */
  const attempt = async (work: () => Promise<void>) => {
    setFault(null);
    await work().catch((error: Error) => setFault(error.message));
  };
  const documentOf = async (id: string): Promise<PieceDocument> =>
    (await requestJson<{ document: PieceDocument }>(`/api/pieces/${id}`)).document;
  const begin = async (starter: string) =>
    create((await requestJson<{ document: PieceDocument }>(`/api/starters/${starter}`)).document);
  /** A piece of one's own to take the tour in; the same one again when it was left. */
  const tour = async () => {
    const begun = pieces.find(({ name }) => name === TOUR);
    const document = (await requestJson<{ document: PieceDocument }>("/api/starters/1-ring")).document;
    const { id } =
      begun ??
      (await requestJson<{ id: string }>(
        "/api/pieces",
        jsonBody("POST", { document: { ...document, name: TOUR } }),
      ));
    resumeTour(id);
    router.push(`/piece/${id}`);
  };
  const duplicate = async (id: string) => {
    const document = await documentOf(id);
    await create({ ...document, name: `${document.name.slice(0, 110)} (copy)` });
  };
  const saveFile = async (id: string) => {
    const document = await documentOf(id);
    download(
      new Blob([writeDocument(document)], { type: "application/json" }),
      `${fileStem(document.name)}.glemmo.json`,
    );
  };
  const remove = async (piece: PieceSummary) => {
    await requestJson(`/api/pieces/${piece.id}`, { method: "DELETE" });
    setPieces((before) => before.filter((p) => p.id !== piece.id));
    setDeleted(piece);
  };
  const bringBack = async (piece: PieceSummary) => {
    await requestJson(`/api/pieces/${piece.id}/restore`, { method: "POST" });
    setPieces((before) => [piece, ...before]);
    setDeleted(null);
  };
  const setTags = async (piece: PieceSummary, tags: readonly string[]) => {
    const saved = await requestJson<{ revision: number; tags: string[] }>(
      `/api/pieces/${piece.id}/tags`,
      jsonBody("PUT", { tags }),
    );
    setPieces((before) =>
      before.map((p) => (p.id === piece.id ? { ...p, tags: saved.tags, revision: saved.revision } : p)),
    );
  };
  const openFile = async (file: File) => {
    try {
      const { id } = await sendFile<{ id: string }>("/api/bundles", file, setSending);
      router.push(`/piece/${id}`);
    } catch (error) {
      if (!(error instanceof SendingStopped)) throw error;
    }
  };
  const blank = () => create(blankPiece());
  return {
    pieces,
    fault,
    deleted,
    sending,
    attempt,
    begin,
    blank,
    tour,
    duplicate,
    saveFile,
    remove,
    bringBack,
    setTags,
    openFile,
  };
}

export type Pieces = ReturnType<typeof usePieces>;
