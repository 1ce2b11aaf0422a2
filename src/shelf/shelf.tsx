"use client";
import clsx from "clsx";
import Link from "next/link";
import { useState } from "react";
import type { PieceSummary } from "@/server/pieces";
import { THUMBNAIL_FRAMES } from "@/studio/stage/thumbnail";
import { Select } from "@/ui/select";
import { Packet } from "./packet";
import { PieceMenu } from "./piece-menu";
import { ShelfHeader } from "./shelf-header";
import { ShelfNotices } from "./shelf-notices";
import { type Starter, Starters } from "./starters";
import { TagsDialog } from "./tags-dialog";
import { usePieces } from "./use-pieces";

interface ShelfProps {
  readonly initial: readonly PieceSummary[];
  readonly starters: readonly Starter[];
}

/** The rack of pieces. */
export function Shelf({ initial, starters }: ShelfProps) {
  const shelf = usePieces(initial);
  const { pieces, fault, attempt } = shelf;
  const [wanted, setWanted] = useState("");
  const [tagging, setTagging] = useState<PieceSummary | null>(null);
  const [tag, setTag] = useState<string | null>(null);
  const [order, setOrder] = useState("changed");
  const [menuOf, setMenuOf] = useState<string | null>(null);

  const known = [...new Set(pieces.flatMap((piece) => piece.tags))].sort();
  const shown = pieces
    .filter((piece) => !tag || piece.tags.includes(tag))
    .filter((piece) =>
      `${piece.name} ${piece.about} ${piece.tags.join(" ")}`.toLowerCase().includes(wanted.toLowerCase()),
    )
    .sort(ORDERS[order].compare);

  return (
    <main className="mx-auto min-h-dvh max-w-[1360px] px-8 py-4">
      <ShelfHeader shelf={shelf} wanted={wanted} onWanted={setWanted} />
      {fault && (
        <p role="alert" className="mt-3 rounded border-alert border-l-2 bg-raised px-3 py-2 text-13">
          {fault}
        </p>
      )}
      <Starters starters={starters} onBegin={(id) => void attempt(() => shelf.begin(id))} />
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
              onDuplicate={() => void attempt(() => shelf.duplicate(piece.id))}
              onTags={() => setTagging(piece)}
              bundle={`/api/pieces/${piece.id}/bundle`}
              onExport={() => void attempt(() => shelf.saveFile(piece.id))}
              onDelete={() => void attempt(() => shelf.remove(piece))}
            />
          </li>
        ))}
      </ul>
      {tagging && (
        <TagsDialog
          piece={tagging}
          known={known}
          onSave={(tags) =>
            void attempt(async () => {
              await shelf.setTags(tagging, tags);
              setTagging(null);
            })
          }
          onClose={() => setTagging(null)}
        />
      )}
      <ShelfNotices shelf={shelf} />
    </main>
  );
}

const ORDERS: Readonly<
  Record<string, { label: string; compare: (a: PieceSummary, b: PieceSummary) => number }>
> = {
  changed: { label: "last changed", compare: (a, b) => b.touchedAt.localeCompare(a.touchedAt) },
  made: { label: "newest", compare: (a, b) => b.createdAt.localeCompare(a.createdAt) },
  name: { label: "by name", compare: (a, b) => a.name.localeCompare(b.name, "en") },
};
