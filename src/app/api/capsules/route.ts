import { z } from "zod";
import { createCapsule, listCapsules } from "@/server/capsules";
import { database } from "@/server/database";
import { LIMITS, readJson, route } from "@/server/http";
import { validateCapsule } from "@/server/validate-capsule";

export const GET = route(() => Response.json({ capsules: listCapsules(database()) }));

const body = z.strictObject({ document: z.unknown() });

/** Adds a capsule from a piece with one instance of it. */
export const POST = route(async (request) => {
  const { document } = await readJson(request, body, LIMITS.document);
  const { piece, capsule } = validateCapsule(document);
  return Response.json({ id: createCapsule(database(), piece, capsule), version: 1 }, { status: 201 });
});
