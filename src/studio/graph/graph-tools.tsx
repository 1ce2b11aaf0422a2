/** The buttons over the graph, and its map. */
import { MiniMap } from "@xyflow/react";
import {
  Lasso as LassoIcon,
  Map as MapIcon,
  Maximize,
  Plus,
  ScanSearch,
  StickyNote,
  Undo2,
} from "lucide-react";
import { Button, IconButton } from "@/ui/button";
import { useStudio, useStudioStore } from "../state/store";
import type { useGraphView } from "./use-graph-view";

const TOOL = "border border-rule bg-panel/90 aria-pressed:text-accent";

interface GraphToolsProps {
  readonly view: ReturnType<typeof useGraphView>["view"];
  readonly lasso: boolean;
  readonly onLasso: () => void;
  readonly onAdd: () => void;
  readonly onNote: () => void;
}

export function GraphTools({ view, lasso, onLasso, onAdd, onNote }: GraphToolsProps) {
  const store = useStudioStore();
  const miniMap = useStudio((s) => s.miniMap);
  return (
    <div className="absolute bottom-3 left-3 z-10 flex items-center gap-1">
      <Button onClick={onAdd} title="Add a node (/)">
        <Plus size={14} /> Add <kbd className="tabular text-11 text-faint">/</kbd>
      </Button>
      <IconButton label="Choose by drawing around" aria-pressed={lasso} className={TOOL} onClick={onLasso}>
        <LassoIcon size={14} />
      </IconButton>
      <IconButton label="Put a note area behind what is chosen" className={TOOL} onClick={onNote}>
        <StickyNote size={14} />
      </IconButton>
      <IconButton label="Show the whole graph (G)" className={TOOL} onClick={view.whole}>
        <Maximize size={14} />
      </IconButton>
      <IconButton label="Show what is chosen (Shift G)" className={TOOL} onClick={view.chosen}>
        <ScanSearch size={14} />
      </IconButton>
      <IconButton label="Back to the last view (Z)" className={TOOL} onClick={view.back}>
        <Undo2 size={14} />
      </IconButton>
      <IconButton
        label="Map of the graph (M)"
        aria-pressed={miniMap}
        className={TOOL}
        onClick={() => store.getState().set({ miniMap: !miniMap })}
      >
        <MapIcon size={14} />
      </IconButton>
    </div>
  );
}

export function GraphMap() {
  const isShown = useStudio((s) => s.miniMap);
  return (
    isShown && (
      <MiniMap
        pannable
        zoomable
        ariaLabel="Map of the graph"
        bgColor="var(--panel)"
        maskColor="color-mix(in srgb, var(--ground) 70%, transparent)"
        nodeColor={(node) =>
          node.type === "note" ? "transparent" : node.selected ? "var(--accent)" : "var(--faint)"
        }
        nodeStrokeColor="var(--rule)"
        style={{ width: 150, height: 100, border: "1px solid var(--rule)", borderRadius: 6 }}
      />
    )
  );
}
