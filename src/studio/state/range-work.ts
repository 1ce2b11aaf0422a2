/** Works all frames of the range out ahead, one after the other, so that they need only be drawn; stopped at any time. */
import { workText } from "@/core/document/work-text";
import { type EngineClient, Interrupted } from "@/engine/client";
import { isWithin } from "@/engine/frame-ranges";
import type { StudioStore } from "./store";

/** Ends by itself when the piece changes. @returns stops it; what was worked out stays */
export function startRangeWork(store: StudioStore, client: EngineClient): () => void {
  const { time } = store;
  const { document } = store.getState();
  const { first, last } = document.settings;
  const work = workText(document);
  const ready = time.getState().frameStates?.ready ?? [];
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i).filter(
    (frame) => !isWithin(ready, frame),
  );
  const of = last - first + 1;
  const begun = performance.now();
  let wanted = true;
  const stop = () => {
    if (!wanted) return;
    wanted = false;
    time.setState({ rangeWork: null });
  };
  const run = async () => {
    for (const [i, frame] of frames.entries()) {
      const fault = await prepared(frame);
      if (!wanted) return;
      if (fault !== null) {
        store.getState().set({ notice: `Working out the range ended at frame ${frame}: ${fault}` });
        return stop();
      }
      const left = frames.length - i - 1;
      const secondsLeft = ((performance.now() - begun) / 1000 / (i + 1)) * left;
      time.setState({ rangeWork: { done: of - left, of, secondsLeft } });
    }
    stop();
  };
  /** What is wrong with a frame, if anything. What is done on the stage goes before, and the frame is asked for again. */
  const prepared = async (frame: number): Promise<string | null> => {
    while (wanted) {
      const now = store.getState().document;
      if (workText(now) !== work) stop();
      else
        try {
          return await client.prepare(now, frame);
        } catch (error) {
          if (!(error instanceof Interrupted)) return (error as Error).message;
        }
    }
    return null;
  };
  time.setState({ rangeWork: { done: of - frames.length, of, secondsLeft: null }, playing: false });
  void run();
  return stop;
}
