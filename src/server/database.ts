/** The SQLite database: opened once, brought up to date by the numbered .sql files in migrations/. */
import { existsSync, mkdirSync, readdirSync, readFileSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { DatabaseFault, faultOf } from "./database-fault";
import { DATA_FOLDER, DATABASE_FILE, ROOT } from "./files";

export type Db = Database.Database;

/** Of SQLite's ways of giving free pages back, the one that does so when asked. */
const INCREMENTAL = 2;

const MIGRATIONS = resolve(ROOT, "src/server/migrations");

/**
 * Opens a database file (or ":memory:"), creating and migrating it.
 * @throws DatabaseFault
 */
export function openDatabase(path: string): Db {
  try {
    mkdirSync(resolve(path, ".."), { recursive: true });
    const db = connect(path);
    migrate(db, path);
    return db;
  } catch (error) {
    throw faultOf(error, path) ?? error;
  }
}

/** A connection to a database that is there and up to date already. @throws DatabaseFault */
export function connect(path: string): Db {
  const db = new Database(path);
  try {
    checkSound(db, path);
    db.pragma("journal_mode = WAL");
    // A save that was acknowledged must survive a power cut, not only a crash of ours.
    db.pragma("synchronous = FULL");
    db.pragma("foreign_keys = ON");
    db.pragma("busy_timeout = 5000");
  } catch (error) {
    db.close();
    throw faultOf(error, path) ?? error;
  }
  return db;
}

function checkSound(db: Db, path: string): void {
  const found = db.pragma("quick_check(1)", { simple: true }) as string;
  if (found !== "ok") throw new DatabaseFault("damaged", path, found);
}

function migrate(db: Db, path: string): void {
  const version = db.pragma("user_version", { simple: true }) as number;
  const files = readdirSync(MIGRATIONS)
    .filter((file) => /^\d{3}-.*\.sql$/.test(file))
    .sort();
  const pending = files.filter((file) => Number(file.slice(0, 3)) > version);
  if (pending.length === 0) return;
  // The state before a migration is kept, so that a failed one costs nothing.
  if (version > 0 && path !== ":memory:")
    db.exec(`VACUUM INTO '${backupName(path, version).replace(/'/g, "''")}'`);
  for (const file of pending) {
    db.transaction(() => {
      db.exec(readFileSync(join(MIGRATIONS, file), "utf8"));
      db.pragma(`user_version = ${Number(file.slice(0, 3))}`);
    })();
  }
  // Room that is given up goes back to the disk; a file is laid out for that once.
  if (db.pragma("auto_vacuum", { simple: true }) !== INCREMENTAL) {
    db.pragma("auto_vacuum = INCREMENTAL");
    db.exec("VACUUM");
  }
}

function backupName(path: string, version: number): string {
  for (let i = 0; ; i++) {
    const name = `${path}.before-${version + 1}${i === 0 ? "" : `-${i}`}`;
    if (!existsSync(name)) return name;
  }
}

const holder = globalThis as { glemmoDatabase?: Db };

/** The server's own database, in the data folder. Kept on the global object, as development reloads modules. @throws DatabaseFault */
export function database(): Db {
  holder.glemmoDatabase ??= openDatabase(join(DATA_FOLDER, DATABASE_FILE));
  return holder.glemmoDatabase;
}
