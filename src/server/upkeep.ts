/** What keeps the database small and safe, done in the background a little at a time. */
import { backUp } from "./backups";
import type { Db } from "./database";
import { countRunning, forgetDeleted, thinVersions } from "./thinning";
import { packVersions } from "./versions";

/** Versions packed at once; others may save in between. */
const PACKED_AT_ONCE = 50;
/** Pages of free room given back at once, 4 KB each. */
const PAGES_AT_ONCE = 2000;

/** @param seconds since the last time, by a clock that never jumps */
export async function upkeep(db: Db, data: string, seconds: number): Promise<void> {
  countRunning(db, seconds);
  while (packVersions(db, PACKED_AT_ONCE) === PACKED_AT_ONCE) await pause();
  thinVersions(db);
  forgetDeleted(db);
  await backUp(db, data);
  for (let left = freePages(db); left > 0; ) {
    db.pragma(`incremental_vacuum(${PAGES_AT_ONCE})`);
    await pause();
    const now = freePages(db);
    if (now >= left) break;
    left = now;
  }
  db.pragma("wal_checkpoint(PASSIVE)");
}

const freePages = (db: Db): number => db.pragma("freelist_count", { simple: true }) as number;

const pause = (): Promise<void> => new Promise((done) => setTimeout(done, 20));
