import { database } from "@/server/database";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { createPiece, lastReadable } from "@/server/pieces";

/** Makes a piece of the newest earlier version of a damaged one that can still be read; the damaged one stays. */
export const POST = route<{ id: string }>((_request, { id }) => {
  const found = lastReadable(database(), id);
  if (!found)
    throw new HttpFault(
      404,
      "No earlier version of this piece can be read. Take its text away as it is stored.",
    );
  const name = `${found.document.name.slice(0, 108)} (recovered)`;
  const piece = createPiece(database(), { ...found.document, name });
  return Response.json({ id: piece.id, revision: piece.revision, savedAt: found.savedAt }, { status: 201 });
});
