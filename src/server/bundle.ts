/** A piece with its files as one .zip (PKWARE APPNOTE 6.3.3, through fflate): `piece.glemmo.json` and `assets/`. */
import { zipSync } from "fflate";
import { cleanFileName } from "../core/document/file-name";
import { writeDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { readAsset, storeAsset } from "./assets";
import { BUNDLE_DOCUMENT, BUNDLE_FILES } from "./bundle-names";
import type { Db } from "./database";
import { HttpFault } from "./http-fault";
import type { OpenBundle } from "./open-bundle";
import { createPiece, type StoredPiece } from "./pieces";

/** @throws HttpFault when one of the piece's files is not in the database */
export function packPiece(db: Db, document: PieceDocument): Uint8Array {
  const entries: Record<string, Uint8Array> = {
    [BUNDLE_DOCUMENT]: new TextEncoder().encode(writeDocument(document)),
  };
  for (const { hash, file } of Object.values(document.assets)) {
    const bytes = readAsset(db, hash);
    if (!bytes) throw new HttpFault(404, `"${file}" is not in the database, so the piece cannot be packed.`);
    const name = cleanFileName(file);
    const plain = BUNDLE_FILES + name;
    // Two files may have the same name; the hash tells them apart.
    entries[entries[plain] ? `${BUNDLE_FILES}${hash.slice(0, 8)}-${name}` : plain] = bytes;
  }
  return zipSync(entries, { level: 6 });
}

/**
 * Adds a piece with the files that came along.
 * @param file its name, for messages
 * @throws HttpFault when it needs files that are not there; nothing is stored then
 */
export function storeBundle(db: Db, file: string, { document, files }: OpenBundle): StoredPiece {
  const needed = Object.values(document.assets);
  const missing = needed.filter(({ hash }) => !files.has(hash) && !readAsset(db, hash));
  if (missing.length > 0) {
    const names = missing.map((asset) => `"${asset.file}"`).join(", ");
    throw new HttpFault(
      422,
      `“${file}” needs ${names}, which neither it nor this shelf has. Save it as a .zip with its files.`,
    );
  }
  return db.transaction(() => {
    for (const asset of needed) {
      const content = files.get(asset.hash);
      if (content) storeAsset(db, asset.file, content);
    }
    return createPiece(db, document);
  })();
}
