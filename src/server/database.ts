/** The SQLite database: opened once, brought up to date by the numbered .sql files in migrations/. */
import { existsSync, mkdirSync, readdirSync, readFileSync } from "node:fs";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { DATA_FOLDER, ROOT } from "./files";

export type Db = Database.Database;

const MIGRATIONS = resolve(ROOT, "src/server/migrations");

/** The file cannot be trusted; what can be read of it is still there. */
export class DatabaseDamaged extends Error {
  constructor(path: string, detail: string) {
    super(
      `The database ${path} is damaged: ${detail}. It was left as it is. "./run recover" writes every piece and file that can still be read beside it; then move it away and start again.`,
    );
  }
}

/**
 * Opens a database file (or ":memory:"), creating and migrating it.
 * @throws DatabaseDamaged
 */
export function openDatabase(path: string): Db {
  const db = new Database(path);
  checkSound(db, path);
  db.pragma("journal_mode = WAL");
  // A save that was acknowledged must survive a power cut, not only a crash of ours.
  db.pragma("synchronous = FULL");
  db.pragma("foreign_keys = ON");
  db.pragma("busy_timeout = 5000");
  migrate(db, path);
  return db;
}

function checkSound(db: Db, path: string): void {
  let found: string;
  try {
    found = db.pragma("quick_check(1)", { simple: true }) as string;
  } catch (error) {
    found = (error as Error).message;
  }
  if (found === "ok") return;
  db.close();
  throw new DatabaseDamaged(path, found);
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
}

function backupName(path: string, version: number): string {
  for (let i = 0; ; i++) {
    const name = `${path}.before-${version + 1}${i === 0 ? "" : `-${i}`}`;
    if (!existsSync(name)) return name;
  }
}

const holder = globalThis as { glemmoDatabase?: Db };

/** The server's own database, in the data folder. Kept on the global object, as development reloads modules. */
export function database(): Db {
  if (!holder.glemmoDatabase) {
    mkdirSync(DATA_FOLDER, { recursive: true });
    holder.glemmoDatabase = openDatabase(join(DATA_FOLDER, "glemmo.db"));
  }
  return holder.glemmoDatabase;
}
