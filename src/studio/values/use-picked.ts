import { type RefObject, useEffect } from "react";
import type { StageView } from "../stage/stage-view";
import { useStudio, useStudioStore } from "../state/store";
import { useQuery } from "./use-query";

/** Rings around the chosen elements on the stage, and the way of the last one; by their ids they are followed from frame to frame. */
export function usePicked(view: RefObject<StageView | null>): void {
  const store = useStudioStore();
  const picked = useStudio((s) => s.picked);
  const { answer: found } = useQuery(
    "followed",
    picked && {
      node: picked.node,
      port: picked.port,
      elements: picked.ids ? [] : picked.elements,
      ids: picked.ids,
    },
  );
  const last = picked?.elements.at(-1);
  const trace = useQuery(
    "trace",
    picked && last !== undefined
      ? { node: picked.node, port: picked.port, index: last, id: picked.ids?.at(-1) ?? null }
      : null,
  );
  useEffect(() => {
    view.current?.mark(found?.places ?? null);
    const { picked, set } = store.getState();
    if (!picked || !found) return;
    // What was answered may still be of what was chosen before.
    const asked = picked.ids ?? picked.elements;
    const answered = picked.ids ? found.ids : found.elements;
    if (asked.join() !== answered?.join()) return;
    if (picked.ids === found.ids || picked.ids?.join() === found.ids?.join()) {
      if (picked.elements.join() !== found.elements.join())
        set({ picked: { ...picked, elements: found.elements } });
    } else set({ picked: { ...picked, ids: found.ids } });
  }, [found, view, store]);
  useEffect(() => store.getState().set({ trace: trace.answer }), [trace.answer, store]);
}
