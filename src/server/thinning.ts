/**
 * What is removed as time passes: versions that have grown too dense for their age, pieces that have been in the bin for a month. A clock
 * may jump, and comes back; so nothing goes by it alone. The server counts how long it has been running, in all, and what
 * was kept or deleted within a day of running is never touched; versions grow sparser by one step at a time, a day of running
 * apart.
 */
import type { Db } from "./database";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MONTH = 31 * DAY;
/** Seconds of running. */
const DAY_OF_RUNNING = 86_400;

/** Seconds that the server has been running in all. */
export const runningTime = (db: Db): number => remembered(db, "running");

/** Counts on. @param seconds by a clock that never jumps */
export const countRunning = (db: Db, seconds: number): void =>
  remember(db, "running", runningTime(db) + seconds);

const remembered = (db: Db, name: string): number =>
  (db.prepare("SELECT value FROM upkeep WHERE name = ?").pluck().get(name) as number | undefined) ?? 0;

function remember(db: Db, name: string, value: number): void {
  db.prepare(
    "INSERT INTO upkeep (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value",
  ).run(name, Math.round(value));
}

/** One step for all versions, when a day of running has passed since the last; how many were removed. */
export function thinVersions(db: Db, now = Date.now()): number {
  const running = runningTime(db);
  if (running - remembered(db, "thinned") < DAY_OF_RUNNING) return 0;
  return db.transaction(() => {
    let removed = 0;
    for (const piece of db.prepare("SELECT DISTINCT piece FROM versions").pluck().all() as string[])
      removed += thinPiece(db, piece, running, now);
    remember(db, "thinned", running);
    return removed;
  })();
}

interface Row {
  readonly revision: number;
  readonly savedAt: string;
  readonly name: string | null;
  readonly ran: number;
  readonly tier: number;
}

/** The newest version of each hour, or day, stays. */
function thinPiece(db: Db, piece: string, running: number, now: number): number {
  const rows = db
    .prepare(
      "SELECT revision, saved_at AS savedAt, name, ran, tier FROM versions WHERE piece = ? ORDER BY revision DESC",
    )
    .all(piece) as Row[];
  const remove = db.prepare("DELETE FROM versions WHERE piece = ? AND revision = ?");
  const settle = db.prepare("UPDATE versions SET tier = ? WHERE piece = ? AND revision = ?");
  const taken = new Set<string>();
  let removed = 0;
  for (const { revision, savedAt, name, ran, tier } of rows) {
    const saved = Date.parse(savedAt);
    const age = now - saved;
    if (name !== null || !(age >= HOUR) || running - ran < DAY_OF_RUNNING) continue;
    const step = Math.min(tier + 1, age < DAY ? 1 : 2);
    const slot = step === 1 ? `hour ${Math.floor(saved / HOUR)}` : `day ${Math.floor(saved / DAY)}`;
    if (taken.has(slot)) {
      remove.run(piece, revision);
      removed++;
    } else if (step !== tier) settle.run(step, piece, revision);
    taken.add(slot);
  }
  return removed;
}

/** Forgets pieces that were deleted a month ago, with their versions and pictures; how many. */
export const forgetDeleted = (db: Db, now = Date.now()): number =>
  db
    .prepare("DELETE FROM pieces WHERE deleted_at < ? AND ? - coalesce(deleted_ran, 0) >= ?")
    .run(new Date(now - MONTH).toISOString(), runningTime(db), DAY_OF_RUNNING).changes;
