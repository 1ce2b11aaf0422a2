/** Lists the daily copies of the database, or puts one in its place. */
import { backupDays, restore } from "../backups";
import { DATA_FOLDER } from "../files";

const [day] = process.argv.slice(2);
const days = backupDays(DATA_FOLDER);
if (!day) {
  console.log(
    days.length > 0
      ? `There are copies of these days:\n${days.join("\n")}\n./run restore DAY puts one back; what is there now is kept beside it.`
      : "There are no copies yet; the server makes one a day while it runs.",
  );
} else {
  try {
    const aside = await restore(DATA_FOLDER, day);
    console.log(`The database is as it was on ${day}.${aside ? ` What was there is kept as ${aside}.` : ""}`);
  } catch (error) {
    console.error((error as Error).message);
    process.exitCode = 1;
  }
}
