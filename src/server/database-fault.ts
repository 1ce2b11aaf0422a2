/** What keeps the database from being read or written, told apart by SQLite's and the system's codes. */
import { dirname, join } from "node:path";
import { DATA_FOLDER, DATABASE_FILE } from "./files";

/** `damaged`: what is in the file; `closed`: it, or its folder, cannot be written; `full`: the disk; `busy`: another program has it. */
export type DatabaseTrouble = "damaged" | "closed" | "full" | "busy";

const WORDS: Readonly<Record<DatabaseTrouble, (path: string) => string>> = {
  damaged: (path) =>
    `The database ${path} is damaged. It was left as it is. "./run restore" puts back the copy of a day before; "./run recover" writes every piece and file that can still be read of it.`,
  closed: (path) =>
    `The database ${path} cannot be written: its folder, ${dirname(path)}, or the file is read-only. Nothing is wrong with what is in it. Allow writing there, then try again.`,
  full: (path) =>
    `The disk that holds ${path} is full, so nothing more can be stored. Free some room; what was stored is safe.`,
  busy: (path) => `Another program is using the database ${path}. Close it, then try again.`,
};

export class DatabaseFault extends Error {
  constructor(
    readonly trouble: DatabaseTrouble,
    path: string,
    detail = "",
  ) {
    super(WORDS[trouble](path) + (detail ? ` (${detail})` : ""));
  }
}

/** By the beginning of an error's code. */
const CODES: readonly (readonly [string, DatabaseTrouble])[] = [
  ["SQLITE_CORRUPT", "damaged"],
  ["SQLITE_NOTADB", "damaged"],
  ["SQLITE_READONLY", "closed"],
  ["SQLITE_CANTOPEN", "closed"],
  ["SQLITE_PERM", "closed"],
  ["EACCES", "closed"],
  ["EROFS", "closed"],
  ["EPERM", "closed"],
  ["SQLITE_FULL", "full"],
  ["SQLITE_IOERR_WRITE", "full"],
  ["ENOSPC", "full"],
  ["EDQUOT", "full"],
  ["SQLITE_BUSY", "busy"],
  ["SQLITE_LOCKED", "busy"],
];

/** The fault that an error tells of; null for errors of another kind. @param path of the database */
export function faultOf(error: unknown, path: string): DatabaseFault | null {
  if (error instanceof DatabaseFault) return error;
  const { code } = (error ?? {}) as { code?: unknown };
  const found = typeof code === "string" ? CODES.find(([begin]) => code.startsWith(begin)) : undefined;
  return found ? new DatabaseFault(found[1], path, String(code)) : null;
}

/** The fault of the server's own database that an error tells of; null for errors of another kind. */
export const serverFaultOf = (error: unknown): DatabaseFault | null =>
  faultOf(error, join(DATA_FOLDER, DATABASE_FILE));

/** The same in words. */
export const databaseTrouble = (error: unknown): string | null => serverFaultOf(error)?.message ?? null;
