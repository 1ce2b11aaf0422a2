/** Joins the store with the engine: asks for frames when document or frame change, plays, and inspects when idle. */
import type { PieceDocument } from "@/core/document/schema";
import type { EvaluationReport } from "@/core/evaluate/report";
import { EngineClient } from "@/engine/client";
import type { StageSettings, WireDrawing } from "@/engine/protocol";
import { startPlaying } from "./player";
import type { StudioState, StudioStore } from "./store";

/** Milliseconds of quiet after which ranges and histograms are worked out. */
const INSPECT_AFTER = 140;
/** Milliseconds that a piece may take to show for the first time; a heavier one opens paused. */
const OPENING_LIMIT = 4000;

export interface StageSink {
  show(drawing: WireDrawing): void;
  setStage(stage: StageSettings): void;
}

const isChanged = (a: PieceDocument, b: PieceDocument): boolean =>
  a.graph !== b.graph || a.capsules !== b.capsules || a.settings !== b.settings || a.assets !== b.assets;

/** Whether changes are to be worked out now. An open group of edits is a drag. */
function isDue({ pace, history }: StudioState): boolean {
  if (pace === "live") return true;
  return pace === "on release" && history.past.at(-1)?.group === undefined;
}

export interface EngineLink {
  readonly client: EngineClient;
  /** Works a paused or stale piece out, however long it takes. */
  resume(): void;
  dispose(): void;
}

export function linkEngine(store: StudioStore, sink: StageSink): EngineLink {
  let inspectTimer: ReturnType<typeof setTimeout> | undefined;
  let opening = true;
  const client = new EngineClient({
    evaluated({ report, drawing, stage }) {
      if (report.stopped) store.getState().set({ paused: true });
      else if (report.complete) opening = false;
      if (drawing) {
        sink.show(drawing);
        client.recycle(drawing);
      }
      if (stage) sink.setStage(stage);
      const before = store.getState().report;
      store.getState().set({ report: keepTally(keepValues(report, before), before) });
      if (!store.getState().playing) inspectSoon();
    },
    failed: (what) => store.getState().set({ notice: what }),
    busy: (busy) => store.getState().set({ busy, stepped: null }),
    stepped: (frame, until) => store.getState().set({ stepped: { frame, until } }),
  });
  let inspected: unknown[] = [];
  const request = (inspect: boolean) => {
    const { document, frame, paused, peek, stale, set } = store.getState();
    if (paused) return;
    if (stale) set({ stale: false });
    client.evaluate({ document, frame, inspect, peek, ...(opening ? { timeLimit: OPENING_LIMIT } : {}) });
  };
  const inspectSoon = () => {
    clearTimeout(inspectTimer);
    const { document, frame } = store.getState();
    if (inspected[0] === document && inspected[1] === frame) return;
    inspectTimer = setTimeout(() => {
      inspected = [store.getState().document, store.getState().frame];
      request(true);
    }, INSPECT_AFTER);
  };
  let stopPlaying = () => {};
  const unsubscribe = store.subscribe((state, before) => {
    const changed = isChanged(state.document, before.document);
    if (changed && !isDue(state)) state.set({ stale: true });
    else if (changed || state.frame !== before.frame || state.peek !== before.peek) request(false);
    // The drag ended, or the designer asked.
    else if (before.stale && state.stale && isDue(state)) request(false);
    if (state.playing !== before.playing) {
      if (state.playing) stopPlaying = startPlaying(store);
      else {
        state.set({ shownRate: null });
        inspectSoon();
      }
    }
  });

  store.getState().set({
    look: (kind, ask) => {
      const { document, frame } = store.getState();
      return client.look(document, frame, kind, ask);
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
    dispose() {
      clearTimeout(inspectTimer);
      stopPlaying();
      unsubscribe();
      store.getState().set({ look: null });
      client.dispose();
    },
  };
}

/** Reports between inspections carry no ranges; the last known ones stay until new ones come. */
function keepValues(report: EvaluationReport, before: EvaluationReport | null): EvaluationReport {
  if (!before) return report;
  const nodes = Object.fromEntries(
    Object.entries(report.nodes).map(([id, node]) => [
      id,
      node.values || node.hints
        ? node
        : { ...node, values: before.nodes[id]?.values, hints: before.nodes[id]?.hints },
    ]),
  );
  return { ...report, nodes };
}

/** While a result fails, the stage shows the one before, and so does the tally. */
const keepTally = (report: EvaluationReport, before: EvaluationReport | null): EvaluationReport =>
  report.complete || !before ? report : { ...report, tally: before.tally };
