/** The library of capsules in the database: each in numbered versions, shared by all pieces. */
import { randomUUID } from "node:crypto";
import { parseCapsuleType } from "../core/capsules/definitions";
import { writeDocument } from "../core/document/read";
import type { Capsule, PieceDocument } from "../core/document/schema";
import type { Db } from "./database";
import { readStored } from "./stored";

export interface CapsuleSummary {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  readonly version: number;
  readonly touchedAt: string;
  readonly shipped: boolean;
}

export type CapsuleSaved =
  | { readonly ok: true; readonly version: number }
  | { readonly ok: false; readonly reason: "missing" | "conflict"; readonly version?: number };

const now = () => new Date().toISOString();

export const listCapsules = (db: Db): CapsuleSummary[] =>
  (
    db
      .prepare(
        `SELECT id, title, about, version, touched_at AS touchedAt, shipped IS NOT NULL AS shipped
           FROM capsules WHERE deleted_at IS NULL ORDER BY title, id`,
      )
      .all() as (Omit<CapsuleSummary, "shipped"> & { shipped: number })[]
  ).map((row) => ({ ...row, shipped: row.shipped !== 0 }));

/** The capsule whose only instance a piece is; null when it is no such piece. */
export function onlyCapsule({ graph, capsules }: PieceDocument): Capsule | null {
  const parsed = graph.nodes.length === 1 ? parseCapsuleType(graph.nodes[0].type) : null;
  return (parsed?.role === "capsule" && capsules[parsed.name]) || null;
}

/** Adds a capsule as version 1. */
export function createCapsule(
  db: Db,
  document: PieceDocument,
  { title, about }: Capsule,
  shipped?: string,
): string {
  const id = randomUUID();
  const at = now();
  db.transaction(() => {
    db.prepare(
      "INSERT INTO capsules (id, title, about, version, shipped, touched_at) VALUES (?, ?, ?, 1, ?, ?)",
    ).run(id, title, about, shipped ?? null, at);
    keep(db, id, 1, document, at);
  })();
  return id;
}

/** Adds the version after `base`; a capsule that has moved on is left alone. */
export function saveCapsule(
  db: Db,
  id: string,
  document: PieceDocument,
  { title, about }: Capsule,
  base: number,
): CapsuleSaved {
  return db.transaction((): CapsuleSaved => {
    const present = db.prepare("SELECT version FROM capsules WHERE id = ? AND deleted_at IS NULL").get(id) as
      | { version: number }
      | undefined;
    if (!present) return { ok: false, reason: "missing" };
    if (present.version !== base) return { ok: false, reason: "conflict", version: present.version };
    const at = now();
    keep(db, id, base + 1, document, at);
    db.prepare("UPDATE capsules SET title = ?, about = ?, version = ?, touched_at = ? WHERE id = ?").run(
      title,
      about,
      base + 1,
      at,
      id,
    );
    return { ok: true, version: base + 1 };
  })();
}

const keep = (db: Db, id: string, version: number, document: PieceDocument, at: string) =>
  db
    .prepare("INSERT INTO capsule_versions (capsule, version, document, saved_at) VALUES (?, ?, ?, ?)")
    .run(id, version, writeDocument(document), at);

/** A version of a capsule, the newest when none is named. */
export function readCapsule(
  db: Db,
  id: string,
  version?: number,
): { id: string; version: number; document: PieceDocument } | null {
  const row = db
    .prepare(
      `SELECT v.version, v.document FROM capsules c JOIN capsule_versions v ON v.capsule = c.id
        WHERE c.id = ? AND c.deleted_at IS NULL AND v.version = coalesce(?, c.version)`,
    )
    .get(id, version ?? null) as { version: number; document: string } | undefined;
  return row ? { id, version: row.version, document: readStored(row.document) } : null;
}

/** Takes a capsule out of the library, or puts it back; pieces keep their own copies either way. */
export const setCapsuleDeleted = (db: Db, id: string, deleted: boolean): boolean =>
  db
    .prepare("UPDATE capsules SET deleted_at = ? WHERE id = ? AND (deleted_at IS NULL) = ?")
    .run(deleted ? now() : null, id, deleted ? 1 : 0).changes > 0;

/** Which capsule of the library each shipped one is, and its version. */
export const shippedVersions = (db: Db): { shipped: string; id: string; version: number }[] =>
  db.prepare("SELECT shipped, id, version FROM capsules WHERE shipped IS NOT NULL").all() as {
    shipped: string;
    id: string;
    version: number;
  }[];

/** Brings the capsules that ship with the application up to date: new ones are added, changed ones get a version. */
export function fillCapsules(db: Db, shipped: ReadonlyMap<string, PieceDocument>): number {
  let changed = 0;
  const known = db.prepare("SELECT id, version FROM capsules WHERE shipped = ?");
  const newest = db.prepare("SELECT document FROM capsule_versions WHERE capsule = ? AND version = ?");
  for (const [name, document] of shipped) {
    const capsule = onlyCapsule(document);
    if (!capsule) throw new Error(`The shipped capsule "${name}" is not one instance of a capsule.`);
    const row = known.get(name) as { id: string; version: number } | undefined;
    if (!row) createCapsule(db, document, capsule, name);
    else {
      const { document: text } = newest.get(row.id, row.version) as { document: string };
      if (text === writeDocument(document)) continue;
      saveCapsule(db, row.id, document, capsule, row.version);
    }
    changed++;
  }
  return changed;
}
