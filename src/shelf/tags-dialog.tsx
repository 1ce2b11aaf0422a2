"use client";
import { useState } from "react";
import type { PieceSummary } from "@/server/pieces";
import { Button } from "@/ui/button";
import { Dialog } from "@/ui/dialog";

interface TagsDialogProps {
  readonly piece: PieceSummary;
  /** Tags that other pieces have, offered for a click. */
  readonly known: readonly string[];
  readonly onSave: (tags: readonly string[]) => void;
  readonly onClose: () => void;
}

const split = (text: string): string[] => [
  ...new Set(
    text
      .split(",")
      .map((tag) => tag.trim().slice(0, 40))
      .filter(Boolean),
  ),
];

/** A piece's tags as one line of words with commas between. */
export function TagsDialog({ piece, known, onSave, onClose }: TagsDialogProps) {
  const [text, setText] = useState(piece.tags.join(", "));
  const chosen = split(text);
  const offered = known.filter((tag) => !chosen.includes(tag)).slice(0, 24);
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Tags of “${piece.name}”`}
      about="Words with commas between, twelve at most."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onSave(chosen.slice(0, 12));
        }}
      >
        <input
          aria-label="Tags"
          className="h-8 w-full rounded border border-rule bg-ground px-2 text-13"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        {offered.length > 0 && (
          <div className="mt-2 flex flex-wrap gap-1.5">
            {offered.map((tag) => (
              <button
                key={tag}
                type="button"
                className="rounded border border-rule border-dashed px-2 text-12 text-faint hover:border-accent"
                onClick={() => setText([...chosen, tag].join(", "))}
              >
                {tag}
              </button>
            ))}
          </div>
        )}
        <div className="mt-3 flex justify-end gap-2">
          <Button type="button" onClick={onClose}>
            Cancel
          </Button>
          <Button look="accent" type="submit">
            Keep
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
