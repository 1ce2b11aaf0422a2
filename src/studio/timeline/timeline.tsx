"use client";
import {
  ArrowLeftRight,
  CircleDot,
  CircleStop,
  Footprints,
  Hourglass,
  Pause,
  Play,
  Repeat,
  Rows3,
  SkipBack,
  SkipForward,
} from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useContext } from "react";
import { IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Actions, keyText } from "../state/action";
import { rangeWorkWords } from "../state/frame-words";
import { frameTime } from "../state/playback";
import { useStudio, useStudioStore, useTime } from "../state/store";
import { FrameBar } from "./frame-bar";
import { TIMELINE_GRID, useScale } from "./scale";
import { TrackRows } from "./track-rows";

/** The time area: playing, the range and the rate, a ruler to scrub on, and rows of what changes over time. */
export function Timeline() {
  const store = useStudioStore();
  const playing = useTime((t) => t.playing);
  const tracksOpen = useStudio((s) => s.tracksOpen);
  const toAndFro = useTime((t) => t.toAndFro);
  const everyFrame = useTime((t) => t.everyFrame);
  const shownRate = useTime((t) => t.shownRate);
  const autoKey = useStudio((s) => s.autoKey);
  const { first, last, fps, loop } = useStudio((s) => s.document.settings);
  const setRange = (settings: { first?: number; last?: number; fps?: number }, dragging: boolean) =>
    store
      .getState()
      .edit({ kind: "set-settings", settings }, dragging ? `drag ${Object.keys(settings)[0]}` : undefined);
  /** Once, over and over, to and fro. Which way it comes back is no part of the piece. */
  const turn = () => {
    const both = loop && !toAndFro;
    store.time.setState({ toAndFro: both });
    if (!both) {
      store.getState().edit({ kind: "set-settings", settings: { loop: !loop } });
    }
  };
  const end = () => store.getState().endGroup();
  return (
    <section aria-label="Strip" className="relative border-t border-rule bg-panel">
      {tracksOpen && <TrackRows />}
      <div className={`${TIMELINE_GRID} h-[60px]`}>
        <div className="flex items-center">
          <IconButton label="First frame (Home)" onClick={() => store.time.setState({ frame: first })}>
            <SkipBack size={13} />
          </IconButton>
          <IconButton
            label={playing ? "Pause (Space)" : "Play (Space)"}
            className="border border-rule bg-raised"
            onClick={() => store.time.setState({ playing: !playing })}
          >
            {playing ? <Pause size={13} /> : <Play size={13} />}
          </IconButton>
          <IconButton label="Last frame (End)" onClick={() => store.time.setState({ frame: last })}>
            <SkipForward size={13} />
          </IconButton>
          <IconButton
            label={`Plays ${!loop ? "once" : toAndFro ? "to and fro" : "over and over"}`}
            aria-pressed={loop}
            className={loop ? "text-accent" : "text-faint"}
            onClick={turn}
          >
            {loop && toAndFro ? <ArrowLeftRight size={13} /> : <Repeat size={13} />}
          </IconButton>
          <IconButton
            label="Play every frame, however long it takes"
            aria-pressed={everyFrame}
            className={everyFrame ? "text-accent" : "text-faint"}
            onClick={() => store.time.setState({ everyFrame: !everyFrame })}
          >
            <Footprints size={13} />
          </IconButton>
          <IconButton
            label="Every value that is set becomes a key (A)"
            aria-pressed={autoKey}
            className={autoKey ? "text-alert" : "text-faint"}
            onClick={() => store.getState().set({ autoKey: !autoKey })}
          >
            <CircleDot size={13} />
          </IconButton>
          <IconButton
            label="Rows of keys (S)"
            aria-pressed={tracksOpen}
            className={tracksOpen ? "text-accent" : "text-faint"}
            onClick={() => store.getState().set({ tracksOpen: !tracksOpen })}
          >
            <Rows3 size={13} />
          </IconButton>
        </div>
        <Ruler />
        <div className="flex items-center justify-end gap-1.5 text-11 text-faint">
          <WorkRange />
          <NumberField
            className="w-12"
            label="First frame"
            value={first}
            soft={[0, 200]}
            max={last}
            whole
            onChange={(v, d) => setRange({ first: v }, d)}
            onDragEnd={end}
          />
          –
          <NumberField
            className="w-12"
            label="Last frame"
            value={last}
            soft={[0, 400]}
            min={first}
            whole
            onChange={(v, d) => setRange({ last: v }, d)}
            onDragEnd={end}
          />
          <NumberField
            className="ml-2 w-12"
            label="Frames a second"
            value={fps}
            soft={[12, 60]}
            min={1}
            max={240}
            onChange={(v, d) => setRange({ fps: v }, d)}
            onDragEnd={end}
          />
          {shownRate === null ? (
            "fps"
          ) : (
            <span
              role="status"
              className="text-alert"
              title="Frames a second that are shown; the others are left out to keep time"
            >
              {shownRate.toFixed(0)} shown
            </span>
          )}
        </div>
      </div>
    </section>
  );
}

