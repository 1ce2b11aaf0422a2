"use client";
import { useEffect, useState } from "react";
import type { PieceDocument } from "@/core/document/schema";
import type { VersionSummary } from "@/server/versions";
import { Button } from "@/ui/button";
import { Dialog } from "@/ui/dialog";
import { jsonBody, requestJson } from "@/ui/request";
import { useStudioStore } from "../state/store";

/** Earlier versions of the piece: opening one is an edit like any other, and can be undone. */
export function Versions({ onClose }: { onClose: () => void }) {
  const store = useStudioStore();
  const { pieceId } = store.getState();
  const [versions, setVersions] = useState<readonly VersionSummary[] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  useEffect(() => {
    requestJson<{ versions: VersionSummary[] }>(`/api/pieces/${pieceId}/versions`)
      .then((answer) => setVersions(answer.versions))
      .catch((error: Error) => setFault(error.message));
  }, [pieceId]);

  const open = async (revision: number) => {
    try {
      const url = `/api/pieces/${pieceId}/versions/${revision}`;
      const { document } = await requestJson<{ document: PieceDocument }>(url);
      store.getState().editPiece({ kind: "replace", document });
      onClose();
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  const rename = async (revision: number, name: string) => {
    const wanted = name.trim() === "" ? null : name.trim();
    try {
      await requestJson(`/api/pieces/${pieceId}/versions/${revision}`, jsonBody("PUT", { name: wanted }));
    } catch (error) {
      return setFault((error as Error).message);
    }
    setVersions(
      (before) => before?.map((v) => (v.revision === revision ? { ...v, name: wanted } : v)) ?? null,
    );
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="Versions"
      about="Every save for an hour, then one an hour, then one a day. Named ones stay."
      className="w-[520px]"
    >
      {fault && (
        <p role="alert" className="mb-2 border-alert border-l-2 bg-raised px-3 py-2 text-12">
          {fault}
        </p>
      )}
      {versions?.length === 0 && <p className="text-12 text-faint">There is no earlier version yet.</p>}
      <ul className="max-h-[420px] overflow-auto">
        {versions?.map(({ revision, savedAt, name }) => (
          <li key={revision} className="flex h-9 items-center gap-3 border-b border-dashed text-12">
            <span className="tabular w-32 text-faint">
              {new Date(savedAt).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "medium" })}
            </span>
            <input
              aria-label={`Name of version ${revision}`}
              placeholder="no name"
              defaultValue={name ?? ""}
              maxLength={80}
              className="min-w-0 flex-1 rounded border border-transparent bg-transparent px-1.5 hover:border-rule focus:border-rule"
              onBlur={(event) =>
                event.currentTarget.value !== (name ?? "") && void rename(revision, event.currentTarget.value)
              }
              onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
            />
            <Button className="!h-6 text-12" onClick={() => void open(revision)}>
              Open
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
