import { faultsText } from "../core/document/fault";
import { readDocument } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";

/**
 * A document as the database has it, brought up to date: it was checked before it was stored, by this version or an earlier one.
 * @throws Error naming what is wrong when it is no document any more
 */
export function readStored(text: string): PieceDocument {
  const read = readDocument(text);
  if (read.ok) return read.document;
  throw new Error(`What is stored of it is cut or was changed. ${faultsText(read.faults)}`);
}
