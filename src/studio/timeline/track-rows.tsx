"use client";
import { ClipboardPaste, Copy, Spline, Trash2 } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from "react";
import { definitionOf } from "@/core/capsules/definitions";
import type { Edit } from "@/core/document/edits";
import { KEY_EASES } from "@/core/keys/ease";
import { REPEATS, type Repeat } from "@/core/keys/repeat";
import { valueAt, withValue } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import { IconButton } from "@/ui/button";
import { Select } from "@/ui/select";
import { useStudio, useStudioStore, useTime } from "../state/store";
import { Curves } from "./curves";
import { TIMELINE_GRID, useScale } from "./scale";
import {
  type ChosenKeys,
  copyKeys,
  easeKeysEdit,
  moveKeysEdit,
  pasteKeysEdit,
  removeKeysEdit,
  spanOf,
  type TrackRow,
  trackRows,
} from "./track-edits";
import { TrackMarks } from "./track-marks";

/** Pixels. */
const ROW = 22;
const NONE: ChosenKeys = new Map();

/** What is dragged: from where, and what was there when it began. */
interface Drag {
  readonly kind: "keys" | "end" | "begin" | "box";
  readonly from: number;
  readonly fromY: number;
  readonly rows: readonly TrackRow[];
  readonly chosen: ChosenKeys;
}

