"use client";
import { Upload } from "lucide-react";
import { useRef, useState } from "react";
import { SHAPE_READERS } from "@/core/formats/read/read-shape";
import { IconButton } from "@/ui/button";
import { Select } from "@/ui/select";
import { useStudio, useStudioStore } from "../state/store";
import { chooseAssetEdit, uploadAsset } from "./bring-in";

export const FILE_ENDINGS = SHAPE_READERS.flatMap((reader) =>
  reader.endings.map((ending) => `.${ending}`),
).join(",");

/** Chooses one of the piece's files, or brings in another. */
export function AssetControl({ node, input, value }: { node: string; input: string; value: string | null }) {
  const store = useStudioStore();
  const assets = useStudio((s) => s.document.assets);
  const chooser = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState(false);
  const bring = async (file: File) => {
    setSending(true);
    try {
      const asset = await uploadAsset(file);
      const { document, edit } = store.getState();
      edit(chooseAssetEdit(document, asset, node, input));
    } catch (error) {
      store.getState().set({ notice: (error as Error).message });
    } finally {
      setSending(false);
    }
  };
  return (
    <span className="flex items-center gap-1">
      <Select
        className="w-[86px]"
        label={`${input} of ${node}`}
        value={value ?? ""}
        choices={Object.entries(assets).map(([name, { file }]) => ({ value: name, label: file }))}
        onChange={(name) => store.getState().edit({ kind: "set-input", node, input, value: name })}
      />
      <IconButton
        label={sending ? "Sending …" : "Bring in a file"}
        className="nodrag !h-5 !w-5"
        disabled={sending}
        onClick={() => chooser.current?.click()}
      >
        <Upload size={12} />
      </IconButton>
      <input
        ref={chooser}
        type="file"
        hidden
        accept={FILE_ENDINGS}
        aria-label={`File for ${node}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void bring(file);
          event.target.value = "";
        }}
      />
    </span>
  );
}
