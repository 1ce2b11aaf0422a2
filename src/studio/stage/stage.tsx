"use client";
import clsx from "clsx";
import { AppWindow, Maximize, Play, Square, X } from "lucide-react";
import { type RefObject, useEffect, useRef } from "react";
import { IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { isSliding } from "@/ui/touch-pad";
import { countText, msText, valueText } from "../graph/cards/summary";
import { useStudio, useStudioStore, useTime } from "../state/store";
import { pickElement, shownSource } from "../values/pick";
import { usePicked } from "../values/use-picked";
import { cameraOf } from "./camera-edits";
import { CameraFrame } from "./camera-frame";
import { DEFAULT_ANGLE } from "./default-view";
import { FirstThings } from "./first-things";
import { StageHandles } from "./handles";
import { MaskPainting } from "./mask-painting";
import { DRAW_MODES } from "./mesh-materials";
import { PathDrawing } from "./path-drawing";
import { StageView } from "./stage-view";
import { usePaths } from "./use-paths";

interface StageProps {
  readonly onReady: (view: StageView) => () => void;
  readonly onStop: () => void;
  /** Brings files into the piece. */
  readonly onFiles: (files: readonly File[]) => void;
  /** Works out what waits. */
  readonly onResume: () => void;
}

/** The canvas and what lies over it. The view is handed up, as the engine draws into it. */
export function Stage({ onReady, onStop, onFiles, onResume }: StageProps) {
  const store = useStudioStore();
  const { time } = store;
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = useRef<StageView | null>(null);

  useEffect(() => {
    const box = holder.current;
    if (!box || !canvas.current) return;
    let stage: StageView;
    try {
      stage = new StageView(canvas.current, {
        onViewChange: (v) => store.getState().setView(v),
        onGathered: (gathered) => time.setState({ gathered }),
      });
    } catch {
      store.getState().set({
        notice:
          "The stage needs WebGL 2, which this browser does not offer. Graph and export work without it.",
      });
      return;
    }
    view.current = stage;
    const saved = store.getState().document.view;
    if (saved) stage.setView(saved);
    const watcher = new ResizeObserver(() =>
      stage.resize(box.clientWidth, box.clientHeight, Math.min(2, window.devicePixelRatio)),
    );
    watcher.observe(box);
    const release = onReady(stage);
    // Two fingers that slide over a touch-pad move the picture; a wheel, and pinching, come nearer as the controls do.
    const onWheel = (event: WheelEvent) => {
      if (!isSliding(event)) return;
      event.preventDefault();
      event.stopPropagation();
      stage.slide(-event.deltaX, -event.deltaY);
      store.getState().setView(stage.view());
    };
    box.addEventListener("wheel", onWheel, { capture: true, passive: false });
    return () => {
      box.removeEventListener("wheel", onWheel, { capture: true });
      release();
      watcher.disconnect();
      stage.dispose();
      view.current = null;
    };
  }, [store, time, onReady]);

  usePicked(view);
  usePaths(view);
  const pressed = useRef<[number, number]>([0, 0]);
  const pickAt = async (x: number, y: number, add: boolean) => {
    const box = canvas.current?.getBoundingClientRect();
    const { query, set } = store.getState();
    const source = shownSource(store.getState());
    if (!box || !source) return;
    const hits = view.current?.pick((x - box.left) / box.width, (y - box.top) / box.height) ?? [];
    const element = hits.length > 0 ? await query?.("pick", hits).catch(() => null) : null;
    if (typeof element === "number") pickElement(store, source, element, add);
    else if (!add) set({ picked: null });
  };
  const angle = useStudio((s) => s.document.view?.angle);
  const isThrough = useStudio((s) => s.through && cameraOf(s.document) !== undefined);
  const mode = useStudio((s) => s.drawMode);
  useEffect(() => view.current?.setMode(mode), [mode]);

  return (
    <section
      ref={holder}
      aria-label="Stage"
      className="relative h-full overflow-hidden bg-ground"
      onDoubleClick={() => view.current?.frameAll()}
      onPointerDown={(event) => {
        pressed.current = [event.clientX, event.clientY];
      }}
      onPointerUp={(event) => {
        const [x, y] = pressed.current;
        // A drag turns the camera.
        if (Math.hypot(event.clientX - x, event.clientY - y) >= 4 || event.target !== canvas.current) return;
        if (event.button === 2) openMenu(event.currentTarget, event.clientX, event.clientY);
        else void pickAt(event.clientX, event.clientY, event.shiftKey || event.ctrlKey || event.metaKey);
      }}
    >
      <canvas
        ref={canvas}
        tabIndex={0}
        aria-label="The result"
        className="absolute inset-0 block size-full outline-offset-[-2px]"
      />
      <CameraFrame view={view} />
      <StageHandles view={view} />
      <PathDrawing view={view} />
      <MaskPainting view={view} />
      <FirstThings onFiles={onFiles} />
      <Tally onResume={onResume} />
      <div className="absolute top-3 right-3 flex rounded-6 border border-rule bg-panel/85 p-0.5">
        {DRAW_MODES.map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={mode === name}
            className={clsx(
              "h-6 rounded px-2 text-12",
              mode === name ? "font-semibold text-accent" : "text-faint hover:text-ink",
            )}
            onClick={() => store.getState().set({ drawMode: name })}
          >
            {name[0].toUpperCase() + name.slice(1)}
          </button>
        ))}
      </div>
      <div
        className={clsx(
          "absolute bottom-3 left-3 flex items-center gap-1.5 rounded-6 border border-rule bg-panel/85 py-0.5 pr-0.5 pl-2 text-11 text-faint",
          isThrough && "hidden",
        )}
      >
        view angle
        <NumberField
          className="w-[58px]"
          label="View angle of the camera"
          value={Math.round((angle ?? DEFAULT_ANGLE) * 10) / 10}
          min={1}
          max={120}
          soft={[2, 90]}
          unit="°"
          onChange={(to) => {
            const changed = view.current?.setAngle(to);
            if (changed) store.getState().setView(changed);
          }}
          onDragEnd={() => undefined}
        />
      </div>
      <IconButton
        label="Frame everything (F)"
        className="absolute right-3 bottom-3 border border-rule bg-panel/85"
        onClick={() => view.current?.frameAll()}
      >
        <Maximize size={14} />
      </IconButton>
      <Peeking />
      <Gathering view={view} />
      <Busy onStop={onStop} />
    </section>
  );
}

