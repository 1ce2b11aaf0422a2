/** Ranges fitted to what arrives, and kept so. */

import { definitionOf } from "@/core/capsules/definitions";
import type { Edit } from "@/core/document/edits";
import { fittedRange, type InputStatistics } from "@/core/inspect/input-statistics";
import type { AnyNode } from "@/core/nodes/define";
import { Interrupted } from "@/engine/client";
import type { StudioStore } from "../state/store";

type Fits = NonNullable<AnyNode["fits"]>;

export const fitEdit = (node: string, { low, high }: Fits, [from, to]: readonly [number, number]): Edit => ({
  kind: "several",
  edits: [
    { kind: "set-input", node, input: low, value: from },
    { kind: "set-input", node, input: high, value: to },
  ],
});

/** Frames looked at for a fit at most. */
const MOST_FRAMES = 24;

/** Frames of a range, evenly, its ends among them. */
export function framesBetween([first, last]: readonly [number, number]): number[] {
  const count = Math.min(MOST_FRAMES, Math.floor(last - first) + 1);
  return Array.from({ length: count }, (_, i) =>
    Math.round(count === 1 ? first : first + (i * (last - first)) / (count - 1)),
  );
}

/** Milliseconds of quiet after a change before what is kept fitted is looked at. */
const QUIET = 350;
/** How often it is asked again when something else went before. */
const MOST_TRIES = 8;

/** Fits what is kept fitted, in what is open, after every change; a part of the step that changed it. */
export function keepFits(store: StudioStore): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let running = false;
  let tries = 0;
  const fitSoon = () => {
    clearTimeout(timer);
    timer = setTimeout(() => void fitAll(), QUIET);
  };
  const fitAll = async () => {
    const { opened, query, history } = store.getState();
    // A drag is waited for.
    if (!query || history.past.at(-1)?.group !== undefined) return;
    // What is being asked was asked before this change.
    if (running) return fitSoon();
    running = true;
    try {
      for (const node of opened.document.graph.nodes) {
        const fits = definitionOf(opened.document, node.type)?.fits;
        if (!node.fit || !fits) continue;
        const at = { node: opened.prefix + node.id, port: fits.port, side: fits.side };
        const found = await query("input-statistics", { ...at, frames: framesBetween(node.fit.frames) });
        if (store.getState().opened.document !== opened.document) return;
        if (found) take(node.id, fits, found, node.fit.part);
      }
    } catch (error) {
      // What the stage shows goes before, and this is asked again; what fails for good is told where it fails, and the range stays.
      if (error instanceof Interrupted && tries++ < MOST_TRIES) fitSoon();
    } finally {
      running = false;
    }
  };
  const take = (node: string, fits: Fits, found: InputStatistics, part: "whole" | "most") => {
    const [low, high] = fittedRange(found, part);
    const set = store.getState().opened.document.graph.nodes.find(({ id }) => id === node)?.set;
    if (set?.[fits.low] !== low || set?.[fits.high] !== high)
      store.getState().amend(fitEdit(node, fits, [low, high]));
  };
  const unsubscribe = store.subscribe((state, before) => {
    if (state.document === before.document && state.history === before.history) return;
    tries = 0;
    fitSoon();
  });
  return () => {
    clearTimeout(timer);
    unsubscribe();
  };
}
