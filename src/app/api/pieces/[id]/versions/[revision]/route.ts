import { z } from "zod";
import { database } from "@/server/database";
import { LIMITS, readJson, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { nameVersion, readVersion } from "@/server/versions";

type Parameters = { id: string; revision: string };

const missing = () => new HttpFault(404, "There is no such version; it may have been thinned out.");

export const GET = route<Parameters>((_request, { id, revision }) => {
  const document = readVersion(database(), id, Number(revision));
  if (!document) throw missing();
  return Response.json({ document });
});

const body = z.strictObject({ name: z.string().trim().min(1).max(80).nullable() });

/** Names a version (or the present state), which keeps it for good; null takes the name away. */
export const PUT = route<Parameters>(async (request, { id, revision }) => {
  const { name } = await readJson(request, body, LIMITS.document);
  if (!nameVersion(database(), id, Number(revision), name)) throw missing();
  return new Response(null, { status: 204 });
});
