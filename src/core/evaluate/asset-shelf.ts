/** Assets of a document, read once and kept by content; evaluation then finds them without waiting. */
import type { PieceDocument } from "../document/schema";
import { readShape } from "../formats/read/read-shape";
import type { Shape } from "../geometry/shape";
import type { AssetLookup } from "./options";

/** Brings the bytes of an asset; rejects with a message for the designer. */
export type FetchAsset = (hash: string) => Promise<Uint8Array>;

type Read =
  | { readonly ok: true; readonly shape: Shape; readonly version: string }
  | { readonly ok: false; readonly message: string };

export class AssetShelf {
  private readonly read = new Map<string, Read>();

  constructor(private readonly fetchAsset: FetchAsset) {}

  /** Reads the assets that the document names and that are not read yet. Never rejects: faults are kept. */
  async prepare(document: PieceDocument): Promise<void> {
    for (const [name, { hash, file }] of Object.entries(document.assets)) {
      if (this.read.has(hash)) continue;
      let bytes: Uint8Array;
      try {
        bytes = await this.fetchAsset(hash);
      } catch (error) {
        // Not remembered: the file may be there the next time.
        this.read.delete(hash);
        this.failures.set(name, (error as Error).message);
        continue;
      }
      this.failures.delete(name);
      this.read.set(hash, await readSafely(file, bytes, hash));
    }
  }

  private readonly failures = new Map<string, string>();

  lookup(document: PieceDocument): AssetLookup {
    return (name) => {
      const entry = document.assets[name];
      if (!entry)
        return {
          ok: false,
          message: `The piece has no file "${name}". Choose another one, or bring it in again.`,
        };
      return (
        this.read.get(entry.hash) ?? {
          ok: false,
          message: this.failures.get(name) ?? `"${entry.file}" has not been read.`,
        }
      );
    };
  }
}

async function readSafely(file: string, bytes: Uint8Array, hash: string): Promise<Read> {
  try {
    return { ok: true, shape: await readShape(file, bytes), version: hash };
  } catch (error) {
    return { ok: false, message: (error as Error).message };
  }
}
