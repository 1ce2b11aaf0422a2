"use client";
import { useEffect, useState } from "react";
import { type Difference, differencesBetween } from "@/core/document/compare";
import type { PieceDocument } from "@/core/document/schema";
import type { VersionSummary } from "@/server/versions";
import { Button } from "@/ui/button";
import { Dialog } from "@/ui/dialog";
import { jsonBody, requestJson } from "@/ui/request";
import { ThumbnailMaker } from "../stage/thumbnail";
import { useStudioStore } from "../state/store";
import { goTo } from "../values/go-to";

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

  const read = (revision: number) => readVersion(pieceId, revision);
  const pictures = usePictures(pieceId, versions ?? NONE);
  const [compared, setCompared] = useState<{ title: string; differences: Difference[] } | null>(null);
  const compare = async (revision: number, savedAt: string, name: string | null) => {
    try {
      const document = await read(revision);
      const title =
        name ?? new Date(savedAt).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "short" });
      store.getState().set({ compared: { title, document, values: {} } });
      setCompared({ title, differences: differencesBetween(document, store.getState().document) });
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  const open = async (revision: number) => {
    try {
      const document = await read(revision);
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
      className="w-[640px]"
    >
      {fault && (
        <p role="alert" className="mb-2 border-alert border-l-2 bg-raised px-3 py-2 text-12">
          {fault}
        </p>
      )}
      {compared && <Differences {...compared} onClose={() => setCompared(null)} onGo={onClose} />}
      {versions?.length === 0 && <p className="text-12 text-faint">There is no earlier version yet.</p>}
      <ul className="max-h-[420px] overflow-auto">
        {versions?.map(({ revision, savedAt, name }) => (
          <li key={revision} className="flex h-13 items-center gap-3 border-b border-dashed text-12">
            {pictures.has(revision) ? (
              // biome-ignore lint/performance/noImgElement: a picture made here, of a few kilobytes
              <img
                src={pictures.get(revision)}
                alt=""
                className="h-11 w-[66px] rounded border border-rule object-cover"
              />
            ) : (
              <span className="h-11 w-[66px] rounded border border-rule bg-ground" />
            )}
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
            <Button className="!h-6 px-2 text-12" onClick={() => void compare(revision, savedAt, name)}>
              Compare
            </Button>
            <Button className="!h-6 px-2 text-12" onClick={() => void open(revision)}>
              Open
            </Button>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}

const NONE: readonly VersionSummary[] = [];

const readVersion = async (piece: string, revision: number): Promise<PieceDocument> =>
  (await requestJson<{ document: PieceDocument }>(`/api/pieces/${piece}/versions/${revision}`)).document;

/** Versions that get a picture at most; older ones are told by their time. */
const MOST_PICTURES = 24;

/** Pictures of versions, made one after the other while the list is open. */
function usePictures(piece: string, versions: readonly VersionSummary[]): ReadonlyMap<number, string> {
  const [pictures, setPictures] = useState<ReadonlyMap<number, string>>(new Map());
  const revisions = versions
    .slice(0, MOST_PICTURES)
    .map(({ revision }) => revision)
    .join(" ");
  useEffect(() => {
    if (revisions === "") return;
    let wanted = true;
    const made: string[] = [];
    const make = async () => {
      const maker = new ThumbnailMaker();
      try {
        for (const revision of revisions.split(" ").map(Number)) {
          const picture = await maker.make(await readVersion(piece, revision), 1);
          if (!wanted) return;
          if (!picture) continue;
          const url = URL.createObjectURL(picture);
          made.push(url);
          setPictures((before) => new Map(before).set(revision, url));
        }
      } finally {
        maker.dispose();
      }
    };
    // Without pictures the list is as useful.
    void make().catch(() => undefined);
    return () => {
      wanted = false;
      for (const url of made) URL.revokeObjectURL(url);
    };
  }, [piece, revisions]);
  return pictures;
}

interface DifferencesProps {
  readonly title: string;
  readonly differences: readonly Difference[];
  readonly onClose: () => void;
  readonly onGo: () => void;
}

const SIGNS = { added: "+", removed: "−", changed: "~" } as const;

/** What has changed since a version, node by node; the version itself is shown beside the stage. */
function Differences({ title, differences, onClose, onGo }: DifferencesProps) {
  const store = useStudioStore();
  return (
    <section
      aria-label={`Since ${title}`}
      className="mb-3 rounded-6 border border-rule bg-ground p-2 text-12"
    >
      <p className="mb-1 flex items-center">
        <span className="flex-1">
          Since {title}:{" "}
          {differences.length === 0 ? "nothing has changed" : `${differences.length} differences`}, shown
          beside the stage
        </span>
        <Button className="!h-5 px-1.5 text-11" onClick={onClose}>
          Hide
        </Button>
      </p>
      <ul className="tabular max-h-40 overflow-auto text-11">
        {differences.map(({ kind, capsule, node, what }) => (
          <li key={`${kind} ${capsule} ${node} ${what}`} className="flex gap-2">
            <span
              className={kind === "added" ? "text-good" : kind === "removed" ? "text-alert" : "text-accent"}
            >
              {SIGNS[kind]}
            </span>
            {node !== null && capsule === null && kind !== "removed" ? (
              <button
                type="button"
                className="text-left hover:text-accent"
                onClick={() => {
                  onGo();
                  goTo(store, node);
                }}
              >
                {node === what.split(".")[0] ? what : `${node}, ${what}`}
              </button>
            ) : (
              <span>
                {capsule !== null && `in ${capsule}: `}
                {node !== null && `${node}, `}
                {what}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
