/** What a bundle, or a single document, holds: read and checked, nothing is stored. Runs in the reading thread. */
import { unzipSync } from "fflate";
import { readDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { BUNDLE_DOCUMENT, BUNDLE_FILES } from "./bundle-names";
import { sha256 } from "./demo";
import { HttpFault } from "./http-fault";

export interface OpenBundle {
  readonly document: PieceDocument;
  /** Contents of the files that came along, by their SHA-256. */
  readonly files: ReadonlyMap<string, Uint8Array>;
}

/** Bytes unpacked at most; beyond the first of them no more than so many times what the archive itself has. */
const MOST_UNPACKED = 1024 ** 3;
const UNPACKED_AT_LEAST = 64 * 1024 ** 2;
const MOST_TIMES = 100;
/** Entries at most. */
const MOST_ENTRIES = 10_000;

/** @throws HttpFault naming what is wrong */
export function openBundle(file: string, bytes: Uint8Array): OpenBundle {
  const entries = file.toLowerCase().endsWith(".zip") ? unzip(file, bytes) : { [BUNDLE_DOCUMENT]: bytes };
  const name = Object.keys(entries).find(
    (entry) => entry.endsWith(".json") && !entry.startsWith(BUNDLE_FILES),
  );
  if (!name) throw new HttpFault(422, `“${file}” holds no ${BUNDLE_DOCUMENT}.`);
  const read = readDocument(new TextDecoder().decode(entries[name]));
  if (!read.ok) throw new HttpFault(422, [{ what: `“${file}” is not a readable piece.` }, ...read.faults]);
  const needed = new Set(Object.values(read.document.assets).map(({ hash }) => hash));
  const files = new Map(
    Object.entries(entries)
      .filter(([entry]) => entry !== name)
      .map(([, content]): [string, Uint8Array] => [sha256(content), content])
      .filter(([hash]) => needed.has(hash)),
  );
  return { document: read.document, files };
}

/** Counts and sizes that the archive claims are held against its own size before anything is unpacked. */
function unzip(file: string, bytes: Uint8Array): Record<string, Uint8Array> {
  const most = Math.min(MOST_UNPACKED, Math.max(UNPACKED_AT_LEAST, bytes.length * MOST_TIMES));
  let unpacked = 0;
  let entries = 0;
  try {
    return unzipSync(bytes, {
      filter({ originalSize }) {
        unpacked += originalSize;
        if (++entries > MOST_ENTRIES || unpacked > most)
          throw new HttpFault(
            413,
            `“${file}” would unpack to more than ${Math.round(most / 1024 ** 2)} MB, or to more than ${MOST_ENTRIES} files; that is no piece.`,
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof HttpFault) throw error;
    throw new HttpFault(
      422,
      `“${file}” is not a readable .zip: its parts do not fit together. It may be cut short.`,
    );
  }
}