/** The camera's controls take the right button for dragging, so a click with it asks for the menu anew. */
const openMenu = (area: HTMLElement, clientX: number, clientY: number): boolean =>
  area.dispatchEvent(new MouseEvent("contextmenu", { bubbles: true, cancelable: true, clientX, clientY }));

function Tally({ onResume }: { onResume: () => void }) {
  const report = useStudio((s) => s.report);
  const ms = useTime((t) => t.shown?.ms ?? 0);
  const frame = useTime((t) => t.frame);
  const paused = useStudio((s) => s.paused);
  const stale = useStudio((s) => s.stale);
  if (!report) return null;
  return (
    <p
      className="tabular pointer-events-none absolute top-3 left-3 max-w-[calc(100%-160px)] truncate rounded-6 border border-rule bg-panel/85 px-2 py-1 text-11"
      data-testid="tally"
    >
      {countText(report.tally.sites)} clones · {msText(ms)} · frame {frame}
      {!report.complete && (
        <span className="text-alert"> · {paused ? "paused" : "showing the last good result"}</span>
      )}
      {stale && (
        <button type="button" className="pointer-events-auto ml-1 text-accent underline" onClick={onResume}>
          Changes wait: work them out
        </button>
      )}
    </p>
  );
}

/** Says what is shown instead of the result, and goes back. */
function Peeking() {
  const store = useStudioStore();
  const peek = useStudio((s) => s.peek);
  const value = useStudio((s) => s.peek && valueText(s.report?.nodes[s.peek.node]?.values?.[s.peek.port]));
  if (!peek) return null;
  return (
    <div className="absolute top-11 left-3 flex items-center gap-2 rounded-6 border border-accent bg-panel/90 py-0.5 pr-0.5 pl-2 text-12">
      <AppWindow size={13} className="text-accent" />
      {peek.node}, {peek.port}
      {value && <span className="tabular text-11 text-faint">{value}</span>}
      <IconButton
        label="Back to the result"
        className="!h-5 !w-5"
        onClick={() => store.getState().set({ peek: null })}
      >
        <X size={12} />
      </IconButton>
    </div>
  );
}

/** While looks are gathered: how many there are, and a button that stops or goes on; gone once all are there. */
function Gathering({ view }: { readonly view: RefObject<StageView | null> }) {
  const { time } = useStudioStore();
  const gathered = useTime((t) => t.gathered);
  if (!gathered || gathered.done >= gathered.wanted) return null;
  const { done, wanted, waits } = gathered;
  return (
    <div className="absolute right-12 bottom-3 flex h-[26px] items-center gap-1.5 rounded-6 border border-rule bg-panel/85 pr-0.5 pl-2 text-11 text-faint">
      <span className="tabular" role="status">
        finer {done} / {wanted}
      </span>
      <IconButton
        label={waits ? "Go on making the picture finer" : "Stop making the picture finer"}
        className="!h-5 !w-5"
        onClick={() => {
          time.setState({ gathered: { ...gathered, waits: !waits } });
          if (waits) view.current?.gather(true);
          else view.current?.pauseGathering();
        }}
      >
        {waits ? <Play size={11} /> : <Square size={11} />}
      </IconButton>
    </div>
  );
}

/** Long work can be stopped; short work does not flicker. */
function Busy({ onStop }: { onStop: () => void }) {
  const busy = useTime((t) => t.busy);
  const stepped = useTime((t) => t.stepped);
  if (!busy) return null;
  return (
    <div className="absolute bottom-12 left-3 flex items-center gap-2 rounded-6 border border-rule bg-panel/90 py-1 pr-1 pl-3 text-12 opacity-0 [animation:appear_0s_linear_600ms_forwards]">
      {stepped ? `Stepping through frame ${stepped.frame} of ${stepped.until} …` : "Working it out …"}
      <IconButton label="Stop" onClick={onStop}>
        <Square size={12} />
      </IconButton>
    </div>
  );
}
