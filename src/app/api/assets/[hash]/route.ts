import { readAsset } from "@/server/assets";
import { database } from "@/server/database";
import { route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";

export const GET = route<{ hash: string }>((_request, { hash }) => {
  const bytes = readAsset(database(), hash);
  if (!bytes) throw new HttpFault(404, "This file is not in the database; bring it in again.");
  return new Response(new Uint8Array(bytes), {
    headers: {
      "content-type": "application/octet-stream",
      "cache-control": "private, max-age=31536000, immutable",
    },
  });
});
