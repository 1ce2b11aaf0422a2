import { cleanFileName } from "@/core/document/file-name";
import { storeAsset } from "@/server/assets";
import { database } from "@/server/database";
import { LIMITS, readBody, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { readFile } from "@/server/threads/read-file";

/** Takes a file's bytes (`?file=name.obj`), reads it once to refuse what cannot be used, and stores it. */
export const POST = route(async (request) => {
  const file = new URL(request.url).searchParams.get("file") ?? "";
  if (file === "" || file.length > 255 || /[/\\]/.test(file))
    throw new HttpFault(400, [{ where: "file", what: "A plain file name is needed." }]);
  const bytes = await readBody(request, LIMITS.asset);
  await readFile({ kind: "asset", file, bytes }, request.signal);
  return Response.json(storeAsset(database(), cleanFileName(file), bytes), { status: 201 });
});
