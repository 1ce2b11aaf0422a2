import { unpackPiece } from "@/server/bundle";
import { database } from "@/server/database";
import { HttpFault, LIMITS, readBody, route } from "@/server/http";

/** Adds a piece from a file's bytes (`?file=name.zip` or `.glemmo.json`). */
export const POST = route(async (request) => {
  const file = new URL(request.url).searchParams.get("file") ?? "";
  if (!/\.(zip|json)$/i.test(file))
    throw new HttpFault(422, `“${file}” cannot be opened: pieces are .zip or .glemmo.json files.`);
  const { id, revision } = unpackPiece(database(), file, await readBody(request, LIMITS.bundle));
  return Response.json({ id, revision }, { status: 201 });
});
