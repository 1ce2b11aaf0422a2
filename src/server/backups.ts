/** Copies of the database, one a day, seven kept; one of them can be put back. */
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { connect, type Db } from "./database";
import { BACKUPS, DATABASE_FILE } from "./files";

const KEPT = 7;
const NAME = /^glemmo-(\d{4}-\d{2}-\d{2})\.db$/;

/** Days of which there are copies, newest first. @param data the data folder */
export function backupDays(data: string): string[] {
  const folder = join(data, BACKUPS);
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .flatMap((file) => NAME.exec(file)?.[1] ?? [])
    .sort()
    .reverse();
}

const fileOf = (data: string, day: string): string => join(data, BACKUPS, `glemmo-${day}.db`);

/** Makes the copy of a day when there is none, and removes the oldest beyond seven; whether it made one. */
export async function backUp(db: Db, data: string, now = new Date()): Promise<boolean> {
  const day = now.toISOString().slice(0, 10);
  if (existsSync(fileOf(data, day))) return false;
  mkdirSync(join(data, BACKUPS), { recursive: true });
  // Under another name until it is whole.
  const unfinished = `${fileOf(data, day)}.unfinished`;
  rmSync(unfinished, { force: true });
  await db.backup(unfinished);
  renameSync(unfinished, fileOf(data, day));
  for (const old of backupDays(data).slice(KEPT)) rmSync(fileOf(data, old));
  return true;
}

/**
 * Puts the copy of a day in the database's place; what was there is kept beside it, under the name that is returned. The server
 * must not be running.
 * @throws Error when there is no such copy, or the database is in use
 */
export async function restore(data: string, day: string): Promise<string | null> {
  if (!backupDays(data).includes(day)) throw new Error(`There is no copy of ${day}.`);
  const file = join(data, DATABASE_FILE);
  // A copy that cannot be read must not take the place of anything.
  connect(fileOf(data, day)).close();
  let aside: string | null = null;
  if (existsSync(file)) {
    refuseWhenInUse(file);
    aside = freeName(`${file}.before-restore`);
    for (const end of ["", "-wal", "-shm"]) if (existsSync(file + end)) renameSync(file + end, aside + end);
  }
  const copy = new Database(fileOf(data, day), { readonly: true });
  try {
    await copy.backup(file);
  } finally {
    copy.close();
  }
  return aside;
}

/** A running server holds the file open for reading and writing; whoever can have it alone is the only one. */
function refuseWhenInUse(file: string): void {
  let db: Db;
  try {
    db = new Database(file, { timeout: 200 });
  } catch {
    // It cannot be opened at all, so nobody uses it.
    return;
  }
  try {
    db.pragma("locking_mode = EXCLUSIVE");
    db.exec("BEGIN EXCLUSIVE; COMMIT");
  } catch (error) {
    if ((error as { code?: string }).code?.startsWith("SQLITE_BUSY"))
      throw new Error("The server is running. Stop it first, then restore.");
  } finally {
    db.close();
  }
}

function freeName(name: string): string {
  let free = name;
  for (let i = 2; existsSync(free); i++) free = `${name}-${i}`;
  return free;
}
