/** Playing: in real time, leaving slow frames out, or every frame, however long it takes. */
import type { PieceDocument } from "@/core/document/schema";
import { frameAfter, type PlayRange, ShownRate } from "./playback";
import type { StudioStore } from "./store";

/** Below this part of the rate it is said how many frames are shown. */
const KEEPS_UP = 0.9;

/** Plays until it is told to pause, or has ended; returns what stops it at once. */
export function startPlaying(store: StudioStore): () => void {
  const { time } = store;
  const { document } = store.getState();
  const { frame } = time.getState();
  const { first, last, loop } = document.settings;
  const from = frame >= last && !loop ? first : frame;
  const rate = new ShownRate();
  let begun = performance.now();
  let passed = 0;
  let pending = 0;

  const tick = () => {
    const now = time.getState();
    if (!now.playing) return;
    pending = requestAnimationFrame(tick);
    const { settings } = store.getState().document;
    const { fps } = settings;
    const due = Math.floor(((performance.now() - begun) / 1000) * fps);
    const isShown = now.shown?.frame === now.frame;
    if (due <= passed || (now.everyFrame && !isShown)) return;
    passed = now.everyFrame ? passed + 1 : due;
    // The clock waits for slow frames.
    if (now.everyFrame) begun = Math.max(begun, performance.now() - ((passed + 1) / fps) * 1000);
    if (isShown) tellRate(rate.shown(performance.now()), fps);
    const range = rangeOf(settings, now.toAndFro);
    const next = frameAfter(range, Math.min(range.last, Math.max(range.first, from)), passed);
    time.setState({ frame: next ?? range.last, ...(next === null ? { playing: false } : {}) });
  };
  const tellRate = (shown: number | null, fps: number): void => {
    const shownRate = shown !== null && shown < fps * KEEPS_UP ? shown : null;
    if (shownRate !== time.getState().shownRate) time.setState({ shownRate });
  };
  pending = requestAnimationFrame(tick);
  return () => cancelAnimationFrame(pending);
}

const rangeOf = ({ first, last, loop }: PieceDocument["settings"], toAndFro: boolean): PlayRange => ({
  first,
  last,
  turns: !loop ? "once" : toAndFro ? "to and fro" : "round",
});
