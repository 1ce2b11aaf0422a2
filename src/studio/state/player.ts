/** Playing: in real time, leaving slow frames out, or every frame, however long it takes. */
import { frameAfter, type PlayRange, ShownRate } from "./playback";
import type { StudioState, StudioStore } from "./store";

/** Below this part of the rate it is said how many frames are shown. */
const KEEPS_UP = 0.9;

/** Plays until it is told to pause, or has ended; returns what stops it at once. */
export function startPlaying(store: StudioStore): () => void {
  const { document, frame } = store.getState();
  const { first, last, loop } = document.settings;
  const from = frame >= last && !loop ? first : frame;
  const rate = new ShownRate();
  let begun = performance.now();
  let passed = 0;
  let pending = 0;

  const tick = () => {
    const state = store.getState();
    if (!state.playing) return;
    pending = requestAnimationFrame(tick);
    const { fps } = state.document.settings;
    const due = Math.floor(((performance.now() - begun) / 1000) * fps);
    const isShown = state.report?.frame === state.frame;
    if (due <= passed || (state.everyFrame && !isShown)) return;
    passed = state.everyFrame ? passed + 1 : due;
    // The clock waits for slow frames.
    if (state.everyFrame) begun = Math.max(begun, performance.now() - ((passed + 1) / fps) * 1000);
    if (isShown) tellRate(state, rate.shown(performance.now()));
    const range = rangeOf(state);
    const next = frameAfter(range, Math.min(range.last, Math.max(range.first, from)), passed);
    if (next === null) state.set({ playing: false });
    state.setFrame(next ?? range.last);
  };
  pending = requestAnimationFrame(tick);
  return () => cancelAnimationFrame(pending);
}

function rangeOf({ document, toAndFro }: StudioState): PlayRange {
  const { first, last, loop } = document.settings;
  return { first, last, turns: !loop ? "once" : toAndFro ? "to and fro" : "round" };
}

function tellRate({ document, set }: StudioState, shown: number | null): void {
  set({ shownRate: shown !== null && shown < document.settings.fps * KEEPS_UP ? shown : null });
}
