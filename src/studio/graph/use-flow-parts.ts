/** Cards and links as the canvas has them: positions while dragging live here, what is chosen is the store's. */
import {
  applyEdgeChanges,
  applyNodeChanges,
  type Edge,
  type EdgeChange,
  type Node,
  type NodeChange,
} from "@xyflow/react";
import { useCallback, useEffect, useState } from "react";
import { useStudio, useStudioStore } from "../state/store";
import { flowEdges, flowNodes, noteOf } from "./flow-parts";

export function useFlowParts() {
  const store = useStudioStore();
  const graph = useStudio((s) => s.opened.document.graph);
  const selected = useStudio((s) => s.selected);
  const [nodes, setNodes] = useState<Node[]>(() => flowNodes(graph, selected));
  const [edges, setEdges] = useState<Edge[]>(() => flowEdges(graph, []));
  useEffect(() => {
    setNodes((before) => flowNodes(graph, selected, before));
    setEdges((before) => flowEdges(graph, before));
  }, [graph, selected]);

  const onNodesChange = useCallback(
    (changes: NodeChange[]) => {
      setNodes((before) => applyNodeChanges(changes, before));
      const picks = changes.filter((change) => change.type === "select" && noteOf(change.id) === null);
      if (picks.length > 0) {
        const next = new Set(store.getState().selected);
        for (const pick of picks) {
          if (pick.type !== "select") continue;
          if (pick.selected) next.add(pick.id);
          else next.delete(pick.id);
        }
        store.getState().select(next);
      }
    },
    [store],
  );
  const onEdgesChange = useCallback(
    (changes: EdgeChange[]) => setEdges((before) => applyEdgeChanges(changes, before)),
    [],
  );
  return { nodes, setNodes, edges, onNodesChange, onEdgesChange };
}
