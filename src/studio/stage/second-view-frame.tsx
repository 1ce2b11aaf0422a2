"use client";
import { PictureInPicture2, X } from "lucide-react";
import { type RefObject, useEffect, useRef, useState } from "react";
import { IconButton } from "@/ui/button";
import { useStudio, useStudioStore } from "../state/store";
import { SECOND_VIEW, secondViewHeight } from "./second-view";
import type { StageView } from "./stage-view";

/** Around what the piece's camera sees, while the stage is looked at freely: a click looks through it. It can be put away and brought back. */
export function SecondViewFrame({ view }: { readonly view: RefObject<StageView | null> }) {
  const store = useStudioStore();
  const second = useStudio((s) => s.second);
  const [wide, high] = useStudio((s) => s.document.settings.size);
  const around = useRef<HTMLDivElement>(null);
  const [stage, setStage] = useState<readonly [number, number]>([0, 0]);
  useEffect(() => view.current?.setSecond(second), [view, second]);
  useEffect(() => {
    const box = around.current;
    if (!box) return;
    const watcher = new ResizeObserver(() => setStage([box.clientWidth, box.clientHeight]));
    watcher.observe(box);
    return () => watcher.disconnect();
  }, []);
  const height = secondViewHeight(wide / high, ...stage);
  const set = (shown: boolean) => store.getState().set({ second: shown });
  return (
    <div ref={around} className="pointer-events-none absolute inset-0 overflow-hidden">
      {!second && height > 0 && (
        <IconButton
          label="Show what the camera sees"
          className="pointer-events-auto absolute bottom-3 left-[246px] border border-rule bg-panel/85"
          onClick={() => set(true)}
        >
          <PictureInPicture2 size={14} />
        </IconButton>
      )}
      {second && height > 0 && (
        <div
          className="pointer-events-auto absolute rounded-[2px] outline outline-1 outline-accent/60"
          style={{ right: SECOND_VIEW.right, bottom: SECOND_VIEW.bottom, height, aspectRatio: wide / high }}
        >
          <button
            type="button"
            aria-label="What the camera sees: look through it"
            className="absolute inset-0 size-full"
            onClick={() => store.getState().set({ through: true })}
          />
          <IconButton
            label="Put away what the camera sees"
            className="!h-5 !w-5 absolute top-1 right-1 bg-panel/70"
            onClick={() => set(false)}
          >
            <X size={11} />
          </IconButton>
        </div>
      )}
    </div>
  );
}
