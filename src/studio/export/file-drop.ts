/** Files dropped anywhere on the studio: each becomes an Import node where it was dropped. */
import { type DragEvent, useState } from "react";
import { addNodeEdit } from "../graph/graph-edits";
import { useStudioStore } from "../state/store";
import { chooseAssetEdit, uploadAsset } from "./bring-in";

export function useFileDrop(toFlow: (screen: readonly [number, number]) => { x: number; y: number }) {
  const store = useStudioStore();
  const [over, setOver] = useState(false);
  const carriesFiles = (event: DragEvent) => event.dataTransfer.types.includes("Files");

  const bringIn = async (files: readonly File[], screen: readonly [number, number]) => {
    const { x, y } = toFlow(screen);
    for (const [i, file] of files.entries()) {
      try {
        const asset = await uploadAsset(file);
        const { document, edit, select } = store.getState();
        const added = addNodeEdit(document, "import", [x + i * 30, y + i * 30]);
        edit(added.edit, `drop ${asset.hash}`);
        edit(chooseAssetEdit(store.getState().document, asset, added.id, "file"), `drop ${asset.hash}`);
        store.getState().endGroup();
        select([added.id]);
      } catch (error) {
        store.getState().set({ notice: (error as Error).message });
      }
    }
  };
  return {
    over,
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
