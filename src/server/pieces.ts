/** Pieces in the database. */
import { randomUUID } from "node:crypto";
import { writeDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import type { Db } from "./database";
import { readStored } from "./stored";
import { keepVersion, thinVersions } from "./versions";

export interface PieceSummary {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly revision: number;
  readonly touchedAt: string;
  readonly createdAt: string;
  readonly tags: readonly string[];
  readonly first: number;
  readonly last: number;
  readonly loop: boolean;
  /** Null when there is no thumbnail, or only one of an older revision. */
  readonly thumbnailFrames: number | null;
}

export interface StoredPiece {
  readonly id: string;
  readonly revision: number;
  readonly document: PieceDocument;
}

export type SaveResult =
  | { readonly ok: true; readonly revision: number }
  | { readonly ok: false; readonly reason: "missing" | "conflict"; readonly revision?: number };

const now = () => new Date().toISOString();

export function listPieces(db: Db): PieceSummary[] {
  const rows = db
    .prepare(
      `SELECT p.id, p.name, p.about, p.revision, p.touched_at AS touchedAt, p.created_at AS createdAt,
              p.document -> '$.tags' AS tags,
              p.document ->> '$.settings.first' AS first, p.document ->> '$.settings.last' AS last,
              p.document ->> '$.settings.loop' AS loop,
              CASE WHEN t.revision = p.revision THEN t.frames END AS thumbnailFrames
         FROM pieces p LEFT JOIN thumbnails t ON t.piece = p.id
        WHERE p.deleted_at IS NULL
        ORDER BY p.touched_at DESC, p.name`,
    )
    .all() as (Omit<PieceSummary, "loop" | "tags"> & { loop: number; tags: string | null })[];
  return rows.map((row) => ({
    ...row,
    loop: row.loop !== 0,
    tags: row.tags ? (JSON.parse(row.tags) as string[]) : [],
  }));
}

export function createPiece(db: Db, document: PieceDocument, demo?: string, touchedAt = now()): StoredPiece {
  const id = randomUUID();
  db.prepare(
    `INSERT INTO pieces (id, name, about, document, revision, demo, created_at, touched_at)
     VALUES (?, ?, ?, ?, 1, ?, ?, ?)`,
  ).run(id, document.name, document.about, writeDocument(document), demo ?? null, touchedAt, touchedAt);
  return { id, revision: 1, document };
}

export function readPiece(db: Db, id: string): StoredPiece | null {
  const row = db
    .prepare("SELECT id, revision, document FROM pieces WHERE id = ? AND deleted_at IS NULL")
    .get(id) as { id: string; revision: number; document: string } | undefined;
  return row ? { ...row, document: readStored(row.document) } : null;
}

/** Saves over revision `base`, keeping what was there as a version; a piece that has moved on is left alone. */
export function savePiece(db: Db, id: string, document: PieceDocument, base: number): SaveResult {
  return db.transaction((): SaveResult => {
    const present = db.prepare("SELECT revision FROM pieces WHERE id = ? AND deleted_at IS NULL").get(id) as
      | { revision: number }
      | undefined;
    if (!present) return { ok: false, reason: "missing" };
    if (present.revision !== base) return { ok: false, reason: "conflict", revision: present.revision };
    keepVersion(db, id);
    db.prepare(
      "UPDATE pieces SET document = ?, name = ?, about = ?, revision = ?, touched_at = ? WHERE id = ?",
    ).run(writeDocument(document), document.name, document.about, base + 1, now(), id);
    thinVersions(db, id);
    return { ok: true, revision: base + 1 };
  })();
}

/** Takes a piece off the shelf; `restorePiece` brings it back for a month. */
export const deletePiece = (db: Db, id: string): boolean =>
  db.prepare("UPDATE pieces SET deleted_at = ? WHERE id = ? AND deleted_at IS NULL").run(now(), id).changes >
  0;

export const restorePiece = (db: Db, id: string): boolean =>
  db.prepare("UPDATE pieces SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL").run(id).changes >
  0;

const MONTH = 31 * 24 * 3_600_000;

/** Forgets pieces that were deleted more than a month ago, with their versions and pictures. */
export const forgetDeleted = (db: Db, at = Date.now()): number =>
  db.prepare("DELETE FROM pieces WHERE deleted_at < ?").run(new Date(at - MONTH).toISOString()).changes;

export interface Thumbnail {
  readonly type: string;
  readonly frames: number;
  readonly bytes: Buffer;
}

/** Keeps a thumbnail made from `revision`; false when there is no such piece. */
export function saveThumbnail(db: Db, piece: string, revision: number, thumbnail: Thumbnail): boolean {
  if (!db.prepare("SELECT 1 FROM pieces WHERE id = ?").get(piece)) return false;
  db.prepare(
    `INSERT INTO thumbnails (piece, revision, type, frames, bytes) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (piece) DO UPDATE SET revision = excluded.revision, type = excluded.type,
       frames = excluded.frames, bytes = excluded.bytes`,
  ).run(piece, revision, thumbnail.type, thumbnail.frames, thumbnail.bytes);
  return true;
}

export const readThumbnail = (db: Db, piece: string): Thumbnail | null =>
  (db.prepare("SELECT type, frames, bytes FROM thumbnails WHERE piece = ?").get(piece) as
    | Thumbnail
    | undefined) ?? null;
