/** Brings the server's database up to date with the demo pieces before it starts. */
import { database } from "../database";
import { DatabaseFault } from "../database-fault";
import { fillDemo } from "../fill-demo";

try {
  const added = fillDemo(database());
  console.log(added > 0 ? `Added ${added} demo pieces.` : "The demo pieces are there.");
} catch (error) {
  if (!(error instanceof DatabaseFault)) throw error;
  console.error(error.message);
  process.exitCode = 1;
}
