/** Pieces in the database. */
import { randomUUID } from "node:crypto";
import { writeDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import type { Db } from "./database";
import { readStored } from "./stored";
import { runningTime } from "./thinning";
import { keepVersion, listVersions, readVersion, type VersionSummary } from "./versions";

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
  /** What is stored of it is no document any more; see readDamaged. */
  readonly damaged: boolean;
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
              -- One text that is no document any more must not take the others with it.
              NOT (json_valid(p.document)
                   AND json_type(CASE WHEN json_valid(p.document) THEN p.document ELSE '{}' END, '$.graph.nodes') IS 'array')
                AS damaged,
              CASE WHEN json_valid(p.document) THEN p.document -> '$.tags' END AS tags,
              CASE WHEN json_valid(p.document) THEN p.document ->> '$.settings.first' END AS first,
              CASE WHEN json_valid(p.document) THEN p.document ->> '$.settings.last' END AS last,
              CASE WHEN json_valid(p.document) THEN p.document ->> '$.settings.loop' END AS loop,
              CASE WHEN t.revision = p.revision THEN t.frames END AS thumbnailFrames
         FROM pieces p LEFT JOIN thumbnails t ON t.piece = p.id
        WHERE p.deleted_at IS NULL
        ORDER BY p.touched_at DESC, p.name`,
    )
    .all() as (Omit<PieceSummary, "loop" | "tags" | "damaged"> & {
    damaged: number;
    loop: number;
    tags: string | null;
  })[];
  return rows.map((row) => ({
    ...row,
    damaged: row.damaged !== 0,
    first: row.first ?? 0,
    last: row.last ?? 0,
    loop: row.loop !== 0,
    tags: tagsIn(row.tags),
  }));
}

function tagsIn(text: string | null): string[] {
  const tags: unknown = text ? JSON.parse(text) : [];
  return Array.isArray(tags) ? tags.filter((tag) => typeof tag === "string") : [];
}

export function createPiece(db: Db, document: PieceDocument, demo?: string, touchedAt = now()): StoredPiece {
  const id = randomUUID();
  db.prepare(
    `INSERT INTO pieces (id, name, about, document, revision, demo, created_at, touched_at)
     VALUES (?, ?, ?, ?, 1, ?, ?, ?)`,
  ).run(id, document.name, document.about, writeDocument(document), demo ?? null, touchedAt, touchedAt);
  return { id, revision: 1, document };
}

/** @throws DamagedPiece */
export function readPiece(db: Db, id: string): StoredPiece | null {
  const row = db
    .prepare("SELECT id, revision, name, document FROM pieces WHERE id = ? AND deleted_at IS NULL")
    .get(id) as { id: string; revision: number; name: string; document: string } | undefined;
  if (!row) return null;
  try {
    return { id, revision: row.revision, document: readStored(row.document) };
  } catch (error) {
    throw new DamagedPiece(id, row.name, (error as Error).message);
  }
}

/** A piece that is there, but whose stored text is no document any more. */
export class DamagedPiece extends Error {
  constructor(
    readonly id: string,
    readonly title: string,
    readonly detail: string,
  ) {
    super(`“${title}” is damaged. ${detail}`);
  }
}

/** The text of a piece as it is stored, sound or not. */
export const storedText = (db: Db, id: string): string | null =>
  (db.prepare("SELECT document FROM pieces WHERE id = ?").pluck().get(id) as string | undefined) ?? null;

/** The newest earlier version of a piece that can still be read. */
export function lastReadable(db: Db, id: string): (VersionSummary & { document: PieceDocument }) | null {
  for (const version of listVersions(db, id)) {
    try {
      const document = readVersion(db, id, version.revision);
      if (document) return { ...version, document };
    } catch {
      // The one before may be sound.
    }
  }
  return null;
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
    return { ok: true, revision: base + 1 };
  })();
}

/** Takes a piece off the shelf; `restorePiece` brings it back for a month. */
export const deletePiece = (db: Db, id: string): boolean =>
  db
    .prepare("UPDATE pieces SET deleted_at = ?, deleted_ran = ? WHERE id = ? AND deleted_at IS NULL")
    .run(now(), runningTime(db), id).changes > 0;

export const restorePiece = (db: Db, id: string): boolean =>
  db.prepare("UPDATE pieces SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL").run(id).changes >
  0;

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
