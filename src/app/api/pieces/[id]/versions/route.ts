import { database } from "@/server/database";
import { route } from "@/server/http";
import { listVersions } from "@/server/versions";

export const GET = route<{ id: string }>((_request, { id }) =>
  Response.json({ versions: listVersions(database(), id) }),
);
