import { z } from "zod";
import { database } from "@/server/database";
import { LIMITS, readBody, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { readThumbnail, saveThumbnail } from "@/server/pieces";

type Parameters = { id: string };

export const GET = route<Parameters>((_request, { id }) => {
  const thumbnail = readThumbnail(database(), id);
  if (!thumbnail) throw new HttpFault(404, "There is no picture yet.");
  return new Response(new Uint8Array(thumbnail.bytes), {
    headers: { "content-type": thumbnail.type, "cache-control": "private, max-age=31536000, immutable" },
  });
});

const query = z.object({
  revision: z.coerce.number().int().min(1),
  frames: z.coerce.number().int().min(1).max(64),
});
const TYPES = new Set(["image/webp", "image/png", "image/jpeg"]);

export const PUT = route<Parameters>(async (request, { id }) => {
  const asked = query.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!asked.success) throw new HttpFault(400, "revision and frames must be whole numbers from 1.");
  const type = request.headers.get("content-type") ?? "";
  if (!TYPES.has(type)) throw new HttpFault(415, `A picture is needed, not "${type}".`);
  const bytes = Buffer.from(await readBody(request, LIMITS.thumbnail));
  if (bytes.length === 0) throw new HttpFault(400, "The picture is empty.");
  const { revision, frames } = asked.data;
  if (!saveThumbnail(database(), id, revision, { type, frames, bytes }))
    throw new HttpFault(404, "There is no such piece.");
  return new Response(null, { status: 204 });
});
