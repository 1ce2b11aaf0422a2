/** Where things are on disk. */
import { resolve } from "node:path";

/** The project's folder: the server and the command line are started there. */
export const ROOT = process.cwd();
export const DATA_FOLDER = process.env.GLEMMO_DATA ? resolve(process.env.GLEMMO_DATA) : resolve(ROOT, "data");
export const DEMO_FOLDER = resolve(ROOT, "src/demo");
