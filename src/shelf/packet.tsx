import type { PieceSummary } from "@/server/pieces";
import { MOVING, movingPicture } from "@/ui/moving-picture";

/** A seed packet: flap with number and range, moving picture, label. The picture moves under the pointer. */
export function Packet({ piece, frames }: { piece: PieceSummary; frames: number }) {
  const picture =
    piece.thumbnailFrames !== null ? `/api/pieces/${piece.id}/thumbnail?revision=${piece.revision}` : null;
  return (
    <article className="packet overflow-hidden bg-card text-card-ink transition-transform group-hover:-translate-y-0.5">
      <div className="tabular flex items-center justify-between border-b border-dashed border-card-faint/40 px-3 py-1.5 pr-6 text-[10px] text-card-faint">
        <span>{touchedText(piece.touchedAt)}</span>
        <span>
          {piece.damaged ? "damaged" : `${piece.first}–${piece.last}${piece.loop ? " · loop" : ""}`}
        </span>
      </div>
      <div className={`h-[150px] ${MOVING}`} style={picture ? movingPicture(picture, frames) : undefined} />
      <div className="min-h-[68px] px-3 py-2">
        <h3 className="truncate font-display text-[15px] font-semibold">{piece.name}</h3>
        <p className="line-clamp-2 pr-5 text-12 text-card-faint leading-[15px]">
          {piece.damaged
            ? "Damaged: it cannot be opened as it is. Open it to see what can be brought back."
            : piece.about || "No description yet."}
        </p>
        {piece.tags.length > 0 && (
          <p className="mt-0.5 truncate pr-6 text-[10px] text-card-faint">{piece.tags.join(" · ")}</p>
        )}
      </div>
    </article>
  );
}

/** Day and time in the server's form, so that both renderings of the page agree. */
const touchedText = (iso: string): string => `${iso.slice(0, 10)} ${iso.slice(11, 16)}`;
