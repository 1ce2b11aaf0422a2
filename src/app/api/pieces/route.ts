import { z } from "zod";
import { validateDocument } from "@/core/document/read";
import { database } from "@/server/database";
import { LIMITS, readJson, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { createPiece, listPieces } from "@/server/pieces";

export const GET = route(() => Response.json({ pieces: listPieces(database()) }));

const body = z.strictObject({ document: z.unknown() });

/** Adds a piece from a document. */
export const POST = route(async (request) => {
  const { document } = await readJson(request, body, LIMITS.document);
  const read = validateDocument(document);
  if (!read.ok) throw new HttpFault(400, read.faults);
  const { id, revision } = createPiece(database(), read.document);
  return Response.json({ id, revision }, { status: 201 });
});
