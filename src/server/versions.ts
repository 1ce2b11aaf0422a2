/** Earlier versions of pieces: every save for an hour, then one an hour, then one a day; named ones stay. */
import type { PieceDocument } from "../core/document/schema";
import type { Db } from "./database";
import { readStored } from "./stored";

export interface VersionSummary {
  readonly revision: number;
  readonly savedAt: string;
  readonly name: string | null;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** Keeps the present state of a piece as a version; called before it is saved over. */
export function keepVersion(db: Db, piece: string): void {
  db.prepare(
    `INSERT INTO versions (piece, revision, document, saved_at)
     SELECT id, revision, document, touched_at FROM pieces WHERE id = ?
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

export function readVersion(db: Db, piece: string, revision: number): PieceDocument | null {
  const row = db
    .prepare("SELECT document FROM versions WHERE piece = ? AND revision = ?")
    .get(piece, revision) as { document: string } | undefined;
  return row ? readStored(row.document) : null;
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

/** Removes the versions that have grown too dense for their age; the newest of each hour or day stays. */
export function thinVersions(db: Db, piece: string, now = Date.now()): void {
  const taken = new Set<string>();
  const remove = db.prepare("DELETE FROM versions WHERE piece = ? AND revision = ?");
  for (const { revision, savedAt, name } of listVersions(db, piece)) {
    const saved = Date.parse(savedAt);
    const age = now - saved;
    if (name !== null || age < HOUR) continue;
    const slot = age < DAY ? `hour ${Math.floor(saved / HOUR)}` : `day ${Math.floor(saved / DAY)}`;
    if (taken.has(slot)) remove.run(piece, revision);
    taken.add(slot);
  }
}
