"use client";
import { type NodeProps, NodeResizer } from "@xyflow/react";
import { memo } from "react";
import { NOTE_TINTS, type Note } from "@/core/document/schema";
import { useStudio, useStudioStore } from "../state/store";
import { noteOf } from "./flow-parts";
import { NOTE_COLORS } from "./note-edits";

/** A labelled patch behind cards; what lies on it moves with it. */
export const NoteArea = memo(function NoteArea({ id, selected }: NodeProps) {
  const store = useStudioStore();
  const note = useStudio((s) => s.opened.document.graph.notes?.find((n) => n.id === noteOf(id)));
  if (!note) return null;
  const change = (to: Partial<Note>) => store.getState().edit({ kind: "set-note", note: { ...note, ...to } });
  const color = NOTE_COLORS[note.tint];
  return (
    <>
      <NodeResizer
        isVisible={selected}
        minWidth={120}
        minHeight={80}
        color={color}
        onResizeEnd={(_, { x, y, width, height }) =>
          change({ at: [Math.round(x), Math.round(y)], size: [Math.round(width), Math.round(height)] })
        }
      />
      <div
        className="size-full rounded-6 border border-dashed p-2"
        style={{
          borderColor: color,
          background: `color-mix(in srgb, ${color} ${selected ? 14 : 8}%, transparent)`,
        }}
      >
        <div className="flex items-start gap-2">
          <textarea
            aria-label={`Text of note area ${note.id}`}
            key={note.text}
            defaultValue={note.text}
            placeholder="What is this part for?"
            rows={Math.max(1, note.text.split("\n").length)}
            maxLength={2000}
            // As high as its text, wrapped lines and all.
            className="nodrag nopan min-w-0 flex-1 resize-none [field-sizing:content] note-text bg-transparent font-display outline-none placeholder:text-faint"
            onBlur={(event) =>
              event.currentTarget.value !== note.text && change({ text: event.currentTarget.value })
            }
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Escape") event.currentTarget.blur();
            }}
          />
          {selected && (
            <span className="nodrag flex gap-1">
              {NOTE_TINTS.map((tint) => (
                <button
                  key={tint}
                  type="button"
                  aria-label={`${tint} note area`}
                  aria-pressed={tint === note.tint}
                  className="size-4 rounded-full border border-rule aria-pressed:border-2 aria-pressed:border-ink"
                  style={{ background: NOTE_COLORS[tint] }}
                  onClick={() => change({ tint })}
                />
              ))}
            </span>
          )}
        </div>
      </div>
    </>
  );
});
