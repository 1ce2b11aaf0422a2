/**
 * Writes everything that can still be read of a damaged database to a folder: pieces, their earlier versions, the library's
 * capsules, files. Row by row; where not even the table of contents can be read, page by page (SQLite's own command has such a
 * recovery too, but is often built without it).
 */
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { cleanFileName } from "../core/document/file-name";
import { readDocument, writeDocument } from "../core/document/read";
import type { Db } from "./database";
import { sha256 } from "./demo";
import { type LooseValue, looseRows } from "./sqlite-pages";
import { versionText } from "./versions";

export interface Recovered {
  pieces: number;
  versions: number;
  capsules: number;
  files: number;
  /** Rows that were there but could not be read. */
  lost: number;
}

/** The damaged file is only read. @throws Error when nothing of it can be read */
export function recover(path: string, folder: string): Recovered {
  mkdirSync(folder, { recursive: true });
  const found: Recovered = { pieces: 0, versions: 0, capsules: 0, files: 0, lost: 0 };
  let db: Db | null = null;
  try {
    db = new Database(path, { readonly: true });
    if ((db.prepare("SELECT count(*) FROM sqlite_schema").pluck().get() as number) > 0) {
      recoverTables(db, folder, found);
      return found;
    }
  } catch {
    // Its table of contents is gone.
  } finally {
    db?.close();
  }
  recoverPages(path, folder, found);
  return found;
}

type Row = Readonly<Record<string, unknown>>;

function recoverTables(db: Db, folder: string, found: Recovered): void {
  for (const { id, document } of rowsOf(db, "pieces", found))
    keep(found, "pieces", () => writePiece(folder, String(id), document));
  for (const { piece, revision, document, packed } of rowsOf(db, "versions", found))
    keep(found, "versions", () =>
      writePiece(
        join(folder, "versions"),
        `${piece}-${revision}`,
        versionText({ document: document as string | null, packed: (packed ?? null) as Uint8Array | null }),
      ),
    );
  for (const { capsule, version, document } of rowsOf(db, "capsule_versions", found))
    keep(found, "capsules", () => writePiece(join(folder, "capsules"), `${capsule}-${version}`, document));
  for (const { hash, file, bytes } of rowsOf(db, "assets", found))
    keep(found, "files", () => writeAsset(folder, String(hash), String(file), bytes as Uint8Array));
}

/** Rows one by one, so that a bad page costs only those on it. */
function rowsOf(db: Db, table: string, found: Recovered): Row[] {
  const rows: Row[] = [];
  try {
    const one = db.prepare(`SELECT * FROM ${table} WHERE rowid = ?`);
    const last = numberOr(() => db.prepare(`SELECT max(rowid) FROM ${table}`).pluck().get(), 100_000);
    for (let row = 1; row <= last; row++) {
      try {
        const values = one.get(row) as Row | undefined;
        if (values) rows.push(values);
      } catch {
        found.lost++;
      }
    }
  } catch {
    // There is no such table.
  }
  return rows;
}

function numberOr(read: () => unknown, otherwise: number): number {
  try {
    return Number(read()) || 0;
  } catch {
    return otherwise;
  }
}

function keep(
  found: Recovered,
  what: "pieces" | "versions" | "capsules" | "files",
  write: () => boolean,
): void {
  try {
    if (write()) found[what]++;
    else found.lost++;
  } catch {
    found.lost++;
  }
}

/** False when the text is no document. */
function writePiece(folder: string, name: string, text: unknown): boolean {
  const read = readDocument(String(text));
  if (!read.ok) return false;
  mkdirSync(folder, { recursive: true });
  writeFileSync(
    join(
      folder,
      `${name.replace(/[^\w-]/g, "") || sha256(Buffer.from(String(text))).slice(0, 12)}.glemmo.json`,
    ),
    writeDocument(read.document),
  );
  return true;
}

/** False when the bytes are not those that the hash is of. */
function writeAsset(folder: string, hash: string, file: string, bytes: Uint8Array): boolean {
  if (sha256(bytes) !== hash) return false;
  writeFileSync(join(folder, `${hash.slice(0, 12)}-${cleanFileName(file)}`), bytes);
  return true;
}

/**
 * Rows of all pages, whichever table they were of: what they are is told by what they hold. A piece may come up in several
 * states; the newest is taken for the piece, the others for earlier versions.
 */
function recoverPages(path: string, folder: string, found: Recovered): void {
  const newest = new Map<string, { readonly revision: number; readonly text: string }>();
  const earlier = (id: string, number: number, text: string) =>
    keep(found, "versions", () => writePiece(join(folder, "versions"), `${id}-${number}`, text));
  for (const [first, second, third, fourth, fifth] of looseRows(readFileSync(path), () => found.lost++)) {
    if (typeof first !== "string") continue;
    const hash = /^[0-9a-f]{64}$/.test(first);
    if (hash && third instanceof Uint8Array)
      keep(found, "files", () => writeAsset(folder, first, String(second), third));
    else if (isText(fourth) && typeof fifth === "number") {
      const known = newest.get(first);
      if (known)
        earlier(first, Math.min(known.revision, fifth), known.revision < fifth ? known.text : fourth);
      if (!known || known.revision < fifth) newest.set(first, { revision: fifth, text: fourth });
    }
    // A capsule's version and a piece's earlier one are both documents with a number.
    else if (typeof second === "number" && isText(third)) earlier(first, second, third);
    else if (typeof second === "number" && fourth instanceof Uint8Array)
      keep(found, "versions", () => {
        const text = versionText({ document: null, packed: fourth });
        return writePiece(join(folder, "versions"), `${first}-${second}`, text);
      });
  }
  for (const [id, { text }] of newest) keep(found, "pieces", () => writePiece(folder, id, text));
}

const isText = (value: LooseValue | undefined): value is string =>
  typeof value === "string" && value.trimStart().startsWith("{");
