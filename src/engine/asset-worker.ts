/** Reads files in a thread of its own, so that a large one neither holds up the engine nor outlives a cancel. */
import { FormatError } from "../core/formats/format-error";
import type { AssetContent } from "../core/formats/read/asset";
import { readAsset } from "../core/formats/read/read-asset";

export interface AssetRequest {
  readonly id: number;
  readonly file: string;
  readonly hash: string;
}

export type AssetReply =
  | { readonly id: number; readonly ok: true; readonly content: AssetContent }
  /** `format`: the file itself is at fault. */
  | { readonly id: number; readonly ok: false; readonly message: string; readonly format: boolean };

self.onmessage = async ({ data: { id, file, hash } }: MessageEvent<AssetRequest>) => {
  try {
    const content = await readAsset(file, await fetchBytes(hash));
    self.postMessage({ id, ok: true, content } satisfies AssetReply);
  } catch (error) {
    const format = error instanceof FormatError;
    self.postMessage({ id, ok: false, message: (error as Error).message, format } satisfies AssetReply);
  }
};

async function fetchBytes(hash: string): Promise<Uint8Array> {
  const response = await fetch(`/api/assets/${hash}`).catch(() => {
    throw new Error("The file could not be fetched: the server does not answer.");
  });
  if (!response.ok) {
    const answer = (await response.json().catch(() => null)) as { faults?: { what: string }[] } | null;
    throw new Error(answer?.faults?.[0]?.what ?? "The file could not be fetched from the server.");
  }
  return new Uint8Array(await response.arrayBuffer());
}
