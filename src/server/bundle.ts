/** A piece with its files as one .zip (PKWARE APPNOTE 6.3.3, through fflate): `piece.glemmo.json` and `assets/`. */
import { unzipSync, zipSync } from "fflate";
import { readDocument, writeDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { readAsset, storeAsset } from "./assets";
import type { Db } from "./database";
import { sha256 } from "./demo";
import { HttpFault } from "./http";
import { createPiece, type StoredPiece } from "./pieces";

const DOCUMENT = "piece.glemmo.json";
const ASSETS = "assets/";

/** Bytes unpacked at most; a small archive can promise far more than memory holds. */
const MAX_UNPACKED = 1024 ** 3;

/** @throws HttpFault when one of the piece's files is not in the database */
export function packPiece(db: Db, document: PieceDocument): Uint8Array {
  const entries: Record<string, Uint8Array> = {
    [DOCUMENT]: new TextEncoder().encode(writeDocument(document)),
  };
  for (const { hash, file } of Object.values(document.assets)) {
    const bytes = readAsset(db, hash);
    if (!bytes) throw new HttpFault(404, `"${file}" is not in the database, so the piece cannot be packed.`);
    const plain = ASSETS + file;
    // Two files may have the same name; the hash tells them apart.
    entries[entries[plain] ? `${ASSETS}${hash.slice(0, 8)}-${file}` : plain] = bytes;
  }
  return zipSync(entries, { level: 6 });
}

/**
 * Adds a piece from a .zip or a `.glemmo.json`, with the files that come along.
 * @throws HttpFault naming what is wrong; nothing is stored then
 */
export function unpackPiece(db: Db, file: string, bytes: Uint8Array): StoredPiece {
  const entries = file.toLowerCase().endsWith(".zip") ? unzip(file, bytes) : { [DOCUMENT]: bytes };
  const name = Object.keys(entries).find((entry) => entry.endsWith(".json") && !entry.startsWith(ASSETS));
  if (!name) throw new HttpFault(422, `“${file}” holds no ${DOCUMENT}.`);
  const read = readDocument(new TextDecoder().decode(entries[name]));
  if (!read.ok) throw new HttpFault(422, [{ what: `“${file}” is not a readable piece.` }, ...read.faults]);
  const brought = new Map(Object.values(entries).map((content) => [sha256(content), content]));
  const needed = Object.values(read.document.assets);
  const missing = needed.filter(({ hash }) => !brought.has(hash) && !readAsset(db, hash));
  if (missing.length > 0) {
    const names = missing.map((asset) => `"${asset.file}"`).join(", ");
    throw new HttpFault(
      422,
      `“${file}” needs ${names}, which neither it nor this shelf has. Save it as a .zip with its files.`,
    );
  }
  return db.transaction(() => {
    for (const asset of needed) {
      const content = brought.get(asset.hash);
      if (content) storeAsset(db, asset.file, content);
    }
    return createPiece(db, read.document);
  })();
}

function unzip(file: string, bytes: Uint8Array): Record<string, Uint8Array> {
  let unpacked = 0;
  try {
    return unzipSync(bytes, {
      filter({ originalSize }) {
        unpacked += originalSize;
        if (unpacked > MAX_UNPACKED) throw new HttpFault(413, `“${file}” unpacks to more than 1 GB.`);
        return true;
      },
    });
  } catch (error) {
    if (error instanceof HttpFault) throw error;
    throw new HttpFault(422, `“${file}” is not a readable .zip: ${(error as Error).message}.`);
  }
}
