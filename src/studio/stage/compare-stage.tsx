"use client";
import { X } from "lucide-react";
import { type RefObject, useEffect, useMemo, useRef } from "react";
import { applyEdit } from "@/core/document/edits";
import { EngineClient } from "@/engine/client";
import { IconButton } from "@/ui/button";
import { applyValues } from "../dials/snapshots";
import { keyedEdit } from "../state/keyed-edits";
import { useStudio, useStudioStore, useTime } from "../state/store";
import type { Compared } from "../state/view-state";
import { DEFAULT_VIEW } from "./default-view";
import { StageView } from "./stage-view";

/** Beside the stage: the same frame with other values of the dials, or of another version, seen by the same camera. */
export function CompareStage({ view }: { view: RefObject<StageView | null> }) {
  const compared = useStudio((s) => s.compared);
  return compared && <Beside key={compared.title} compared={compared} main={view} />;
}

function Beside({ compared, main }: { compared: Compared; main: RefObject<StageView | null> }) {
  const store = useStudioStore();
  const canvas = useRef<HTMLCanvasElement>(null);
  const engine = useRef<EngineClient | null>(null);
  const present = useStudio((s) => s.document);
  const frame = useTime((t) => t.frame);
  // What changes over time is compared at this frame; a piece without keys stays one document.
  const keyedAt = present.graph.nodes.some(({ keys }) => keys) ? frame : 0;
  const document = useMemo(
    () =>
      compared.document ??
      applyEdit(present, keyedEdit(present, applyValues(present, compared.values), keyedAt, false)).document,
    [compared, present, keyedAt],
  );
  useEffect(() => {
    const box = canvas.current?.parentElement;
    if (!box || !canvas.current) return;
    const stage = new StageView(canvas.current, { still: true });
    const client = new EngineClient({
      evaluated({ drawing, stage: settings }) {
        if (drawing) {
          stage.show(drawing);
          client.recycle(drawing);
        }
        if (settings) stage.setStage(settings);
      },
      failed: (what) => store.getState().set({ notice: what }),
      busy: () => undefined,
    });
    engine.current = client;
    const watcher = new ResizeObserver(() => stage.resize(box.clientWidth, box.clientHeight, 1));
    watcher.observe(box);
    let follow = 0;
    let seen = "";
    /** The camera of the stage itself is not saved while it is being turned. */
    const followCamera = () => {
      const camera = main.current?.view() ?? DEFAULT_VIEW;
      const text = JSON.stringify(camera);
      if (text !== seen) stage.setView(camera);
      seen = text;
      follow = requestAnimationFrame(followCamera);
    };
    followCamera();
    return () => {
      cancelAnimationFrame(follow);
      watcher.disconnect();
      client.dispose();
      stage.dispose();
    };
  }, [store, main]);
  useEffect(() => engine.current?.evaluate({ document, frame, inspect: false }), [document, frame]);
  return (
    <section
      aria-label={`Beside: ${compared.title}`}
      className="relative min-w-0 flex-1 border-l border-rule"
    >
      <canvas
        ref={canvas}
        aria-label={`The result with ${compared.title}`}
        className="absolute inset-0 block size-full"
      />
      <p className="absolute top-11 left-3 flex items-center gap-1 rounded-6 border border-rule bg-panel/85 py-0.5 pr-0.5 pl-2 text-12">
        {compared.title}
        <IconButton
          label="Stop comparing"
          className="!h-5 !w-5"
          onClick={() => store.getState().set({ compared: null })}
        >
          <X size={12} />
        </IconButton>
      </p>
    </section>
  );
}
