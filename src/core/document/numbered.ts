import { LONGEST_ID } from "./schema";

/** Room for a number behind a name. */
const ROOM = 8;

/** The name, with a number when it is taken; never longer than an id may be. */
export function numbered(taken: ReadonlySet<string>, wanted: string): string {
  const name = wanted.slice(0, LONGEST_ID);
  if (!taken.has(name)) return name;
  const stem = name.slice(0, LONGEST_ID - ROOM);
  for (let i = 2; ; i++) if (!taken.has(`${stem}-${i}`)) return `${stem}-${i}`;
}
