import { notFound } from "next/navigation";
import { database } from "@/server/database";
import { databaseTrouble } from "@/server/database-fault";
import { DamagedPiece as Damaged, lastReadable, readPiece, type StoredPiece } from "@/server/pieces";
import { DamagedPiece } from "@/shelf/damaged-piece";
import { Studio } from "@/studio/shell/studio";
import { TroublePage } from "@/ui/trouble-page";

export default async function PiecePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  let piece: StoredPiece | null;
  try {
    piece = readPiece(database(), id);
  } catch (error) {
    if (error instanceof Damaged)
      return (
        <DamagedPiece id={id} what={error.message} readable={lastReadable(database(), id)?.savedAt ?? null} />
      );
    const what = databaseTrouble(error);
    if (!what) throw error;
    return <TroublePage title="The piece cannot be opened" what={what} />;
  }
  if (!piece) notFound();
  return <Studio key={piece.id} piece={piece} />;
}
