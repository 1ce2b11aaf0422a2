import { z } from "zod";
import { validateDocument } from "@/core/document/read";
import { database } from "@/server/database";
import { LIMITS, readJson, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { deletePiece, readPiece, savePiece } from "@/server/pieces";

type Parameters = { id: string };

const missing = () => new HttpFault(404, "There is no such piece; it may have been deleted.");

export const GET = route<Parameters>((_request, { id }) => {
  const piece = readPiece(database(), id);
  if (!piece) throw missing();
  return Response.json(piece);
});

const body = z.strictObject({ base: z.int().min(1), document: z.unknown() });

/** Saves over revision `base`; answers 409 with the present revision when the piece has moved on. */
export const PUT = route<Parameters>(async (request, { id }) => {
  const { base, document } = await readJson(request, body, LIMITS.document);
  const read = validateDocument(document);
  if (!read.ok) throw new HttpFault(400, read.faults);
  const saved = savePiece(database(), id, read.document, base);
  if (saved.ok) return Response.json({ revision: saved.revision });
  if (saved.reason === "missing") throw missing();
  throw new HttpFault(409, "The piece was saved elsewhere meanwhile.", { revision: saved.revision });
});

export const DELETE = route<Parameters>((_request, { id }) => {
  if (!deletePiece(database(), id)) throw missing();
  return new Response(null, { status: 204 });
});
