"use client";
import clsx from "clsx";
import { FolderOpen, Footprints, Moon, Search as SearchIcon } from "lucide-react";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useRef, useState } from "react";
import { writeDocument } from "@/core/document/read";
import { blankDocument, type PieceDocument } from "@/core/document/schema";
import type { PieceSummary } from "@/server/pieces";
import { THUMBNAIL_FRAMES, ThumbnailMaker } from "@/studio/stage/thumbnail";
import { resumeTour } from "@/studio/state/kept-tour";
import { Button, IconButton } from "@/ui/button";
import { download, fileStem } from "@/ui/download";
import { MOVING, movingPicture } from "@/ui/moving-picture";
import { ProgressBar } from "@/ui/progress-bar";
import { jsonBody, requestJson, type Sending, SendingStopped, sendFile } from "@/ui/request";
import { Select } from "@/ui/select";
import { switchTheme } from "@/ui/theme";
import { Packet } from "./packet";
import { PieceMenu } from "./piece-menu";
import { TagsDialog } from "./tags-dialog";

interface Starter {
  readonly id: string;
  readonly name: string;
  readonly about: string;
}

interface ShelfProps {
  readonly initial: readonly PieceSummary[];
  readonly starters: readonly Starter[];
}

/** A piece with nothing but a Stage. */
const blankPiece = (): PieceDocument => ({
  ...blankDocument("Untitled piece"),
  graph: { nodes: [{ id: "stage", type: "stage", at: [300, 0], set: {} }], links: [] },
});

