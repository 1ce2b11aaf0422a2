/** A file in the browser's private file system, for states of other frames. Only a worker may use one so. */
import type { Disk } from "../core/simulate/disk-cache";

const FOLDER = "states";
/** Files of so many pieces are kept; the ones that were not opened for longest go. */
const MOST_FILES = 12;
/** A page that is loaded again may meet the worker before it, which still has the file. */
const TRIES = 8;
const BETWEEN_TRIES = 150;

interface Handle {
  getSize(): number;
  read(into: Uint8Array, from: { at: number }): number;
  write(bytes: Uint8Array, to: { at: number }): number;
  truncate(size: number): void;
}
interface FileHandle {
  createSyncAccessHandle(): Promise<Handle>;
  getFile(): Promise<{ readonly lastModified: number }>;
}
interface Folder {
  getFileHandle(name: string, options: { create: boolean }): Promise<FileHandle>;
  removeEntry(name: string): Promise<void>;
  entries(): AsyncIterable<[string, FileHandle]>;
}

/** Null where the browser has none, or another window has the file. */
export async function openPrivateDisk(name: string): Promise<Disk | null> {
  try {
    const root = await navigator.storage.getDirectory();
    const folder = (await root.getDirectoryHandle(FOLDER, { create: true })) as unknown as Folder;
    await removeOld(folder, name);
    const file = await folder.getFileHandle(name, { create: true });
    return diskOf(await opened(file));
  } catch {
    return null;
  }
}

async function opened(file: FileHandle): Promise<Handle> {
  for (let left = TRIES; ; left--) {
    try {
      return await file.createSyncAccessHandle();
    } catch (error) {
      if (left <= 1) throw error;
      await new Promise((done) => setTimeout(done, BETWEEN_TRIES));
    }
  }
}

async function removeOld(folder: Folder, own: string): Promise<void> {
  const files: { name: string; at: number }[] = [];
  for await (const [name, file] of folder.entries())
    if (name !== own) files.push({ name, at: (await file.getFile()).lastModified });
  files.sort((a, b) => b.at - a.at);
  // One that is open in another window stays.
  for (const { name } of files.slice(MOST_FILES - 1)) await folder.removeEntry(name).catch(() => {});
}

const diskOf = (handle: Handle): Disk => ({
  size: () => handle.getSize(),
  read(at, count) {
    const bytes = new Uint8Array(count);
    if (handle.read(bytes, { at }) < count) throw new Error("The file ends before.");
    return bytes;
  },
  write(at, bytes) {
    if (handle.write(bytes, { at }) < bytes.byteLength) throw new Error("There is no room on the disk.");
  },
  cut: (size) => handle.truncate(size),
});
