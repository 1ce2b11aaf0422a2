"use client";
import dynamic from "next/dynamic";
import { useMemo, useState } from "react";
import type { OverTime } from "@/core/inspect/over-time";
import { Select } from "@/ui/select";
import { framesOf, spreadOver } from "../export/frame-range";
import { shortNumber } from "../graph/cards/summary";
import { useStudio, useStudioStore, useTime } from "../state/store";
import { useAtRest } from "../state/use-at-rest";
import type { Line } from "./over-time-chart";

const OverTimeChart = dynamic(() => import("./over-time-chart"), { ssr: false });

/** Frames that are looked at, at most. */
const MOST_FRAMES = 250;
const OF_ALL = { count: "how many there are", energy: "energy of all" } as const;
const WORDS: Readonly<Record<string, string>> = { color: "colour" };
/** What is drawn until something else is asked for: the first of these that there is. */
const SHOWN_FIRST = ["of velocity", "of position", "count"];
const PARTS = ["x", "y", "z", "w"];

/** What can be looked at: what all come to, then the attributes of the traced element. */
const choicesOf = ({ element, energy }: OverTime) => [
  { value: "count", label: OF_ALL.count },
  ...(energy.some((value) => value !== null) ? [{ value: "energy", label: OF_ALL.energy }] : []),
  ...Object.keys(element).map((name) => ({ value: `of ${name}`, label: `its ${WORDS[name] ?? name}` })),
];

/** Its lines; of a vector its length as well. */
function linesOf(over: OverTime, shown: string): readonly Line[] {
  if (shown === "count" || shown === "energy") return [{ name: OF_ALL[shown], values: over[shown] }];
  const parts = over.element[shown.slice(3)] ?? [];
  if (parts.length === 1) return [{ name: shown.slice(3), values: parts[0] }];
  const length = over.frames.map((_, f) =>
    parts[0][f] === null ? null : Math.hypot(...parts.map((part) => part[f] ?? 0)),
  );
  const named = parts.map((values, l) => ({ name: PARTS[l], values }));
  return parts.length === 3 ? [{ name: "length", values: length }, ...named] : named;
}

/** One element's numbers over the range, and how many there are and how fast, as a chart. */
export function OverTimePanel() {
  const store = useStudioStore();
  const picked = useStudio((s) => s.picked);
  const first = useStudio((s) => s.document.settings.first);
  const last = useStudio((s) => s.document.settings.last);
  const frame = useTime((t) => t.frame);
  const [wanted, setWanted] = useState(SHOWN_FIRST[0]);
  const id = picked?.ids ? picked.ids.at(-1) : picked?.elements.at(-1);
  const frames = useMemo(() => framesOf(spreadOver({ first, last }, MOST_FRAMES)), [first, last]);
  const over = useAtRest(
    "over-time",
    picked && id !== undefined ? { node: picked.node, port: picked.port, id, frames } : null,
  );
  const choices = over ? choicesOf(over) : [];
  const shown =
    [wanted, ...SHOWN_FIRST].find((name) => choices.some(({ value }) => value === name)) ?? "count";
  const lines = useMemo(() => (over ? linesOf(over, shown) : []), [over, shown]);
  if (!picked)
    return (
      <p className="p-3 text-12 text-faint">
        Click a clone on the stage, or a row of the values: its numbers are drawn here over the range, and how
        many there are.
      </p>
    );
  if (!over)
    return (
      <p role="status" className="p-3 text-12 text-faint">
        Working out {frames.length} frames …
      </p>
    );
  const at = over.frames.findLastIndex((f) => f <= frame);
  return (
    <div className="flex h-full min-h-0 text-12">
      <div className="grid w-52 shrink-0 content-start gap-2 p-3">
        <Select
          label="What is drawn"
          value={shown}
          choices={choices}
          className="w-full"
          onChange={setWanted}
        />
        <dl className="tabular grid grid-cols-2 gap-x-2 text-11 text-faint" aria-label="At this frame">
          <dt>frame</dt>
          <dd className="text-right text-ink">{frame}</dd>
          {lines.map(({ name, values }) => (
            <div key={name} className="contents">
              <dt>{name}</dt>
              <dd className="text-right text-ink">
                {values[at] == null ? "not there" : shortNumber(values[at] as number)}
              </dd>
            </div>
          ))}
        </dl>
      </div>
      <div className="min-w-0 flex-1 py-1">
        <OverTimeChart
          frames={over.frames}
          lines={lines}
          frame={frame}
          onFrame={(to) =>
            store.time.setState({ playing: false, frame: Math.min(last, Math.max(first, to)) })
          }
        />
      </div>
    </div>
  );
}
