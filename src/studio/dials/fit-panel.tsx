"use client";
import { useState } from "react";
import type { GraphNode, KeptFit } from "@/core/document/schema";
import { type Fit, fittedRange, type InputStatistics } from "@/core/inspect/input-statistics";
import type { AnyNode } from "@/core/nodes/define";
import { Button } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Switch } from "@/ui/switch";
import { countText, shortNumber } from "../graph/cards/summary";
import { settingAt } from "../state/keyed-edits";
import { useKeyedFrame, useStudio, useStudioStore, useTime } from "../state/store";
import { useQuery } from "../values/use-query";
import { fitEdit, framesBetween } from "./fits";

interface FitPanelProps {
  readonly node: GraphNode;
  readonly definition: AnyNode;
  readonly linked: ReadonlySet<string>;
  /** What arrives at the present frame. */
  readonly arrived: InputStatistics | null;
}

/** What arrives, against the range that is set, and the range fitted to it: once or kept, over some frames. */
export function FitPanel({ node, definition, linked, arrived }: FitPanelProps) {
  const store = useStudioStore();
  const { first, last } = useStudio((s) => s.document.settings);
  const at = useKeyedFrame(node.keys);
  const [frames, setFrames] = useState<readonly [number, number] | null>(node.fit?.frames ?? null);
  const fits = definition.fits as NonNullable<AnyNode["fits"]>;
  const isLinked = linked.has(fits.low) || linked.has(fits.high);
  const [low, high] = [fits.low, fits.high].map((input) =>
    Number(settingAt(node, input, definition.inputs[input], at)),
  );
  const [busy, setBusy] = useState(false);
  const fitTo = async (part: Fit) => {
    const { query, opened, edit, set } = store.getState();
    const { frame } = store.time.getState();
    setBusy(true);
    try {
      const over = frames ? framesBetween(frames) : [frame];
      const found = await query?.("input-statistics", {
        ...portOf(opened.prefix + node.id, fits),
        frames: over,
      });
      if (!found)
        set({
          notice: "Nothing arrives there that could be fitted to: link a value, and use what comes out.",
        });
      else edit(fitEdit(node.id, fits, fittedRange(found, part)));
    } catch (error) {
      set({ notice: (error as Error).message });
    } finally {
      setBusy(false);
    }
  };
  const keep = (kept: KeptFit | undefined) =>
    store.getState().edit({ kind: "set-fit", node: node.id, fit: kept });
  return (
    <section aria-label="Fit to what arrives" className="mt-2 rounded-6 border border-rule p-2 text-11">
      {arrived ? (
        <>
          <Range arrived={arrived} low={low} high={high} />
          <p className="tabular mt-1 text-faint">
            {shortNumber(arrived.min)} … {shortNumber(arrived.max)}{" "}
            {fits.side === "input" ? "arrives" : "is measured"}
            {arrived.count > 1 ? `, ${countText(arrived.count)} looked at` : ", the same for all"}
          </p>
        </>
      ) : (
        <p className="text-faint">Nothing is measured here yet.</p>
      )}
      {isLinked ? (
        <p className="mt-1 text-faint">Its range is linked, so it cannot be fitted.</p>
      ) : (
        <>
          <div className="mt-1.5 flex flex-wrap gap-1">
            <Button className="!h-6 px-2 text-11" disabled={busy} onClick={() => void fitTo("whole")}>
              Fit whole
            </Button>
            <Button className="!h-6 px-2 text-11" disabled={busy} onClick={() => void fitTo("most")}>
              Fit 2–98 %
            </Button>
          </div>
          <div className="mt-1.5 flex items-center justify-between">
            over many frames
            <Switch
              label="Over many frames"
              value={frames !== null}
              onChange={(to) => {
                const next = to ? ([first, last] as const) : null;
                setFrames(next);
                if (node.fit && next) keep({ ...node.fit, frames: [next[0], next[1]] });
              }}
            />
          </div>
          {frames && (
            <div className="mt-1 flex items-center gap-1">
              frames
              {[0, 1].map((end) => (
                <NumberField
                  key={end}
                  className="w-14"
                  label={end === 0 ? "First frame of the fit" : "Last frame of the fit"}
                  value={frames[end]}
                  whole
                  onChange={(to) =>
                    setFrames(
                      end === 0 ? [Math.min(to, frames[1]), frames[1]] : [frames[0], Math.max(to, frames[0])],
                    )
                  }
                />
              ))}
            </div>
          )}
          <div className="mt-1 flex items-center justify-between">
            keep it fitted
            <Switch
              label="Keep it fitted"
              value={node.fit !== undefined}
              onChange={(to) =>
                keep(
                  to
                    ? {
                        part: node.fit?.part ?? "whole",
                        frames: [...(frames ?? [first, last])] as [number, number],
                      }
                    : undefined,
                )
              }
            />
          </div>
          {node.fit && (
            <p className="mt-1 text-faint">
              Fitted again with every change, over frames {node.fit.frames.join("–")}.
            </p>
          )}
        </>
      )}
    </section>
  );
}

const portOf = (node: string, { port, side }: NonNullable<AnyNode["fits"]>) => ({ node, port, side });

/** What arrives at the present frame at the port that a node's range is about; null for nodes without one. */
export function useArrived(node: string, definition: AnyNode | undefined): InputStatistics | null {
  const prefix = useStudio((s) => s.opened.prefix);
  const frame = useTime((t) => t.frame);
  const fits = definition?.fits;
  return useQuery("input-statistics", fits ? { ...portOf(prefix + node, fits), frames: [frame] } : null)
    .answer;
}

/** Bars of what arrives with the set range as a band behind them; both on one scale. */
function Range({ arrived, low, high }: { arrived: InputStatistics; low: number; high: number }) {
  const from = Math.min(arrived.min, low, high);
  const to = Math.max(arrived.max, low, high);
  const x = (value: number) => (to > from ? ((value - from) / (to - from)) * 100 : 50);
  const most = Math.max(1, ...arrived.bins);
  const width = (x(arrived.max) - x(arrived.min)) / arrived.bins.length;
  const [left, right] = [Math.min(low, high), Math.max(low, high)].map(x);
  return (
    <svg
      viewBox="0 0 100 30"
      preserveAspectRatio="none"
      className="h-10 w-full"
      role="img"
      aria-label="What arrives, and the range that is set"
    >
      <rect
        x={left}
        width={Math.max(0.5, right - left)}
        y={0}
        height={30}
        fill="var(--accent)"
        opacity={0.18}
      />
      {arrived.bins.map((count, i) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: a bar has no other identity than its place
          key={i}
          x={x(arrived.min) + i * width}
          width={Math.max(0.4, width * 0.85)}
          y={30 - (count / most) * 28}
          height={(count / most) * 28}
          fill="var(--faint)"
        />
      ))}
      {[left, right].map((at, i) => (
        <line
          key={i === 0 ? "low" : "high"}
          x1={at}
          x2={at}
          y1={0}
          y2={30}
          stroke="var(--accent)"
          strokeWidth={0.8}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}
