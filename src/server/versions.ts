/** Earlier versions of pieces: every save at first, then one an hour, then one a day (thinning.ts); named ones stay. */
import { deflateRawSync, inflateRawSync } from "node:zlib";
import type { PieceDocument } from "../core/document/schema";
import type { Db } from "./database";
import { readStored } from "./stored";

export interface VersionSummary {
  readonly revision: number;
  readonly savedAt: string;
  readonly name: string | null;
}

/** Keeps the present state of a piece as a version; called before it is saved over. */
export function keepVersion(db: Db, piece: string): void {
  db.prepare(
    `INSERT INTO versions (piece, revision, document, saved_at, ran)
     SELECT id, revision, document, touched_at, coalesce((SELECT value FROM upkeep WHERE name = 'running'), 0)
       FROM pieces WHERE id = ?
     ON CONFLICT (piece, revision) DO NOTHING`,
  ).run(piece);
}

/** Newest first. */
export const listVersions = (db: Db, piece: string): VersionSummary[] =>
  db
    .prepare(
      "SELECT revision, saved_at AS savedAt, name FROM versions WHERE piece = ? ORDER BY revision DESC",
    )
    .all(piece) as VersionSummary[];

/** How a version is stored: as text, or packed. */
export interface StoredVersion {
  readonly document: string | null;
  readonly packed: Uint8Array | null;
}

export const versionText = ({ document, packed }: StoredVersion): string =>
  document ?? inflateRawSync(packed as Uint8Array).toString("utf8");

/** @throws Error when it cannot be read any more */
export function readVersion(db: Db, piece: string, revision: number): PieceDocument | null {
  const row = db
    .prepare("SELECT document, packed FROM versions WHERE piece = ? AND revision = ?")
    .get(piece, revision) as StoredVersion | undefined;
  return row ? readStored(versionText(row)) : null;
}

/** Names a version, or takes its name away; the present state is kept as a version first if it is meant. */
export function nameVersion(db: Db, piece: string, revision: number, name: string | null): boolean {
  const present = db.prepare("SELECT revision FROM pieces WHERE id = ?").get(piece) as
    | { revision: number }
    | undefined;
  if (present?.revision === revision) keepVersion(db, piece);
  return (
    db.prepare("UPDATE versions SET name = ? WHERE piece = ? AND revision = ?").run(name, piece, revision)
      .changes > 0
  );
}

/** Packs some of the versions that are still text; how many there were. */
export function packVersions(db: Db, most: number): number {
  const rows = db
    .prepare("SELECT piece, revision, document FROM versions WHERE document IS NOT NULL LIMIT ?")
    .all(most) as { piece: string; revision: number; document: string }[];
  const pack = db.prepare(
    "UPDATE versions SET packed = ?, document = NULL WHERE piece = ? AND revision = ? AND document IS NOT NULL",
  );
  db.transaction(() => {
    for (const { piece, revision, document } of rows)
      pack.run(deflateRawSync(document, { level: 9 }), piece, revision);
  })();
  return rows.length;
}
