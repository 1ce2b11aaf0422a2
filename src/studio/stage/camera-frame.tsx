"use client";
import clsx from "clsx";
import { Video } from "lucide-react";
import { type RefObject, useEffect } from "react";
import { useStudio, useStudioStore } from "../state/store";
import { cameraOf } from "./camera-edits";
import { SecondViewFrame } from "./second-view-frame";
import type { StageView } from "./stage-view";

/** While the piece's camera is looked through: the edges of its picture, thirds of it and what is safe on any screen; a button to look freely and back. */
export function CameraFrame({ view }: { readonly view: RefObject<StageView | null> }) {
  const store = useStudioStore();
  const through = useStudio((s) => s.through);
  const hasCamera = useStudio((s) => cameraOf(s.document) !== undefined);
  const [width, height] = useStudio((s) => s.document.settings.size);
  useEffect(() => view.current?.setThrough(through), [view, through]);
  if (!hasCamera) return null;
  return (
    <>
      {through && (
        <div className="pointer-events-none absolute inset-0 grid place-items-center overflow-hidden [container-type:size]">
          <div
            className="relative outline outline-1 outline-accent/70"
            style={{
              width: `min(100cqw, 100cqh * ${width / height})`,
              aspectRatio: `${width} / ${height}`,
              boxShadow: "0 0 0 4000px rgb(0 0 0 / 0.45)",
            }}
          >
            <i className="absolute inset-y-0 left-1/3 w-1/3 border-x border-dashed border-ink/15" />
            {/* Within it nothing is cut off on any screen (common practice, no source: nine tenths). */}
            <i className="absolute inset-[5%] rounded-[2px] border border-ink/10" />
            <i className="absolute inset-x-0 top-1/3 h-1/3 border-y border-dashed border-ink/15" />
          </div>
        </div>
      )}
      {!through && <SecondViewFrame view={view} />}
      <button
        type="button"
        aria-pressed={through}
        title="Look through the camera, or freely (Q)"
        className={clsx(
          "absolute bottom-3 flex h-[26px] items-center gap-1.5 rounded-6 border bg-panel/85 px-2 text-11",
          through ? "left-3 border-accent text-accent" : "left-[154px] border-rule text-faint hover:text-ink",
        )}
        onClick={() => store.getState().set({ through: !through })}
      >
        <Video size={13} />
        {through ? "camera" : "free view"}
      </button>
    </>
  );
}
