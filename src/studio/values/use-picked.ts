import { type RefObject, useEffect } from "react";
import type { StageView } from "../stage/stage-view";
import { useStudio, useStudioStore } from "../state/store";
import { useQuery } from "./use-query";

/** Rings around the chosen elements on the stage, and the way of the last one, both following the frame. */
export function usePicked(view: RefObject<StageView | null>): void {
  const store = useStudioStore();
  const picked = useStudio((s) => s.picked);
  const last = picked?.elements.at(-1);
  const places = useQuery("places", picked);
  const trace = useQuery(
    "trace",
    picked && last !== undefined ? { node: picked.node, port: picked.port, index: last } : null,
  );
  useEffect(() => view.current?.mark(places.answer), [places.answer, view]);
  useEffect(() => store.getState().set({ trace: trace.answer }), [trace.answer, store]);
}
