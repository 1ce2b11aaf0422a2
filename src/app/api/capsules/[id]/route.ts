import { z } from "zod";
import { readCapsule, saveCapsule, setCapsuleDeleted } from "@/server/capsules";
import { database } from "@/server/database";
import { LIMITS, readJson, route } from "@/server/http";
import { HttpFault } from "@/server/http-fault";
import { validateCapsule } from "@/server/validate-capsule";

type Parameters = { id: string };

const missing = () =>
  new HttpFault(404, "There is no such capsule in the library; it may have been taken out.");

/** A version (`?version=`), the newest when none is named. */
export const GET = route<Parameters>((request, { id }) => {
  const wanted = new URL(request.url).searchParams.get("version");
  if (wanted !== null && !/^[1-9]\d{0,8}$/.test(wanted))
    throw new HttpFault(400, [{ where: "version", what: `"${wanted}" is no number of a version.` }]);
  const found = readCapsule(database(), id, wanted === null ? undefined : Number(wanted));
  if (!found) throw missing();
  return Response.json(found);
});

const body = z.strictObject({ base: z.int().min(1), document: z.unknown() });

/** Adds the version after `base`; answers 409 with the present one when the capsule has moved on. */
export const PUT = route<Parameters>(async (request, { id }) => {
  const { base, document } = await readJson(request, body, LIMITS.document);
  const { piece, capsule } = validateCapsule(document);
  const saved = saveCapsule(database(), id, piece, capsule, base);
  if (saved.ok) return Response.json({ version: saved.version });
  if (saved.reason === "missing") throw missing();
  throw new HttpFault(
    409,
    "The capsule in the library has a newer version. Take that up first, or save yours as another one.",
    {
      version: saved.version,
    },
  );
});

export const DELETE = route<Parameters>((_request, { id }) => {
  if (!setCapsuleDeleted(database(), id, true)) throw missing();
  return new Response(null, { status: 204 });
});

/** Puts a capsule that was taken out back. */
export const POST = route<Parameters>((_request, { id }) => {
  if (!setCapsuleDeleted(database(), id, false)) throw missing();
  return new Response(null, { status: 204 });
});
