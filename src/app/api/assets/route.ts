import { FormatError } from "@/core/formats/format-error";
import { readAsset } from "@/core/formats/read/read-asset";
import { storeAsset } from "@/server/assets";
import { database } from "@/server/database";
import { HttpFault, LIMITS, readBody, route } from "@/server/http";

/** Takes a file's bytes (`?file=name.obj`), reads it once to refuse what cannot be used, and stores it. */
export const POST = route(async (request) => {
  const file = new URL(request.url).searchParams.get("file") ?? "";
  if (file === "" || file.length > 255 || /[/\\]/.test(file))
    throw new HttpFault(400, [{ where: "file", what: "A plain file name is needed." }]);
  const bytes = await readBody(request, LIMITS.asset);
  try {
    await readAsset(file, bytes);
  } catch (error) {
    if (error instanceof FormatError) throw new HttpFault(422, error.message);
    throw error;
  }
  return Response.json(storeAsset(database(), file, bytes), { status: 201 });
});
