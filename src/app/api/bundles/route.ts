import { storeBundle } from "@/server/bundle";
import { database } from "@/server/database";
import { LIMITS, readBody, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import type { OpenBundle } from "@/server/open-bundle";
import { readFile } from "@/server/threads/read-file";

/** Adds a piece from a file's bytes (`?file=name.zip` or `.glemmo.json`). */
export const POST = route(async (request) => {
  const file = new URL(request.url).searchParams.get("file") ?? "";
  if (!/\.(zip|json)$/i.test(file))
    throw new HttpFault(422, `“${file}” cannot be opened: pieces are .zip or .glemmo.json files.`);
  const bytes = await readBody(request, LIMITS.bundle);
  const { bundle } = await readFile({ kind: "bundle", file, bytes }, request.signal);
  const { id, revision } = storeBundle(database(), file, bundle as OpenBundle);
  return Response.json({ id, revision }, { status: 201 });
});
