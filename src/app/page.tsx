import { database } from "@/server/database";
import { listPieces } from "@/server/pieces";
import { Shelf } from "@/shelf/shelf";

export default function ShelfPage() {
  return <Shelf initial={listPieces(database())} />;
}
