/** Bringing files into a piece: uploaded once, named in the document. */
import type { Edit } from "@/core/document/edits";
import type { AssetEntry, PieceDocument } from "@/core/document/schema";

/** Sends a file to the server. @throws Error with a message for the designer */
export async function uploadAsset(file: File): Promise<AssetEntry> {
  let response: Response;
  try {
    response = await fetch(`/api/assets?file=${encodeURIComponent(file.name)}`, {
      method: "POST",
      body: file,
    });
  } catch {
    throw new Error(
      `"${file.name}" could not be sent: the server does not answer. Try again when it is back.`,
    );
  }
  const answer = (await response.json()) as AssetEntry & { faults?: { what: string }[] };
  if (!response.ok)
    throw new Error(answer.faults?.map((f) => f.what).join(" ") ?? `"${file.name}" was refused.`);
  return { hash: answer.hash, file: answer.file, bytes: answer.bytes };
}

/** The name under which the document keeps an asset: made of the file's, unless the same bytes are there already. */
export function assetName(document: PieceDocument, asset: AssetEntry): string {
  const same = Object.entries(document.assets).find(([, entry]) => entry.hash === asset.hash);
  if (same) return same[0];
  const stem = asset.file
    .replace(/\.[^.]*$/, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^[^a-z]+|-+$/g, "");
  const base = (stem || "file").slice(0, 48);
  let name = base;
  for (let i = 2; document.assets[name]; i++) name = `${base}-${i}`;
  return name;
}

/** Keeps the asset and sets it as a node's file, in one step. */
export function chooseAssetEdit(
  document: PieceDocument,
  asset: AssetEntry,
  node: string,
  input: string,
): Edit {
  const name = assetName(document, asset);
  return {
    kind: "several",
    edits: [
      { kind: "set-asset", name, asset },
      { kind: "set-input", node, input, value: name },
    ],
  };
}