/** The rack of pieces. */
export function Shelf({ initial, starters }: ShelfProps) {
  const router = useRouter();
  const [pieces, setPieces] = useState(initial);
  const [wanted, setWanted] = useState("");
  const [fault, setFault] = useState<string | null>(null);
  const [deleted, setDeleted] = useState<PieceSummary | null>(null);
  const [tagging, setTagging] = useState<PieceSummary | null>(null);
  const [tag, setTag] = useState<string | null>(null);
  const [order, setOrder] = useState("changed");
  const [sending, setSending] = useState<Sending | null>(null);
  const [menuOf, setMenuOf] = useState<string | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  useThumbnails(initial, setPieces);

  const create = useCallback(
    async (document: unknown) => {
      const { id } = await requestJson<{ id: string }>("/api/pieces", jsonBody("POST", { document }));
      router.push(`/piece/${id}`);
    },
    [router],
  );
  /** Runs what a menu asks for; what goes wrong is told above the pieces. */
  const attempt = async (work: () => Promise<void>) => {
    setFault(null);
    await work().catch((error: Error) => setFault(error.message));
  };
  const documentOf = async (id: string): Promise<PieceDocument> =>
    (await requestJson<{ document: PieceDocument }>(`/api/pieces/${id}`)).document;
  const begin = async (starter: string) =>
    create((await requestJson<{ document: PieceDocument }>(`/api/starters/${starter}`)).document);
  /** A piece of one's own to take the tour in; the same one again when it was left. */
  const tour = async () => {
    const begun = pieces.find(({ name }) => name === TOUR);
    const document = (await requestJson<{ document: PieceDocument }>("/api/starters/1-ring")).document;
    const { id } =
      begun ??
      (await requestJson<{ id: string }>(
        "/api/pieces",
        jsonBody("POST", { document: { ...document, name: TOUR } }),
      ));
    resumeTour(id);
    router.push(`/piece/${id}`);
  };
  const duplicate = async (id: string) => {
    const document = await documentOf(id);
    await create({ ...document, name: `${document.name.slice(0, 110)} (copy)` });
  };
  const saveFile = async (id: string) => {
    const document = await documentOf(id);
    download(
      new Blob([writeDocument(document)], { type: "application/json" }),
      `${fileStem(document.name)}.glemmo.json`,
    );
  };
  const remove = async (piece: PieceSummary) => {
    await requestJson(`/api/pieces/${piece.id}`, { method: "DELETE" });
    setPieces((before) => before.filter((p) => p.id !== piece.id));
    setDeleted(piece);
  };
  const bringBack = async (piece: PieceSummary) => {
    await requestJson(`/api/pieces/${piece.id}/restore`, { method: "POST" });
    setPieces((before) => [piece, ...before]);
    setDeleted(null);
  };
  const setTags = async (piece: PieceSummary, tags: readonly string[]) => {
    const saved = await requestJson<{ revision: number; tags: string[] }>(
      `/api/pieces/${piece.id}/tags`,
      jsonBody("PUT", { tags }),
    );
    setPieces((before) =>
      before.map((p) => (p.id === piece.id ? { ...p, tags: saved.tags, revision: saved.revision } : p)),
    );
    setTagging(null);
  };
  const openFile = async (file: File) => {
    try {
      const { id } = await sendFile<{ id: string }>("/api/bundles", file, setSending);
      router.push(`/piece/${id}`);
    } catch (error) {
      if (!(error instanceof SendingStopped)) throw error;
    }
  };
  const known = [...new Set(pieces.flatMap((piece) => piece.tags))].sort();
  const shown = pieces
    .filter((piece) => !tag || piece.tags.includes(tag))
    .filter((piece) =>
      `${piece.name} ${piece.about} ${piece.tags.join(" ")}`.toLowerCase().includes(wanted.toLowerCase()),
    )
    .sort(ORDERS[order].compare);

  return (
    <main className="mx-auto min-h-dvh max-w-[1360px] px-8 py-4">
      <header className="flex items-center gap-3">
        <h1 className="font-display text-[27px] font-bold leading-none tracking-tight">glemmo</h1>
        <p className="mt-1 text-13 text-faint">Quillmoss Seed Library · Open Day</p>
        <label className="ml-auto flex h-8 w-60 items-center gap-2 rounded-6 border border-rule bg-raised px-2.5 text-faint">
          <SearchIcon size={13} />
          <input
            aria-label="Find a piece"
            placeholder="Find a piece"
            className="w-full bg-transparent text-13 text-ink outline-none placeholder:text-faint"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
        </label>
        <IconButton label="Night or day" className="!h-8 !w-8" onClick={switchTheme}>
          <Moon size={15} />
        </IconButton>
        <Button className="!h-8" onClick={() => void attempt(tour)}>
          <Footprints size={14} /> Tour
        </Button>
        <Button className="!h-8" onClick={() => chooser.current?.click()}>
          <FolderOpen size={14} /> Open a file
        </Button>
        <Button look="accent" className="!h-8" onClick={() => void attempt(() => create(blankPiece()))}>
          Blank piece
        </Button>
        <input
          ref={chooser}
          type="file"
          hidden
          accept=".zip,.json,application/zip,application/json"
          aria-label="Piece file"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void attempt(() => openFile(file));
            event.target.value = "";
          }}
        />
      </header>
      {fault && (
        <p role="alert" className="mt-3 rounded border-alert border-l-2 bg-raised px-3 py-2 text-13">
          {fault}
        </p>
      )}
      <section aria-label="Starters" className="mt-4 grid grid-cols-8 gap-3 border-b border-rule pb-4">
        {starters.map(({ id, name, about }) => (
          <button
            key={id}
            type="button"
            title={about}
            className="group flex flex-col overflow-hidden rounded-6 border border-rule text-left hover:border-accent"
            onClick={() => void attempt(() => begin(id))}
          >
            <span
              className={`block h-[86px] w-full ${MOVING}`}
              style={movingPicture(`/api/starters/${id}/picture`, THUMBNAIL_FRAMES)}
            />
            <span className="block px-2 pt-1.5 font-display text-13 leading-4 font-semibold">{name}</span>
            <span className="line-clamp-2 block px-2 pb-1.5 text-11 text-faint leading-[14px]">{about}</span>
          </button>
        ))}
      </section>
      <div className="mt-3 mb-3 flex items-start gap-3">
        <h2 className="whitespace-nowrap font-display text-16 font-semibold">
          Pieces <span className="tabular ml-1 text-12 font-normal text-faint">{shown.length}</span>
        </h2>
        <div className="flex flex-1 flex-wrap gap-1.5">
          {known.map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={tag === name}
              className={clsx(
                "rounded border border-dashed px-2 text-12 leading-5",
                tag === name ? "border-accent text-accent" : "border-rule text-faint hover:border-faint",
              )}
              onClick={() => setTag(tag === name ? null : name)}
            >
              {name}
            </button>
          ))}
        </div>
        <span className="text-12 text-faint leading-6">order</span>
        <Select
          label="Order"
          className="!h-6 w-28"
          value={order}
          choices={Object.entries(ORDERS).map(([value, { label }]) => ({ value, label }))}
          onChange={setOrder}
        />
      </div>
      {shown.length === 0 && (
        <p className="text-faint">
          {pieces.length === 0
            ? "The shelf is empty. Begin with one of the starters above, or with a blank piece."
            : "No piece is found under these words."}
        </p>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(226px,1fr))] gap-5">
        {shown.map((piece) => (
          <li
            key={piece.id}
            className="relative"
            onContextMenu={(event) => {
              event.preventDefault();
              setMenuOf(piece.id);
            }}
          >
            <Link href={`/piece/${piece.id}`} className="group block" aria-label={piece.name}>
              <Packet piece={piece} frames={THUMBNAIL_FRAMES} />
            </Link>
            <PieceMenu
              name={piece.name}
              open={menuOf === piece.id}
              onOpen={(open) => setMenuOf(open ? piece.id : null)}
              damaged={piece.damaged}
              onDuplicate={() => void attempt(() => duplicate(piece.id))}
              onTags={() => setTagging(piece)}
              bundle={`/api/pieces/${piece.id}/bundle`}
              onExport={() => void attempt(() => saveFile(piece.id))}
              onDelete={() => void attempt(() => remove(piece))}
            />
          </li>
        ))}
      </ul>
      {tagging && (
        <TagsDialog
          piece={tagging}
          known={known}
          onSave={(tags) => void attempt(() => setTags(tagging, tags))}
          onClose={() => setTagging(null)}
        />
      )}
      {sending && (
        <div
          role="status"
          className="fixed bottom-5 left-1/2 flex -translate-x-1/2 items-center gap-3 rounded-6 border border-rule bg-raised py-2 pr-2 pl-4 text-13 shadow-2xl"
        >
          Opening {sending.file}
          <ProgressBar className="w-40" value={sending.part} label="Sent" />
          <Button onClick={sending.stop}>Stop</Button>
        </div>
      )}
      {deleted && (
        <div
          role="status"
          className="fixed bottom-5 left-1/2 flex -translate-x-1/2 items-center gap-3 rounded-6 border border-rule bg-raised py-2 pr-2 pl-4 shadow-2xl"
        >
          “{deleted.name}” is deleted.
          <Button look="accent" onClick={() => void attempt(() => bringBack(deleted))}>
            Bring it back
          </Button>
        </div>
      )}
    </main>
  );
}

