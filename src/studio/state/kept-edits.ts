/** Edits that the server has not got yet, kept in the browser so that closing the page loses nothing. */
import { del, get, set } from "idb-keyval";
import type { PieceDocument } from "@/core/document/schema";

export interface KeptEdits {
  /** The revision that the edits are based on. */
  readonly base: number;
  readonly document: PieceDocument;
}

const key = (piece: string): string => `unsaved ${piece}`;

/** Without browser storage the server is the only copy; that is no reason to stop working. */
const quietly = <T>(work: Promise<T>): Promise<T | undefined> => work.catch(() => undefined);

export const keepEdits = (piece: string, edits: KeptEdits) => quietly(set(key(piece), edits));
export const forgetEdits = (piece: string) => quietly(del(key(piece)));
export const keptEdits = (piece: string): Promise<KeptEdits | undefined> =>
  quietly(get<KeptEdits>(key(piece)));
