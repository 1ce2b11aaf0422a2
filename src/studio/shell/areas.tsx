"use client";
import { type ReactNode, useEffect, useMemo, useState } from "react";
import { Group, type Layout, Panel, Separator } from "react-resizable-panels";
import { createHtmlPortalNode, type HtmlPortalNode, InPortal, OutPortal } from "react-reverse-portal";
import { keepAreas, keptAreas } from "../state/kept-areas";
import { useStudio, useStudioStore } from "../state/store";

interface AreasProps {
  readonly stage: ReactNode;
  readonly graph: ReactNode;
  readonly detail: ReactNode;
}

/**
 * Stage, graph and detail, laid out as the designer likes it for this piece. They are moved from one arrangement to another
 * as they are: the stage keeps its picture, the graph its view.
 */
export function Areas({ stage, graph, detail }: AreasProps) {
  const [places, setPlaces] = useState<Places | null>(null);
  const store = useStudioStore();
  // There is no page to move them on, and nothing remembered, before it is in the browser.
  useEffect(() => {
    const { pieceId, set } = store.getState();
    set({ arrangement: keptAreas(pieceId).arrangement });
    setPlaces({ stage: place(), graph: place(), detail: place() });
  }, [store]);
  if (!places) return null;
  return (
    <>
      <InPortal node={places.stage}>{stage}</InPortal>
      <InPortal node={places.graph}>{graph}</InPortal>
      <InPortal node={places.detail}>{detail}</InPortal>
      <Arranged
        stage={<OutPortal node={places.stage} />}
        graph={<OutPortal node={places.graph} />}
        detail={<OutPortal node={places.detail} />}
      />
    </>
  );
}

type Places = Readonly<Record<keyof AreasProps, HtmlPortalNode>>;
const place = () => createHtmlPortalNode({ attributes: { style: "height: 100%" } });

function Arranged({ stage, graph, detail }: AreasProps) {
  const arrangement = useStudio((s) => s.arrangement);
  const maximised = useStudio((s) => s.maximised);
  const sheetOut = useStudio((s) => s.sheetOut);
  if (maximised === "graph") return <Alone name="graph" shown={graph} away={stage} detail={detail} />;
  if (maximised !== null || (arrangement === "sheet" && !sheetOut))
    return <Alone name="stage" shown={stage} away={graph} detail={detail} />;
  if (arrangement === "under")
    return (
      <Kept
        group="under"
        orientation="vertical"
        panels={[
          [
            "above",
            "54%",
            <Kept
              key="above"
              group="above"
              orientation="horizontal"
              panels={[
                ["stage", "80%", stage],
                ["detail", "20%", detail],
              ]}
            />,
          ],
          ["graph", "46%", graph],
        ]}
      />
    );
  if (arrangement === "sheet")
    return (
      <Kept
        group="sheet"
        orientation="horizontal"
        panels={[
          [
            "stage",
            "83%",
            <div key="stage" className="relative h-full">
              {stage}
              <div className="pointer-events-none absolute inset-0 z-20 [&_[data-group]]:pointer-events-none">
                <Kept
                  group="over"
                  orientation="horizontal"
                  panels={[
                    ["free", "40%", null],
                    [
                      "graph",
                      "60%",
                      <div key="graph" className="graph-sheet pointer-events-auto h-full">
                        {graph}
                      </div>,
                    ],
                  ]}
                />
              </div>
            </div>,
          ],
          ["detail", "17%", detail],
        ]}
      />
    );
  return (
    <Kept
      group="beside"
      orientation="horizontal"
      panels={[
        ["stage", "42%", stage],
        ["graph", "39%", graph],
        ["detail", "19%", detail],
      ]}
    />
  );
}

interface AloneProps {
  readonly name: "stage" | "graph";
  readonly shown: ReactNode;
  readonly away: ReactNode;
  readonly detail: ReactNode;
}

/** One area with the detail. The other stays on the page, so that it is as it was when it comes back. */
const Alone = ({ name, shown, away, detail }: AloneProps) => (
  <>
    <Kept
      group={`${name}-only`}
      orientation="horizontal"
      panels={[
        [name, "83%", shown],
        ["detail", "17%", detail],
      ]}
    />
    <div hidden>{away}</div>
  </>
);

interface KeptProps {
  /** Its name, under which the places of its borders are remembered. */
  readonly group: string;
  readonly orientation: "horizontal" | "vertical";
  readonly panels: readonly (readonly [id: string, size: string, content: ReactNode])[];
}

const SEPARATOR =
  "pointer-events-auto bg-rule outline-none data-[separator=hover]:bg-accent focus-visible:bg-accent";

/** Panels with borders that are dragged. */
function Kept({ group, orientation, panels }: KeptProps) {
  const piece = useStudioStore().getState().pieceId;
  // Of another arrangement there are other borders: the same component may be given one after the other.
  const first = useMemo(() => keptAreas(piece).parts[group], [piece, group]);
  return (
    <Group
      key={group}
      id={group}
      orientation={orientation}
      defaultLayout={first}
      onLayoutChanged={(parts: Layout) =>
        keepAreas(piece, { parts: { ...keptAreas(piece).parts, [group]: parts } })
      }
    >
      {panels.flatMap(([id, size, content], i) => [
        i > 0 && (
          <Separator
            key={`border-${id}`}
            aria-label={`Border before ${id}`}
            className={`${SEPARATOR} ${orientation === "horizontal" ? "w-px" : "h-px"}`}
          />
        ),
        <Panel
          key={id}
          id={id}
          defaultSize={first ? undefined : size}
          minSize={id === "detail" ? "190px" : "15%"}
          className={id === "free" ? "pointer-events-none" : undefined}
        >
          {content}
        </Panel>,
      ])}
    </Group>
  );
}
