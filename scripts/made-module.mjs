/** Modules that are made of packages and not kept in the repository. */
import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { basename } from "node:path";
import { fileURLToPath } from "node:url";

export const base64 = (path) => readFileSync(path).toString("base64");

/** A text with a part of it changed, which must be there. */
export function replaced(text, old, by) {
  if (!text.includes(old)) throw new Error(`The package has no "${old.slice(0, 60)}" any more.`);
  return text.replace(old, by);
}

/** Writes a module anew when it was made of other versions, or by another program. @param by address of the program */
export function madeModule(by, path, versions, write) {
  const program = fileURLToPath(by);
  const hash = createHash("sha256").update(readFileSync(program)).digest("hex").slice(0, 8);
  const mark = `/* Made by scripts/${basename(program)} ${hash} of ${versions}. */\n`;
  if (existsSync(path) && readFileSync(path, "utf8").startsWith(mark)) return;
  writeFileSync(path, mark + write());
}