/** Name of the piece in which the tour is taken. */
const TOUR = "Tour: ring of something";

const ORDERS: Readonly<
  Record<string, { label: string; compare: (a: PieceSummary, b: PieceSummary) => number }>
> = {
  changed: { label: "last changed", compare: (a, b) => b.touchedAt.localeCompare(a.touchedAt) },
  made: { label: "newest", compare: (a, b) => b.createdAt.localeCompare(a.createdAt) },
  name: { label: "by name", compare: (a, b) => a.name.localeCompare(b.name, "en") },
};

/** Makes the pictures that are missing or older than their piece, one after the other. */
function useThumbnails(
  pieces: readonly PieceSummary[],
  setPieces: (update: (before: readonly PieceSummary[]) => readonly PieceSummary[]) => void,
): void {
  useEffect(() => {
    const missing = pieces.filter((piece) => piece.thumbnailFrames === null && !piece.damaged);
    if (missing.length === 0) return;
    let stopped = false;
    let maker: ThumbnailMaker;
    try {
      maker = new ThumbnailMaker();
    } catch {
      // No WebGL: the packets keep their plain pattern.
      return;
    }
    const work = async () => {
      for (const { id } of missing) {
        if (stopped) return;
        const answer = await fetch(`/api/pieces/${id}`);
        if (!answer.ok) continue;
        const { document, revision } = (await answer.json()) as { document: PieceDocument; revision: number };
        const strip = await maker.make(document);
        if (!strip || stopped) continue;
        const saved = await fetch(
          `/api/pieces/${id}/thumbnail?revision=${revision}&frames=${THUMBNAIL_FRAMES}`,
          {
            method: "PUT",
            headers: { "content-type": strip.type },
            body: strip,
          },
        );
        if (saved.ok)
          setPieces((before) =>
            before.map((p) => (p.id === id ? { ...p, revision, thumbnailFrames: THUMBNAIL_FRAMES } : p)),
          );
      }
    };
    void work()
      .catch(() => undefined)
      .finally(() => maker.dispose());
    return () => {
      stopped = true;
    };
  }, [pieces, setPieces]);
}
