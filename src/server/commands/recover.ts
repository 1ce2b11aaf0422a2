/** Writes what can still be read of a damaged database to a folder. */
import { join } from "node:path";
import { DATA_FOLDER, DATABASE_FILE } from "../files";
import { recover } from "../recover";

const folder = join(DATA_FOLDER, "recovered");
const { pieces, versions, capsules, files, lost } = recover(join(DATA_FOLDER, DATABASE_FILE), folder);
console.log(
  `${pieces} pieces, ${versions} earlier versions, ${capsules} capsules and ${files} files were written to ${folder}; ${lost} rows could not be read.`,
);
