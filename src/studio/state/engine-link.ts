/** Joins the store with the engine: asks for frames when document or frame change, plays, and inspects when idle. */
import type { PieceDocument } from "@/core/document/schema";
import { workText } from "@/core/document/work-text";
import { EngineClient, type EngineHandlers } from "@/engine/client";
import type { StageSettings, WireDrawing } from "@/engine/protocol";
import { keptReport } from "./kept-report";
import { startPlaying } from "./player";
import { startRangeWork } from "./range-work";
import type { StudioState, StudioStore } from "./store";

/** Milliseconds of quiet after which ranges and histograms are worked out. */
const INSPECT_AFTER = 140;
/** Milliseconds that a piece may take to show for the first time; a heavier one opens paused. */
const OPENING_LIMIT = 4000;

export interface StageSink {
  show(drawing: WireDrawing): void;
  setStage(stage: StageSettings): void;
}

/** A card that was moved, a note or a dial changes nothing that is worked out. */
const isChanged = (a: PieceDocument, b: PieceDocument): boolean => a !== b && workText(a) !== workText(b);

/** Only a drawing with a checker needs what others are sent without. */
const turnedToChecker = (now: StudioState, before: StudioState): boolean =>
  now.drawMode === "checker" && before.drawMode !== "checker";

/** Whether changes are to be worked out now. An open group of edits is a drag. */
function isDue({ pace, history }: StudioState): boolean {
  if (pace === "live") return true;
  return pace === "on release" && history.past.at(-1)?.group === undefined;
}

export interface EngineLink {
  readonly client: EngineClient;
  /** Works a paused or stale piece out, however long it takes. */
  resume(): void;
  /** Works the whole range out ahead, or stops that. */
  workRange(): void;
  dispose(): void;
}

export function linkEngine(store: StudioStore, sink: StageSink): EngineLink {
  const { time } = store;
  let inspectTimer: ReturnType<typeof setTimeout> | undefined;
  let opening = true;
  const handlers: EngineHandlers = {
    evaluated({ report, drawing, stage }) {
      if (report.stopped) store.getState().set({ paused: true });
      else if (report.complete) opening = false;
      if (drawing) {
        sink.show(drawing);
        client.recycle(drawing);
      }
      if (stage) sink.setStage(stage);
      const { frame, ms, bytes } = report;
      time.setState({ shown: { frame, ms, bytes } });
      const before = store.getState().report;
      const now = keptReport(report, before);
      if (now !== before) store.getState().set({ report: now });
      if (!time.getState().playing) inspectSoon();
    },
    failed: (what) => store.getState().set({ notice: what }),
    busy: (busy) => {
      const now = time.getState();
      if (now.busy !== busy || now.stepped !== null) time.setState({ busy, stepped: null });
    },
    stepped: (frame, until) => time.setState({ stepped: { frame, until } }),
    frames: (frames) => {
      if (JSON.stringify(frames) !== JSON.stringify(time.getState().frameStates))
        time.setState({ frameStates: frames });
    },
  };
  const client = new EngineClient(handlers, `${store.getState().pieceId}.states`);
  let inspected: unknown[] = [];
  const request = (inspect: boolean) => {
    const { document, paused, peek, drawMode, stale, set } = store.getState();
    const { frame } = time.getState();
    if (paused) return;
    if (stale) set({ stale: false });
    client.evaluate({
      document,
      frame,
      inspect,
      peek,
      laid: drawMode === "checker",
      ...(opening ? { timeLimit: OPENING_LIMIT } : {}),
    });
  };
  const inspectSoon = () => {
    clearTimeout(inspectTimer);
    const { document } = store.getState();
    const { frame } = time.getState();
    if (inspected[0] === document && inspected[1] === frame) return;
    inspectTimer = setTimeout(() => {
      inspected = [store.getState().document, time.getState().frame];
      request(true);
    }, INSPECT_AFTER);
  };
  let stopPlaying = () => {};
  let stopRange = () => {};
  const unsubscribe = store.subscribe((state, before) => {
    const changed = isChanged(state.document, before.document);
    if (changed && !isDue(state)) state.set({ stale: true });
    else if (changed || state.peek !== before.peek || turnedToChecker(state, before)) request(false);
    // The drag ended, or the designer asked.
    else if (before.stale && state.stale && isDue(state)) request(false);
  });
  const unsubscribeTime = time.subscribe((now, before) => {
    if (now.frame !== before.frame) request(false);
    if (now.playing === before.playing) return;
    if (now.playing) stopPlaying = startPlaying(store);
    else {
      time.setState({ shownRate: null });
      inspectSoon();
    }
  });

  store.getState().set({
    query: (kind, ask) => {
      return client.query(store.getState().document, time.getState().frame, kind, ask);
    },
  });
  request(false);
  return {
    client,
    resume() {
      opening = false;
      store.getState().set({ stale: false });
      store.getState().set({ paused: false });
      request(false);
    },
    workRange() {
      if (time.getState().rangeWork) stopRange();
      else stopRange = startRangeWork(store, client);
    },
    dispose() {
      clearTimeout(inspectTimer);
      stopRange();
      stopPlaying();
      unsubscribe();
      unsubscribeTime();
      store.getState().set({ query: null });
      client.dispose();
    },
  };
}
