"use client";
/** Under the ruler: which frames are worked out, which a change has made stale, and which are on disk. */
import type { FrameRanges } from "@/engine/frame-ranges";
import { frameStatesWords } from "../state/frame-words";
import { useTime } from "../state/store";
import type { Scale } from "./scale";

const KINDS = [
  // Dashed, for those who do not tell the colours apart.
  [
    "stale",
    "bottom-[3px] h-[3px] bg-[repeating-linear-gradient(90deg,var(--alert)_0_3px,transparent_3px_6px)]",
  ],
  ["ready", "bottom-[3px] h-[3px] bg-good"],
  ["disk", "bottom-0 h-[2px] bg-faint"],
] as const;

export function FrameBar({ scale: { first, last } }: { scale: Scale }) {
  const states = useTime((t) => t.frameStates);
  if (!states || [states.ready, states.stale, states.disk].every((ranges) => ranges.length === 0))
    return null;
  const words = frameStatesWords(states, first, last);
  return (
    <div role="img" aria-label={words} title={words} className="absolute inset-x-0 bottom-0 h-2">
      {KINDS.map(([kind, look]) =>
        segments(states[kind], first, last).map(([left, width]) => (
          <span
            key={`${kind} ${left}`}
            data-frames={kind}
            className={`absolute ${look}`}
            style={{ left: `${left}%`, width: `max(2px, ${width}%)` }}
          />
        )),
      )}
    </div>
  );
}

/** Runs of frames as shares of the range, in per cent: each frame from half-way before it to half-way behind. */
function segments(ranges: FrameRanges, first: number, last: number): [left: number, width: number][] {
  const count = Math.max(1, last - first);
  return ranges
    .filter(([from, to]) => to >= first && from <= last)
    .map(([from, to]) => {
      const [low, high] = [Math.max(first, from - 0.5), Math.min(last, to + 0.5)];
      return [((low - first) / count) * 100, ((high - low) / count) * 100];
    });
}
