/** The server's background work (upkeep.ts), in a thread with a connection of its own: saves never wait for it. */
import { join } from "node:path";
import { connect } from "../database";
import { DATA_FOLDER, DATABASE_FILE } from "../files";
import { upkeep } from "../upkeep";

const EVERY = 60_000;

let last = performance.now();

async function round(): Promise<void> {
  const now = performance.now();
  try {
    const db = connect(join(DATA_FOLDER, DATABASE_FILE));
    try {
      await upkeep(db, DATA_FOLDER, (now - last) / 1000);
      last = now;
    } finally {
      db.close();
    }
  } catch (error) {
    // Whoever saves is told of it; this is tried again.
    console.error(`The upkeep of the database was put off: ${(error as Error).message}`);
  }
  setTimeout(round, EVERY);
}

void round();
