import { database } from "@/server/database";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { restorePiece } from "@/server/pieces";

/** Undoes a deletion. */
export const POST = route<{ id: string }>((_request, { id }) => {
  if (!restorePiece(database(), id)) throw new HttpFault(404, "There is no deleted piece to bring back.");
  return new Response(null, { status: 204 });
});
