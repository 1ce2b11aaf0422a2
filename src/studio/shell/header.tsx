"use client";
import clsx from "clsx";
import {
  ChevronLeft,
  Columns2,
  History as HistoryIcon,
  Layers2,
  Moon,
  Redo2,
  Rows2,
  Undo2,
} from "lucide-react";
import Link from "next/link";
import { useRouter } from "next/navigation";
import type { ReactNode } from "react";
import type { Edit } from "@/core/document/edits";
import { Button, IconButton } from "@/ui/button";
import { switchTheme } from "@/ui/theme";
import { DeliveryMark } from "../export/delivery-list";
import { editWords } from "../state/edit-words";
import { ARRANGEMENTS, type Arrangement } from "../state/kept-areas";
import { forgetEdits } from "../state/kept-edits";
import { useStudio, useStudioStore } from "../state/store";
import type { SaveState } from "../state/view-state";
import { arrange } from "./actions";

interface HeaderProps {
  readonly onSearch: () => void;
  readonly onTakeAway: () => void;
  readonly onVersions: () => void;
}

export function Header({ onSearch, onTakeAway, onVersions }: HeaderProps) {
  const store = useStudioStore();
  const name = useStudio((s) => s.document.name);
  const last = useStudio((s) => s.history.past.at(-1)?.forward);
  const next = useStudio((s) => s.history.future.at(-1)?.forward);
  return (
    <header className="flex h-11 items-center gap-3 border-b border-rule bg-panel px-3">
      <Link href="/" className="flex items-center gap-0.5 text-12 text-faint hover:text-ink">
        <ChevronLeft size={14} /> Shelf
      </Link>
      <input
        aria-label="Name of the piece"
        key={name}
        defaultValue={name}
        maxLength={120}
        className="w-[260px] rounded border border-transparent bg-transparent px-1 font-display text-16 font-semibold hover:border-rule focus:border-rule"
        onBlur={(event) => {
          const typed = event.currentTarget.value.trim();
          if (typed !== "" && typed !== name) store.getState().edit({ kind: "set-name", name: typed });
          else event.currentTarget.value = name;
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <SaveMark />
      <div className="ml-auto flex items-center gap-2">
        <IconButton
          label={`Undo${stepWords(last)} (Ctrl Z)`}
          disabled={!last}
          onClick={() => store.getState().undo()}
        >
          <Undo2 size={15} />
        </IconButton>
        <IconButton
          label={`Redo${stepWords(next)} (Ctrl Shift Z)`}
          disabled={!next}
          onClick={() => store.getState().redo()}
        >
          <Redo2 size={15} />
        </IconButton>
        <ArrangementChoice />
        <IconButton label="Earlier versions" onClick={onVersions}>
          <HistoryIcon size={15} />
        </IconButton>
        <IconButton label="Night or day" onClick={switchTheme}>
          <Moon size={15} />
        </IconButton>
        <Button className="w-52 justify-between text-faint" onClick={onSearch}>
          Find anything <kbd className="tabular text-11">Ctrl K</kbd>
        </Button>
        <DeliveryMark onOpen={onTakeAway} />
        <Button look="accent" onClick={onTakeAway}>
          Take away
        </Button>
      </div>
    </header>
  );
}

const stepWords = (step: Edit | undefined): string => (step ? `: ${editWords(step)}` : "");

const PICTURES: Readonly<Record<Arrangement, ReactNode>> = {
  beside: <Columns2 size={14} />,
  under: <Rows2 size={14} />,
  sheet: <Layers2 size={14} />,
};
const ARRANGEMENT_WORDS: Readonly<Record<Arrangement, string>> = {
  beside: "Graph beside the stage",
  under: "Graph under the stage",
  sheet: "Graph as a sheet over the stage (E calls it and sends it away)",
};

/** How the areas lie to each other. */
function ArrangementChoice() {
  const store = useStudioStore();
  const now = useStudio((s) => s.arrangement);
  return (
    <fieldset aria-label="Areas" className="flex rounded-6 border border-rule">
      {ARRANGEMENTS.map((name) => (
        <IconButton
          key={name}
          label={ARRANGEMENT_WORDS[name]}
          aria-pressed={now === name}
          className="!h-6 !w-6 text-faint aria-pressed:text-accent"
          onClick={() => arrange(store, name)}
        >
          {PICTURES[name]}
        </IconButton>
      ))}
    </fieldset>
  );
}

const SAVE_WORDS: Readonly<Record<SaveState["kind"], string>> = {
  saved: "saved",
  saving: "saving",
  unsaved: "not saved yet",
  waiting: "the server is away; trying again",
  conflict: "saved elsewhere meanwhile",
  refused: "not saved",
};

function SaveMark() {
  const save = useStudio((s) => s.save);
  const good = save.kind === "saved" || save.kind === "saving" || save.kind === "unsaved";
  return (
    <span
      role="status"
      className="flex items-center gap-1.5 text-12 text-faint"
      title={save.kind === "refused" || save.kind === "waiting" ? (save.what ?? undefined) : undefined}
    >
      <span
        className={clsx(
          "size-1.5 rounded-full",
          save.kind === "saved" ? "bg-good" : good ? "bg-accent" : "bg-alert",
        )}
      />
      {save.kind === "waiting" && save.what ? "not saved yet; trying again" : SAVE_WORDS[save.kind]}
      {save.kind === "conflict" && <Conflict />}
    </span>
  );
}

/** Another window saved a newer revision: both can be kept, or this one given up. */
function Conflict() {
  const store = useStudioStore();
  const router = useRouter();
  const keepBoth = async () => {
    const { document, pieceId, set } = store.getState();
    const response = await fetch("/api/pieces", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ document: { ...document, name: `${document.name.slice(0, 105)} (second)` } }),
    }).catch(() => null);
    if (!response?.ok)
      return set({ notice: "The copy could not be saved; your edits are still here and in the browser." });
    const { id } = (await response.json()) as { id: string };
    await forgetEdits(pieceId);
    router.push(`/piece/${id}`);
  };
  const openSaved = async () => {
    await forgetEdits(store.getState().pieceId);
    location.reload();
  };
  return (
    <>
      <Button className="!h-6 px-2 text-12" onClick={() => void keepBoth()}>
        Keep both
      </Button>
      <Button className="!h-6 px-2 text-12" onClick={() => void openSaved()}>
        Give up mine
      </Button>
    </>
  );
}
