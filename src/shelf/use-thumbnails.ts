import { useEffect } from "react";
import type { PieceDocument } from "@/core/document/schema";
import type { PieceSummary } from "@/server/pieces";
import { THUMBNAIL_FRAMES, ThumbnailMaker } from "@/studio/stage/thumbnail";

/** Makes the pictures that are missing or older than their piece, one after the other. */
export function useThumbnails(
  pieces: readonly PieceSummary[],
  setPieces: (update: (before: readonly PieceSummary[]) => readonly PieceSummary[]) => void,
): void {
  useEffect(() => {
    const missing = pieces.filter((piece) => piece.thumbnailFrames === null && !piece.damaged);
    if (missing.length === 0) return;
    let stopped = false;
    let maker: ThumbnailMaker;
    try {
      maker = new ThumbnailMaker();
    } catch {
      // No WebGL: the packets keep their plain pattern.
      return;
    }
    const work = async () => {
      for (const { id } of missing) {
        if (stopped) return;
        const answer = await fetch(`/api/pieces/${id}`);
        if (!answer.ok) continue;
        const { document, revision } = (await answer.json()) as { document: PieceDocument; revision: number };
        const strip = await maker.make(document);
        if (!strip || stopped) continue;
        const saved = await fetch(
          `/api/pieces/${id}/thumbnail?revision=${revision}&frames=${THUMBNAIL_FRAMES}`,
          {
            method: "PUT",
            headers: { "content-type": strip.type },
            body: strip,
          },
        );
        if (saved.ok)
          setPieces((before) =>
            before.map((p) => (p.id === id ? { ...p, revision, thumbnailFrames: THUMBNAIL_FRAMES } : p)),
          );
      }
    };
    void work()
      .catch(() => undefined)
      .finally(() => maker.dispose());
    return () => {
      stopped = true;
    };
  }, [pieces, setPieces]);
}
