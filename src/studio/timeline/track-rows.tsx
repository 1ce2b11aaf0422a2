"use client";
import { type PointerEvent, useMemo, useState } from "react";
import { definitionOf } from "@/core/capsules/definitions";
import type { PieceDocument } from "@/core/document/schema";
import { REPEATS, type Repeat } from "@/core/keys/repeat";
import { valueAt, withValue } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import { Select } from "@/ui/select";
import { useStudio, useStudioStore, useTime } from "../state/store";
import { Curves } from "./curves";
import { KeyTools } from "./key-tools";
import { TIMELINE_GRID } from "./scale";
import { type TrackRow, trackRows } from "./track-edits";
import { TrackMarks } from "./track-marks";
import { NONE, ROW, useKeyGestures } from "./use-key-gestures";

/** Rows of the inputs that change over time: their keys are chosen, moved, stretched, copied, eased and repeated here. */
export function TrackRows() {
  const document = useStudio((s) => s.opened.document);
  const rows = useMemo(() => trackRows(document), [document]);
  const [curves, setCurves] = useState(false);
  const keys = useKeyGestures(rows);
  const { chosen, span, swept, lanes, box, scale } = keys;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys of the marks in it
    <div className="border-b border-rule" onKeyDown={keys.onKeyDown}>
      <div className={`${TIMELINE_GRID} h-7 text-11`}>
        <h2 className="font-display text-12 font-semibold">
          Keys{" "}
          <span className="tabular font-normal text-faint">
            {rows.length} {rows.length === 1 ? "input" : "inputs"}
          </span>
        </h2>
        <div ref={box} className="relative h-4" onPointerMove={keys.onMove} onPointerUp={keys.onUp}>
          {span && span[1] > span[0] && (
            <Span
              span={span}
              place={scale.place}
              onBegin={(event, kind) => keys.begin(event, kind, chosen)}
            />
          )}
        </div>
        <KeyTools rows={rows} keys={keys} curves={curves} onCurves={() => setCurves(!curves)} />
      </div>
      {rows.length === 0 && (
        <p className="px-3 pb-2 text-12 text-faint">
          Nothing changes over time by keys yet. Right-click a value on a card and drive it with keys, or
          press A and set values at different frames.
        </p>
      )}
      <div ref={lanes} className="relative max-h-[154px] overflow-y-auto">
        {rows.map((row) => (
          <Row key={row.address} row={row} document={document} keys={keys} />
        ))}
        {rows.length > 0 && (
          <div
            className={`${TIMELINE_GRID} pointer-events-none absolute inset-x-0 top-0`}
            style={{ height: rows.length * ROW }}
          >
            <span />
            <div className="relative h-full">
              <PlayHead place={scale.place} />
              {swept && (
                <span
                  className="absolute border border-accent bg-accent/10"
                  style={{
                    left: scale.place(swept[0]),
                    right: `calc(100% - ${scale.place(swept[1])})`,
                    top: swept[2],
                    height: swept[3] - swept[2],
                  }}
                />
              )}
            </div>
          </div>
        )}
      </div>
      {curves && rows.length > 0 && <Curves document={document} rows={rows} chosen={chosen} scale={scale} />}
    </div>
  );
}

interface RowProps {
  readonly row: TrackRow;
  readonly document: PieceDocument;
  readonly keys: ReturnType<typeof useKeyGestures>;
}

function Row({ row, document, keys: { chosen, setChosen, begin, onKey, edit, scale } }: RowProps) {
  const store = useStudioStore();
  const input: AnyInput | undefined = definitionOf(
    document,
    document.graph.nodes.find(({ id }) => id === row.node)?.type ?? "",
  )?.inputs[row.input];
  return (
    <div className={TIMELINE_GRID} style={{ height: ROW }}>
      <button
        type="button"
        className="truncate text-left text-11 hover:text-accent"
        title={`Choose ${row.node}`}
        onClick={() => store.getState().select([row.node])}
      >
        {row.title}
      </button>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: keys are made by their mark on the card too */}
      <div
        className="relative h-full touch-none border-t border-rule/60"
        onPointerDown={(event) => {
          setChosen(NONE);
          begin(event, "box", NONE);
        }}
        onDoubleClick={(event) => {
          if (!input) return;
          const at = Math.round(scale.at(event.clientX));
          const track = withValue(row.track, at, valueAt(row.track, input, at));
          edit({ kind: "set-track", node: row.node, input: row.input, track });
        }}
      >
        <TrackMarks
          row={row}
          input={input}
          scale={scale}
          chosen={chosen.get(row.address) ?? []}
          onPointerDown={(event, at) => onKey(event, row, at)}
          onFocus={(at) =>
            !chosen.get(row.address)?.includes(at) && setChosen(new Map([[row.address, [at]]]))
          }
          onOpen={(at) => store.time.setState({ frame: at })}
        />
      </div>
      <Repeats row={row} />
    </div>
  );
}

interface SpanProps {
  readonly span: readonly [number, number];
  readonly place: (frame: number) => string;
  readonly onBegin: (event: PointerEvent<HTMLElement>, kind: "begin" | "end") => void;
}

/** Apart from the rows, which need not be drawn anew with every frame. */
function PlayHead({ place }: { readonly place: (frame: number) => string }) {
  const frame = useTime((t) => t.frame);
  return <span className="absolute inset-y-0 w-px bg-ink/70" style={{ left: place(frame) }} />;
}

/** From the first chosen key to the last; its ends stretch them in time. */
function Span({ span, place, onBegin }: SpanProps) {
  const end = (kind: "begin" | "end") => (
    <span
      title="Drag to stretch the chosen keys in time"
      className={`absolute inset-y-0 w-1.5 cursor-ew-resize bg-accent ${kind === "begin" ? "-left-1" : "-right-1"}`}
      onPointerDown={(event) => onBegin(event, kind)}
    />
  );
  return (
    <span
      className="absolute inset-y-1 bg-accent/25"
      style={{ left: place(span[0]), right: `calc(100% - ${place(span[1])})` }}
    >
      {end("begin")}
      {end("end")}
    </span>
  );
}

/** What a track does before its first key and after its last. */
function Repeats({ row }: { row: TrackRow }) {
  const store = useStudioStore();
  const select = (side: "before" | "after") => (
    <Select
      className="w-[112px]"
      label={`${side === "before" ? "Before the first key" : "After the last key"} of ${row.title}`}
      value={row.track[side] ?? "hold"}
      choices={REPEATS.map((name) => ({ value: name, label: `${side}: ${name}` }))}
      onChange={(to) =>
        store.getState().edit({
          kind: "set-track",
          node: row.node,
          input: row.input,
          track: { ...row.track, [side]: to as Repeat },
        })
      }
    />
  );
  return (
    <div className="flex justify-end gap-1">
      {select("before")}
      {select("after")}
    </div>
  );
}
