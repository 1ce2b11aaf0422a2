/** Where things are on disk. */
import { resolve } from "node:path";

/** The project's folder: the server and the command line are started there. */
export const ROOT = process.cwd();
export const DATA_FOLDER = process.env.GLEMMO_DATA ? resolve(process.env.GLEMMO_DATA) : resolve(ROOT, "data");
export const DATABASE_FILE = "glemmo.db";
/** Copies of the database, one a day, within the data folder. */
export const BACKUPS = "backups";
export const DEMO_FOLDER = resolve(ROOT, "src/demo");

/** A compiled program of Node (scripts/compile.mjs): threads do not run from TypeScript. */
export const programFile = (name: string): string => resolve(ROOT, "build/node", `${name}.mjs`);
