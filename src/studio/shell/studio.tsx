"use client";
import { ReactFlowProvider, useReactFlow } from "@xyflow/react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { PATH_SEPARATOR } from "@/core/capsules/flatten";
import type { StoredPiece } from "@/server/pieces";
import { switchTheme } from "@/ui/theme";
import { Detail } from "../dials/detail";
import { keepFits } from "../dials/fits";
import { restoreDeliveries } from "../export/delivery-queue";
import { useFileDrop } from "../export/file-drop";
import { TakeAway } from "../export/take-away";
import { loadRecipes } from "../graph/adder/put-recipe";
import { CARD_WIDTH } from "../graph/cards/card-size";
import { Graph } from "../graph/graph";
import { ActionMenu } from "../graph/menu-items";
import { loadLibrary } from "../library/library-client";
import { Library } from "../library/library-dialog";
import { CompareStage } from "../stage/compare-stage";
import { Stage } from "../stage/stage";
import type { StageView } from "../stage/stage-view";
import { Actions } from "../state/action";
import { startAutosave } from "../state/autosave";
import { type EngineLink, linkEngine } from "../state/engine-link";
import { keepHistory } from "../state/kept-history";
import { createStudioStore, StudioContext, useStudio, useStudioStore } from "../state/store";
import { Timeline } from "../timeline/timeline";
import { Drawer } from "../values/drawer";
import { actionsOf, type Dialogs } from "./actions";
import { Areas } from "./areas";
import { Header } from "./header";
import { HistoryList } from "./history-list";
import { Notices } from "./notices";
import { Search } from "./search";
import { Shortcuts } from "./shortcuts";
import { Tour } from "./tour";
import { useActionKeys } from "./use-action-keys";
import { useKeysAfterClicks } from "./use-keys-after-clicks";
import { Versions } from "./versions";

export function Studio({ piece }: { piece: StoredPiece }) {
  const [store] = useState(() => createStudioStore(piece.id, piece.document));
  useEffect(() => startAutosave(store, piece.revision), [store, piece.revision]);
  useEffect(() => keepHistory(store), [store]);
  useEffect(() => {
    void loadLibrary(store);
    void loadRecipes(store);
  }, [store]);
  useEffect(() => keepFits(store), [store]);
  useEffect(() => void restoreDeliveries(), []);
  return (
    <StudioContext.Provider value={store}>
      <ReactFlowProvider>
        <Shell />
      </ReactFlowProvider>
    </StudioContext.Provider>
  );
}

const ON_THE_STAGE = [
  ["frame", "play", "paths"],
  ["through", "camera-here"],
  ["lit", "flat", "lines"],
  ["stage", "play-layout", "sheet", "arrange"],
  ["take-away"],
];
const ON_THE_TIMELINE = [
  ["play", "first", "previous", "next", "last"],
  ["tracks", "auto-key", "work-range"],
  ["loop", "pair"],
  ["time-frames", "time-seconds", "time-time code"],
];

function Shell() {
  const store = useStudioStore();
  const flow = useReactFlow();
  const [opened, setOpened] = useState<Dialogs | null>(null);
  const view = useRef<StageView | null>(null);
  const engine = useRef<EngineLink | null>(null);
  const title = useStudio((s) => s.document.name);
  useEffect(() => {
    document.title = `${title} · Glemmo`;
  }, [title]);

  const onReady = useCallback(
    (stage: StageView) => {
      view.current = stage;
      let framed = store.getState().document.view !== undefined;
      const link = linkEngine(store, {
        show(drawing) {
          stage.show(drawing);
          if (!framed && drawing.bounds) {
            framed = true;
            stage.frameAll();
          }
        },
        setStage: (settings) => stage.setStage(settings),
      });
      engine.current = link;
      return () => {
        link.dispose();
        engine.current = null;
        view.current = null;
      };
    },
    [store],
  );

  const actions = useMemo(
    () =>
      actionsOf({
        store,
        frameAll: () => view.current?.frameAll(),
        open: setOpened,
        switchTheme,
        resume: () => engine.current?.resume(),
        workRange: () => engine.current?.workRange(),
      }),
    [store],
  );
  useActionKeys(actions);
  useKeysAfterClicks();
  const drop = useFileDrop((screen) => flow.screenToFlowPosition({ x: screen[0], y: screen[1] }));

  return (
    <Actions value={actions}>
      <div className="flex h-dvh flex-col" {...drop.handlers}>
        <Header
          onSearch={() => setOpened("search")}
          onTakeAway={() => setOpened("take-away")}
          onVersions={() => setOpened("versions")}
        />
        <Notices onResume={() => engine.current?.resume()} />
        <div className="min-h-0 flex-1">
          <Areas
            stage={
              <div className="flex h-full flex-col">
                <div className="flex min-h-0 flex-1">
                  <div className="min-w-0 flex-1">
                    <ActionMenu label="On the stage" groups={ON_THE_STAGE}>
                      <Stage
                        onReady={onReady}
                        onStop={() => engine.current?.client.stop()}
                        onFiles={(files) => void drop.bringIn(files, [innerWidth * 0.55, innerHeight * 0.4])}
                        onResume={() => engine.current?.resume()}
                      />
                    </ActionMenu>
                  </div>
                  <CompareStage view={view} />
                </div>
                <Drawer />
              </div>
            }
            graph={<Graph />}
            detail={<Detail />}
          />
        </div>
        <ActionMenu label="On the strip" groups={ON_THE_TIMELINE}>
          <div className="shrink-0">
            <Timeline />
          </div>
        </ActionMenu>
        <Tour />
        {drop.over && (
          <div className="pointer-events-none fixed inset-3 z-50 grid place-content-center rounded-6 border-2 border-accent border-dashed bg-ground/80 font-display text-22">
            Drop to bring it in
          </div>
        )}
        <Search
          open={opened === "search" || opened === "link"}
          begin={opened === "link" ? "link " : ""}
          actions={actions}
          onClose={() => setOpened(null)}
          onShowNode={(path) => {
            // The graph that it lies in may only just have been opened.
            setTimeout(() => {
              const { x, y } = flow.getNode(path.split(PATH_SEPARATOR).at(-1) ?? "")?.position ?? {
                x: 0,
                y: 0,
              };
              void flow.setCenter(x + CARD_WIDTH / 2, y + 120, { zoom: 0.85 });
            }, 120);
          }}
        />
        {opened === "take-away" && (
          <TakeAway
            open
            onClose={() => setOpened(null)}
            engine={() => engine.current?.client ?? null}
            view={() => view.current}
          />
        )}
        {opened === "versions" && <Versions onClose={() => setOpened(null)} />}
        {opened === "history" && <HistoryList onClose={() => setOpened(null)} />}
        {opened === "library" && (
          <Library
            place={() => {
              const { x, y } = flow.screenToFlowPosition({ x: innerWidth * 0.6, y: innerHeight * 0.4 });
              return [x, y];
            }}
            onClose={() => setOpened(null)}
          />
        )}
        {opened === "shortcuts" && <Shortcuts actions={actions} onClose={() => setOpened(null)} />}
      </div>
    </Actions>
  );
}
