/** Brings documents of older versions up to date, one step a version. */
import type { DocumentFault } from "./fault";
import { particlesApart } from "./particles-apart";
import { DOCUMENT_VERSION } from "./schema";

type Raw = Readonly<Record<string, unknown>>;

/** Entry v changes a document of version v to v + 1. Version 1 is the first. */
const STEPS: Readonly<Record<number, (document: Raw) => Raw>> = { 1: particlesApart };

export type Migrated =
  | { readonly ok: true; readonly document: unknown }
  | { readonly ok: false; readonly faults: readonly DocumentFault[] };

/** A newer version than ours is read as it is: what we do not know is kept. */
export function migrate(raw: unknown): Migrated {
  if (raw === null || typeof raw !== "object" || Array.isArray(raw)) {
    return { ok: false, faults: [{ where: "", what: "A piece is a JSON object." }] };
  }
  const version = (raw as Raw).glemmo;
  if (typeof version !== "number" || !Number.isInteger(version) || version < 1) {
    return {
      ok: false,
      faults: [
        {
          where: "glemmo",
          what: `This is not a Glemmo piece: "glemmo" must be a version number such as ${DOCUMENT_VERSION}.`,
        },
      ],
    };
  }
  let document = raw as Raw;
  for (let v = version; v < DOCUMENT_VERSION; v++) document = STEPS[v](document);
  return { ok: true, document };
}