/** Rows of the inputs that change over time: their keys are chosen, moved, stretched, copied, eased and repeated here. */
export function TrackRows() {
  const store = useStudioStore();
  const document = useStudio((s) => s.opened.document);
  const rows = useMemo(() => trackRows(document), [document]);
  const [chosen, setChosen] = useState<ChosenKeys>(NONE);
  const [swept, setSwept] = useState<readonly [number, number, number, number] | null>(null);
  const [curves, setCurves] = useState(false);
  const drag = useRef<Drag | null>(null);
  const lanes = useRef<HTMLDivElement>(null);
  const { box, scale } = useScale();
  const span = spanOf(chosen);
  const edit = (change: Edit, group?: string) => store.getState().edit(change, group);

  const begin = (event: PointerEvent<HTMLElement>, kind: Drag["kind"], of: ChosenKeys) => {
    event.preventDefault();
    event.stopPropagation();
    box.current?.setPointerCapture(event.pointerId);
    drag.current = { kind, from: scale.at(event.clientX), fromY: event.clientY, rows, chosen: of };
  };
  const onKey = (event: PointerEvent<HTMLElement>, row: TrackRow, at: number) => {
    const had = chosen.get(row.address)?.includes(at);
    const others = (chosen.get(row.address) ?? []).filter((f) => f !== at);
    const next = event.shiftKey
      ? new Map([...chosen, [row.address, had ? others : [...others, at]]])
      : had
        ? chosen
        : new Map([[row.address, [at]]]);
    setChosen(next);
    if (!event.shiftKey) begin(event, "keys", next);
  };
  const onMove = (event: PointerEvent<HTMLElement>) => {
    const now = drag.current;
    if (!now) return;
    const at = scale.at(event.clientX);
    if (now.kind === "box") {
      const top = lanes.current?.getBoundingClientRect().top ?? 0;
      const [low, high] = [Math.min(now.from, at), Math.max(now.from, at)];
      const [above, below] = [now.fromY - top, event.clientY - top].sort((a, b) => a - b);
      setSwept([low, high, above, below]);
      const within = rows.slice(Math.max(0, Math.floor(above / ROW)), Math.floor(below / ROW) + 1);
      setChosen(
        new Map(
          within.map(({ address, track }) => [
            address,
            track.keys.flatMap(({ frame: f }) => (f >= low && f <= high ? [f] : [])),
          ]),
        ),
      );
      return;
    }
    const to = retimed(now, at, event.altKey);
    if (!to) return;
    const moved = moveKeysEdit(now.rows, now.chosen, to);
    edit(moved.edit, "drag keys");
    setChosen(moved.chosen);
  };
  const onUp = () => {
    if (drag.current && drag.current.kind !== "box") store.getState().endGroup();
    drag.current = null;
    setSwept(null);
  };
  const remove = () => {
    edit(removeKeysEdit(rows, chosen));
    setChosen(NONE);
  };
  const paste = async () => {
    const text = await navigator.clipboard.readText().catch(() => "");
    const onto = rows.find(({ address }) => chosen.has(address)) ?? rows[0];
    const pasted = pasteKeysEdit(rows, text, store.time.getState().frame, onto);
    if (!pasted) {
      store.getState().set({ notice: "What was copied holds no keys for these rows. Copy keys here first." });
      return;
    }
    edit(pasted.edit);
    setChosen(pasted.chosen);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const isCopying = event.ctrlKey || event.metaKey;
    if (by !== undefined && span) {
      const moved = moveKeysEdit(rows, chosen, (f) => f + by * (event.shiftKey ? 10 : 1));
      edit(moved.edit);
      setChosen(moved.chosen);
    } else if ((event.key === "Delete" || event.key === "Backspace") && span) remove();
    else if (isCopying && event.key === "c" && span)
      void navigator.clipboard.writeText(copyKeys(rows, chosen));
    else if (isCopying && event.key === "v") void paste();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const eases = new Set(
    rows.flatMap(({ address, track }) =>
      track.keys.filter((k) => chosen.get(address)?.includes(k.frame)).map((k) => k.ease ?? "linear"),
    ),
  );
  const [ease] = eases;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys of the marks in it
    <div className="border-b border-rule" onKeyDown={onKeyDown}>
      <div className={`${TIMELINE_GRID} h-7 text-11`}>
        <h2 className="font-display text-12 font-semibold">
          Keys{" "}
          <span className="tabular font-normal text-faint">
            {rows.length} {rows.length === 1 ? "input" : "inputs"}
          </span>
        </h2>
        <div ref={box} className="relative h-4" onPointerMove={onMove} onPointerUp={onUp}>
          {span && span[1] > span[0] && (
            <Span span={span} place={scale.place} onBegin={(event, kind) => begin(event, kind, chosen)} />
          )}
        </div>
        <div className="flex items-center justify-end gap-1">
          {span ? (
            <>
              <Select
                className="w-[112px]"
                label="How the chosen keys lead on"
                value={eases.size > 1 ? "differing" : typeof ease === "string" ? ease : "own curve"}
                choices={[
                  ...KEY_EASES,
                  ...(eases.size > 1 ? ["differing"] : typeof ease === "string" ? [] : ["own curve"]),
                ].map((name) => ({ value: name, label: name }))}
                onChange={(to) => {
                  const name = KEY_EASES.find((one) => one === to);
                  if (name) edit(easeKeysEdit(rows, chosen, name));
                }}
              />
              <IconButton
                label="Copy the chosen keys"
                className={TOOL}
                onClick={() => void navigator.clipboard.writeText(copyKeys(rows, chosen))}
              >
                <Copy size={12} />
              </IconButton>
            </>
          ) : (
            <span className="text-faint">{rows.length > 0 ? "Choose keys to ease or move them" : ""}</span>
          )}
          <IconButton
            label="Values as curves"
            className={`${TOOL} aria-pressed:text-accent`}
            aria-pressed={curves}
            disabled={rows.length === 0}
            onClick={() => setCurves(!curves)}
          >
            <Spline size={12} />
          </IconButton>
          <IconButton label="Paste keys at this frame" className={TOOL} onClick={() => void paste()}>
            <ClipboardPaste size={12} />
          </IconButton>
          <IconButton
            label="Take the chosen keys away"
            className={TOOL}
            disabled={span === null}
            onClick={remove}
          >
            <Trash2 size={12} />
          </IconButton>
        </div>
      </div>
      {rows.length === 0 && (
        <p className="px-3 pb-2 text-12 text-faint">
          Nothing changes over time by keys yet. Right-click a value on a card and drive it with keys, or
          press A and set values at different frames.
        </p>
      )}
      <div ref={lanes} className="relative max-h-[154px] overflow-y-auto">
        {rows.map((row) => {
          const input: AnyInput | undefined = definitionOf(
            document,
            document.graph.nodes.find(({ id }) => id === row.node)?.type ?? "",
          )?.inputs[row.input];
          return (
            <div key={row.address} className={TIMELINE_GRID} style={{ height: ROW }}>
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
        })}
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

const TOOL = "!h-5 !w-5 text-faint disabled:opacity-40";

/** How frames are moved by a drag, in whole frames unless `free`; null where it cannot be. */
function retimed(drag: Drag, at: number, free: boolean): ((frame: number) => number) | null {
  const snap = (frame: number) => (free ? Number(frame.toFixed(3)) : Math.round(frame));
  if (drag.kind === "keys") {
    const by = snap(at - drag.from);
    return (frame) => frame + by;
  }
  const span = spanOf(drag.chosen);
  if (!span || span[1] === span[0]) return null;
  const [still, moved] = drag.kind === "end" ? span : [span[1], span[0]];
  const times = (snap(at) - still) / (moved - still);
  return times > 0 ? (frame) => snap(still + (frame - still) * times) : null;
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
