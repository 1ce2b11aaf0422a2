/** Assets of a document, read once and kept by content; evaluation then finds them without waiting. */

import type { PieceDocument } from "../document/schema";
import { FormatError } from "../formats/format-error";
import type { AssetContent } from "../formats/read/asset";
import { readAsset } from "../formats/read/read-asset";
import { own } from "../own";
import type { AssetLookup } from "./options";

/** Brings the bytes of an asset; rejects with a message for the designer. */
export type FetchAsset = (hash: string) => Promise<Uint8Array>;

/** Brings what a file holds; rejects with FormatError when the file itself is at fault. */
export type OpenAsset = (file: string, hash: string) => Promise<AssetContent>;

/** Fetches and reads in this thread. */
export const openWith =
  (fetchAsset: FetchAsset): OpenAsset =>
  async (file, hash) =>
    readAsset(file, await fetchAsset(hash));

type Read =
  | { readonly ok: true; readonly content: AssetContent; readonly version: string }
  /** What is wrong with a file stays wrong; one that could not be fetched may be there the next time. */
  | { readonly ok: false; readonly message: string; readonly lasting: boolean };

export class AssetShelf {
  private readonly read = new Map<string, Promise<Read> | Read>();

  constructor(private readonly open: OpenAsset) {}

  /** Reads the assets that the document names and that are not read yet. Never rejects: faults are kept. */
  async prepare(document: PieceDocument): Promise<void> {
    for (const { hash, file } of Object.values(document.assets)) {
      const known = this.read.get(hash);
      if (known && (known instanceof Promise || known.ok || known.lasting)) await known;
      else await this.start(file, hash);
    }
  }

  lookup(document: PieceDocument): AssetLookup {
    return (name) => {
      const entry = own(document.assets, name);
      if (!entry)
        return {
          ok: false,
          message: `The piece has no file "${name}". Choose another one, or bring it in again.`,
        };
      const read = this.read.get(entry.hash);
      return !read || read instanceof Promise
        ? { ok: false, message: `"${entry.file}" has not been read.` }
        : read;
    };
  }

  private start(file: string, hash: string): Promise<Read> {
    const reading = this.open(file, hash).then(
      (content): Read => ({ ok: true, content, version: hash }),
      (error: Error): Read => ({ ok: false, message: error.message, lasting: error instanceof FormatError }),
    );
    this.read.set(hash, reading);
    void reading.then((read) => this.read.set(hash, read));
    return reading;
  }
}
