/** Set-up of all Jest tests: a data folder of their own, before anything asks where data is. */
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

process.env.GLEMMO_DATA = mkdtempSync(join(tmpdir(), "glemmo-data-"));
