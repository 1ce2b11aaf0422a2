import { database } from "@/server/database";
import { databaseTrouble } from "@/server/database-fault";
import { shippedStarters } from "@/server/demo";
import { listPieces } from "@/server/pieces";
import { Shelf } from "@/shelf/shelf";
import { TroublePage } from "@/ui/trouble-page";

export default function ShelfPage() {
  try {
    const starters = [...shippedStarters()].map(([id, { name, about }]) => ({ id, name, about }));
    return <Shelf initial={listPieces(database())} starters={starters} />;
  } catch (error) {
    const what = databaseTrouble(error);
    if (!what) throw error;
    return <TroublePage title="The shelf cannot be opened" what={what} />;
  }
}
