import { packPiece } from "@/server/bundle";
import { database } from "@/server/database";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { readPiece } from "@/server/pieces";
import { fileStem } from "@/ui/download";

/** The piece with its files as a .zip. */
export const GET = route<{ id: string }>((_request, { id }) => {
  const piece = readPiece(database(), id);
  if (!piece) throw new HttpFault(404, "There is no such piece; it may have been deleted.");
  const bytes = packPiece(database(), piece.document);
  return new Response(new Uint8Array(bytes), {
    headers: {
      "content-type": "application/zip",
      "content-disposition": `attachment; filename="${fileStem(piece.document.name)}.zip"`,
    },
  });
});
