import { z } from "zod";
import { tagsSchema } from "@/core/document/schema";
import { database } from "@/server/database";
import { LIMITS, readJson, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { readPiece, savePiece } from "@/server/pieces";

const body = z.strictObject({ tags: tagsSchema });

/** Sets a piece's tags, as a save of its own. */
export const PUT = route<{ id: string }>(async (request, { id }) => {
  const { tags } = await readJson(request, body, LIMITS.document);
  const piece = readPiece(database(), id);
  if (!piece) throw new HttpFault(404, "There is no such piece; it may have been deleted.");
  const unique = [...new Set(tags)];
  const saved = savePiece(database(), id, { ...piece.document, tags: unique }, piece.revision);
  if (!saved.ok) throw new HttpFault(409, "The piece was saved elsewhere meanwhile. Try once more.");
  return Response.json({ revision: saved.revision, tags: unique });
});
