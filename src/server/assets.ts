/** Files brought in, stored once by content. */
import type { Db } from "./database";
import { sha256 } from "./demo";

export interface StoredAsset {
  readonly hash: string;
  readonly file: string;
  readonly bytes: number;
}

export function storeAsset(db: Db, file: string, bytes: Uint8Array): StoredAsset {
  const hash = sha256(bytes);
  db.prepare(
    "INSERT INTO assets (hash, file, bytes, created_at) VALUES (?, ?, ?, ?) ON CONFLICT (hash) DO NOTHING",
  ).run(hash, file, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), new Date().toISOString());
  return { hash, file, bytes: bytes.length };
}

export const readAsset = (db: Db, hash: string): Buffer | null =>
  (db.prepare("SELECT bytes FROM assets WHERE hash = ?").get(hash) as { bytes: Buffer } | undefined)?.bytes ??
  null;
