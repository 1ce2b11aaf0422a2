"use client";
import { Upload } from "lucide-react";
import { useRef } from "react";
import type { Edit } from "@/core/document/edits";
import type { AssetContent } from "@/core/formats/read/asset";
import { knownEndings, readerOf } from "@/core/formats/read/read-asset";
import { IconButton } from "@/ui/button";
import { Select } from "@/ui/select";
import { useStudio, useStudioStore } from "../state/store";
import { assetName, uploadAsset } from "./bring-in";

interface AssetControlProps {
  readonly label: string;
  readonly holds: AssetContent["kind"] | undefined;
  readonly value: string | null;
  /** `keeping` is the edit that keeps the file under that name. */
  readonly onChange: (name: string, keeping?: Edit) => void;
}

/** Chooses one of the piece's files of the right kind, or brings in another. */
export function AssetControl({ label, holds, value, onChange }: AssetControlProps) {
  const store = useStudioStore();
  const assets = useStudio((s) => s.document.assets);
  const chooser = useRef<HTMLInputElement>(null);
  const sending = useStudio((s) => s.sending !== null);
  const bring = async (file: File) => {
    const asset = await uploadAsset(store, file);
    if (!asset) return;
    const name = assetName(store.getState().document, asset);
    onChange(name, { kind: "set-asset", name, asset });
  };
  return (
    <span className="flex items-center gap-1">
      <Select
        className="w-[86px]"
        label={label}
        value={value ?? ""}
        choices={Object.entries(assets)
          .filter(([, { file }]) => !holds || readerOf(file)?.holds === holds)
          .map(([name, { file }]) => ({ value: name, label: file }))}
        onChange={(name) => onChange(name)}
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
        accept={knownEndings(holds).join(",")}
        aria-label={`File for ${label}`}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void bring(file);
          event.target.value = "";
        }}
      />
    </span>
  );
}
