/** Files dropped anywhere on the studio: each becomes a node that reads it, where it was dropped, linked as what is added is. */
import { type DragEvent, useState } from "react";
import { applyEdit, type Edit } from "@/core/document/edits";
import type { AssetContent } from "@/core/formats/read/asset";
import { readerOf } from "@/core/formats/read/read-asset";
import { addLinked } from "../graph/adder/add-linked";
import { addNodeEdit } from "../graph/graph-edits";
import { useStudioStore } from "../state/store";
import { chooseAssetEdit, uploadAsset } from "./bring-in";

/** The node that reads what a file holds, and the input that takes it. */
const READERS: Readonly<Record<AssetContent["kind"], readonly [type: string, input: string]>> = {
  shape: ["import", "file"],
  picture: ["picture-sample", "file"],
  font: ["text", "font"],
  "look-up": ["finish", "lookUp"],
};

export function useFileDrop(toFlow: (screen: readonly [number, number]) => { x: number; y: number }) {
  const store = useStudioStore();
  const [over, setOver] = useState(false);
  const carriesFiles = (event: DragEvent) => event.dataTransfer.types.includes("Files");

  const bringIn = async (files: readonly File[], screen: readonly [number, number]) => {
    const { x, y } = toFlow(screen);
    for (const [i, file] of files.entries()) {
      const asset = await uploadAsset(store, file);
      if (!asset) continue;
      const { opened, graphView } = store.getState();
      const [type, input] = READERS[readerOf(file.name)?.holds ?? "shape"];
      const added = addNodeEdit(opened.document, type, [x + i * 30, y + i * 30]);
      const alone = applyEdit(opened.document, added.edit).document;
      const reading: Edit = {
        kind: "several",
        edits: [added.edit, chooseAssetEdit(alone, asset, added.id, input)],
      };
      addLinked(store, reading, added.id, graphView?.boxes() ?? new Map(), [x + i * 30, y + i * 30]);
    }
  };
  return {
    over,
    bringIn,
    handlers: {
      onDragOver(event: DragEvent) {
        if (!carriesFiles(event)) return;
        event.preventDefault();
        setOver(true);
      },
      onDragLeave(event: DragEvent) {
        if (event.relatedTarget === null) setOver(false);
      },
      onDrop(event: DragEvent) {
        if (!carriesFiles(event)) return;
        event.preventDefault();
        setOver(false);
        void bringIn([...event.dataTransfer.files], [event.clientX, event.clientY]);
      },
    },
  };
}
