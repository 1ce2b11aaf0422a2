/** Writes every piece and file that can still be read of a damaged database to a folder, row by row. */
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { readDocument, writeDocument } from "../core/document/read";
import { DATA_FOLDER } from "./files";

export interface Recovered {
  readonly pieces: number;
  readonly files: number;
  /** Rows that were there but could not be read. */
  readonly lost: number;
}

/** The damaged file is only read. @throws Error when not even its table of contents can be read */
export function recover(path: string, folder: string): Recovered {
  mkdirSync(folder, { recursive: true });
  const db = new Database(path, { readonly: true });
  let lost = 0;
  const rows = (table: string, columns: string): Record<string, unknown>[] => {
    const found: Record<string, unknown>[] = [];
    const one = db.prepare(`SELECT ${columns} FROM ${table} WHERE rowid = ?`);
    const last = numberOr(() => db.prepare(`SELECT max(rowid) FROM ${table}`).pluck().get(), 100_000);
    for (let row = 1; row <= last; row++) {
      try {
        const values = one.get(row) as Record<string, unknown> | undefined;
        if (values) found.push(values);
      } catch {
        lost++;
      }
    }
    return found;
  };
  let pieces = 0;
  for (const { id, document } of rows("pieces", "id, document")) {
    const read = readDocument(String(document));
    if (!read.ok) {
      lost++;
      continue;
    }
    writeFileSync(
      join(folder, `${String(id).replace(/[^\w-]/g, "")}.glemmo.json`),
      writeDocument(read.document),
    );
    pieces++;
  }
  let files = 0;
  for (const { hash, file, bytes } of rows("assets", "hash, file, bytes")) {
    const name = String(file).replace(/[/\\]/g, "_");
    writeFileSync(join(folder, `${String(hash).slice(0, 12)}-${name}`), bytes as Buffer);
    files++;
  }
  db.close();
  return { pieces, files, lost };
}

function numberOr(read: () => unknown, otherwise: number): number {
  try {
    return Number(read()) || 0;
  } catch {
    return otherwise;
  }
}

if (process.argv[1]?.endsWith("recover.ts")) {
  const folder = join(DATA_FOLDER, "recovered");
  const { pieces, files, lost } = recover(join(DATA_FOLDER, "glemmo.db"), folder);
  console.log(
    `${pieces} pieces and ${files} files were written to ${folder}; ${lost} rows could not be read.`,
  );
}
