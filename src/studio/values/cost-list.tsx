"use client";
import { flatten } from "@/core/capsules/flatten";
import { Select } from "@/ui/select";
import { Switch } from "@/ui/switch";
import { countText, msText, wholeTime } from "../graph/cards/summary";
import { useStudio, useStudioStore, useTime } from "../state/store";
import { PACES, type Pace } from "../state/view-state";
import { goTo } from "./go-to";

/** What takes how long and holds how much, the slowest first; and when the piece is worked out again. */
export function CostList() {
  const store = useStudioStore();
  const report = useStudio((s) => s.report);
  const document = useStudio((s) => s.document);
  const heat = useStudio((s) => s.heat);
  const pace = useStudio((s) => s.pace);
  const memory = useTime((t) => t.frameStates?.memory);
  const shown = useTime((t) => t.shown);
  if (!report) return <p className="p-3 text-12 text-faint">Nothing has been worked out yet.</p>;
  const { definitions, graph } = flatten(document);
  const rows = graph.nodes
    .flatMap(({ id }) => {
      const node = report.nodes[id];
      return node && ((node.lastMs ?? 0) > 0 || (node.bytes ?? 0) > 0)
        ? [{ id, node, ms: node.lastMs ?? 0 }]
        : [];
    })
    .sort((a, b) => b.ms - a.ms);
  const slowest = Math.max(1e-3, rows[0]?.ms ?? 0);
  const whole = wholeTime(report);
  return (
    <div className="flex h-full min-h-0 flex-col text-12">
      <div className="flex h-8 shrink-0 items-center gap-3 overflow-hidden whitespace-nowrap border-b border-dashed px-3 text-11 text-faint">
        <span className="tabular text-ink">
          {msText(shown?.ms ?? 0)} now, {msText(whole)} for all of it
        </span>
        <span className="tabular">{bytesText(shown?.bytes ?? 0)} held</span>
        {memory && (
          <span
            className="tabular"
            title={`All that the engine's memory holds, of ${bytesText(memory.ceiling)}: ${bytesText(memory.results)} of results, ${bytesText(memory.states)} of states of other frames, ${bytesText(memory.frames)} of frames that need only be drawn, ${bytesText(memory.drawings)} of drawings, and tables. Frames ahead are the first to give way.`}
          >
            {bytesText(memory.used)} of memory
          </span>
        )}
        <span className="ml-auto flex items-center gap-1.5">
          Heat on cards
          <Switch label="Heat on cards" value={heat} onChange={(to) => store.getState().set({ heat: to })} />
        </span>
        <span className="flex items-center gap-1.5">
          Work out
          <Select
            className="w-24"
            label="When it is worked out"
            value={pace}
            choices={PACES.map((p) => ({ value: p, label: p }))}
            onChange={(to) => store.getState().set({ pace: to as Pace })}
          />
        </span>
      </div>
      <ol className="min-h-0 flex-1 overflow-auto p-2">
        {rows.map(({ id, node, ms }) => (
          <li key={id}>
            <button
              type="button"
              className="relative grid h-6 w-full grid-cols-[1fr_70px_50px_80px] items-center gap-2 px-2 text-left hover:bg-raised"
              onClick={() => goTo(store, id)}
            >
              <span
                aria-hidden="true"
                className="absolute bottom-0 left-0 h-0.5 rounded-r bg-alert"
                style={{ width: `${(ms / slowest) * 100}%` }}
              />
              <span className="relative truncate">
                {definitions.get(id)?.title} <span className="tabular text-11 text-faint">{id}</span>
              </span>
              <span className="tabular relative text-right">{msText(ms)}</span>
              <span className="tabular relative text-right text-faint">
                {Math.round((ms / Math.max(whole, 1e-6)) * 100)} %
              </span>
              <span className="tabular relative text-right text-faint">
                {bytesText((node.bytes ?? 0) + (node.carried ?? 0))}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </div>
  );
}

function bytesText(bytes: number): string {
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(1)} GB`;
  return bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${countText(Math.ceil(bytes / 1e3))} kB`;
}
