/**
 * Edits that the server has not got yet, kept in the browser so that closing the page loses nothing. Every tab keeps its own: what
 * one saves or gives up is no other one's.
 */
import { del, get, keys, set } from "idb-keyval";
import type { PieceDocument } from "@/core/document/schema";
import { livingTabs, thisTab } from "./tab";

export interface KeptEdits {
  /** The revision that the edits are based on. */
  readonly base: number;
  readonly document: PieceDocument;
  /** Milliseconds since 1970. */
  readonly at: number;
}

/** Edits that no open tab works on any more. */
export interface LeftOver extends KeptEdits {
  readonly key: string;
}

const prefix = (piece: string): string => `unsaved ${piece}`;
const keyOf = (piece: string, tab: string): string => `${prefix(piece)} ${tab}`;

/** Without browser storage the server is the only copy; that is no reason to stop working. */
const quietly = <T>(work: Promise<T>): Promise<T | undefined> => work.catch(() => undefined);

export const keepEdits = (piece: string, edits: Omit<KeptEdits, "at">) =>
  quietly(thisTab().then((tab) => set(keyOf(piece, tab), { ...edits, at: Date.now() })));

/** This tab's edits of a piece. */
export const forgetEdits = (piece: string) => quietly(thisTab().then((tab) => del(keyOf(piece, tab))));

export const forgetLeftOver = ({ key }: LeftOver) => quietly(del(key));

/** What this tab kept before it was loaded anew, and what closed tabs left of a piece; the newest first. */
export async function leftOver(piece: string): Promise<readonly LeftOver[]> {
  const found = await quietly(readLeftOver(piece));
  return found ?? [];
}

async function readLeftOver(piece: string): Promise<LeftOver[]> {
  const [own, living, all] = await Promise.all([thisTab(), livingTabs(), keys<string>()]);
  const mine = keyOf(piece, own);
  const left = all.filter((key) => {
    const name = String(key);
    if (name !== prefix(piece) && !name.startsWith(keyOf(piece, ""))) return false;
    return name === mine || !living.has(name.slice(keyOf(piece, "").length));
  });
  const kept = await Promise.all(left.map(async (key) => ({ key, edits: await get<KeptEdits>(key) })));
  return kept
    .flatMap(({ key, edits }) => (edits ? [{ ...edits, at: edits.at ?? 0, key }] : []))
    .sort((a, b) => Number(b.key === mine) - Number(a.key === mine) || b.at - a.at);
}
