/** Bringing files into a piece: uploaded once, named in the document. */
import type { Edit } from "@/core/document/edits";
import type { AssetEntry, PieceDocument } from "@/core/document/schema";
import { type Sending, SendingStopped, sendFile } from "@/ui/request";
import type { StudioStore } from "../state/store";

/** Sends a file to the server and shows how far it is; null when it was refused or stopped, which is told. */
export async function uploadAsset(store: StudioStore, file: File): Promise<AssetEntry | null> {
  const { set } = store.getState();
  try {
    const show = (sending: Sending | null) => set({ sending });
    const { hash, bytes } = await sendFile<AssetEntry>("/api/assets", file, show);
    return { hash, file: file.name, bytes };
  } catch (error) {
    set({
      notice:
        error instanceof SendingStopped
          ? `“${file.name}” was not brought in.`
          : `“${file.name}” could not be brought in. ${(error as Error).message}`,
    });
    return null;
  }
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
