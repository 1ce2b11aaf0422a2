/** A file of the data folder for states of other frames, used by one process at a time. */
import {
  closeSync,
  fstatSync,
  ftruncateSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  rmSync,
  statSync,
  writeFileSync,
  writeSync,
} from "node:fs";
import { join } from "node:path";
import type { Disk } from "../core/simulate/disk-cache";
import { DATA_FOLDER } from "./files";

/** Files of so many pieces are kept; the ones that were not written for longest go. */
const MOST_FILES = 12;
const LOCK = ".lock";

/** Null when another process has it, or the folder cannot be written: frames are then kept in memory alone. */
export function openFileDisk(name: string, folder = join(DATA_FOLDER, "states")): Disk | null {
  try {
    mkdirSync(folder, { recursive: true });
    const path = join(folder, name);
    if (!lock(path + LOCK)) return null;
    removeOld(folder, name);
    const file = openSync(path, "a+");
    closeSync(file);
    return diskOf(openSync(path, "r+"));
  } catch {
    return null;
  }
}

/** A process that has ended without giving the file back holds it no longer. */
function lock(path: string): boolean {
  try {
    writeFileSync(path, String(process.pid), { flag: "wx" });
  } catch {
    const owner = Number(readFileSync(path, "utf8"));
    if (owner !== process.pid && isAlive(owner)) return false;
    writeFileSync(path, String(process.pid));
  }
  process.once("exit", () => rmSync(path, { force: true }));
  return true;
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

function removeOld(folder: string, own: string): void {
  const files = readdirSync(folder)
    .filter((name) => name !== own && !name.endsWith(LOCK))
    .map((name) => ({ name, at: statSync(join(folder, name)).mtimeMs }))
    .sort((a, b) => b.at - a.at);
  for (const { name } of files.slice(MOST_FILES - 1)) rmSync(join(folder, name), { force: true });
}

const diskOf = (file: number): Disk => ({
  size: () => fstatSync(file).size,
  read(at, count) {
    const bytes = new Uint8Array(count);
    if (readSync(file, bytes, 0, count, at) < count) throw new Error("The file ends before.");
    return bytes;
  },
  write(at, bytes) {
    for (let done = 0; done < bytes.byteLength; )
      done += writeSync(file, bytes, done, bytes.byteLength - done, at + done);
  },
  cut: (size) => ftruncateSync(file, size),
});