/** Works the range out ahead; how far that is while it lasts. */
function WorkRange() {
  const work = useTime((t) => t.rangeWork);
  const action = useContext(Actions).find(({ id }) => id === "work-range");
  const keys = keyText(action?.keys ?? "");
  const title = work ? `Stop working out the range (${keys})` : `Work out the range (${keys})`;
  return (
    <>
      {work && (
        <span
          role="status"
          className="tabular pointer-events-none absolute right-[288px] bottom-11 z-20 rounded-6 border border-rule bg-raised px-2 py-0.5 text-11 text-ink"
        >
          {rangeWorkWords(work)}
        </span>
      )}
      <IconButton
        label={title}
        aria-pressed={work !== null}
        className={work ? "text-accent" : "text-faint"}
        onClick={() => action?.run()}
      >
        {work ? <CircleStop size={13} /> : <Hourglass size={13} />}
      </IconButton>
    </>
  );
}

const STEPS = [1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 5000, 10_000, 50_000, 100_000];

function Ruler() {
  const store = useStudioStore();
  const frame = useTime((t) => t.frame);
  const fps = useStudio((s) => s.document.settings.fps);
  const timeUnit = useTime((t) => t.timeUnit);
  const { box, width, count, scale } = useScale();
  const { first, last, place } = scale;
  const step =
    STEPS.find((s) => (s / count) * width >= (timeUnit === "time code" ? 84 : 46)) ?? STEPS[STEPS.length - 1];
  /** Labels stand over their frames; long ones keep to the ruler. */
  const aside = (f: number) =>
    `translateX(-${timeUnit === "time code" ? Math.min(100, Math.max(0, ((f - first) / count) * 100)) : 50}%)`;
  const marks: number[] = [];
  for (let f = Math.ceil(first / step) * step; f <= last; f += step) marks.push(f);
  const scrub = (event: PointerEvent<HTMLElement>) => {
    const frame = Math.min(last, Math.max(first, Math.round(scale.at(event.clientX))));
    store.time.setState({ playing: false, frame });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const move = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[
      event.key
    ];
    if (move === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    store.time.setState({ frame: Math.min(last, Math.max(first, frame + move)) });
  };
  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={first}
      aria-valuemax={last}
      aria-valuenow={frame}
      className="relative h-10 cursor-col-resize touch-none select-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        scrub(event);
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && scrub(event)}
      onKeyDown={onKeyDown}
    >
      <div className="absolute inset-x-0 bottom-2 h-px bg-rule" />
      <FrameBar scale={scale} />
      {marks.map((f) => (
        <span
          key={f}
          className="tabular absolute bottom-2 h-2.5 border-l border-faint/60 text-[10px] text-faint"
          style={{ left: place(f) }}
        >
          <span className="absolute -top-4 left-0" style={{ transform: aside(f) }}>
            {frameTime(f, fps, timeUnit)}
          </span>
        </span>
      ))}
      <span
        className="pointer-events-none absolute inset-y-0 z-10 w-px bg-ink"
        style={{ left: place(frame) }}
      >
        <span
          className="tabular absolute -top-0.5 left-1/2 bg-ink px-1.5 pb-1 text-[11px] text-ground"
          style={{
            transform: aside(frame),
            clipPath:
              timeUnit === "time code" ? undefined : "polygon(0 0, 100% 0, 100% 75%, 50% 100%, 0 75%)",
          }}
        >
          {frameTime(frame, fps, timeUnit)}
        </span>
      </span>
    </div>
  );
}
