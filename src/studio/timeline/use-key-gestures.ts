/** Keys of the tracks chosen, moved, stretched, copied and taken away, by pointer and by keyboard. */
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Edit } from "@/core/document/edits";
import { useStudioStore } from "../state/store";
import { useScale } from "./scale";
import {
  type ChosenKeys,
  copyKeys,
  moveKeysEdit,
  pasteKeysEdit,
  removeKeysEdit,
  spanOf,
  type TrackRow,
} from "./track-edits";

/** Height of a row, pixels. */
export const ROW = 22;
export const NONE: ChosenKeys = new Map();

/** What is dragged: from where, and what was there when it began. */
interface Drag {
  readonly kind: "keys" | "end" | "begin" | "box";
  readonly from: number;
  readonly fromY: number;
  readonly rows: readonly TrackRow[];
  readonly chosen: ChosenKeys;
}

export function useKeyGestures(rows: readonly TrackRow[]) {
  const store = useStudioStore();
  const [chosen, setChosen] = useState<ChosenKeys>(NONE);
  const [swept, setSwept] = useState<readonly [number, number, number, number] | null>(null);
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
  return {
    chosen,
    setChosen,
    span,
    swept,
    lanes,
    box,
    scale,
    edit,
    begin,
    onKey,
    onMove,
    onUp,
    onKeyDown,
    remove,
    paste,
  };
}

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
