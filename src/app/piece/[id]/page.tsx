import { notFound } from "next/navigation";
import { database } from "@/server/database";
import { readPiece } from "@/server/pieces";
import { Studio } from "@/studio/shell/studio";

export default async function PiecePage({ params }: { params: Promise<{ id: string }> }) {
  const piece = readPiece(database(), (await params).id);
  if (!piece) notFound();
  return <Studio key={piece.id} piece={piece} />;
}
