/** Where the pointer is over the graph, and the keys that work there: what is chosen goes, something is added. */
import { type Edge, type Node, useReactFlow } from "@xyflow/react";
import { type RefObject, useCallback, useEffect, useRef } from "react";
import { joinAddress } from "@/core/document/links";
import type { StudioStore } from "../state/store";
import { linkOf, noteOf } from "./flow-parts";
import { removeEdit } from "./graph-edits";
import { removeHealedEdit } from "./links/link-edits";

/** From an input to the right edge of what is added to feed it, pixels of the screen. */
const BESIDE = 48;

export function useGraphKeys(
  store: StudioStore,
  area: RefObject<HTMLDivElement | null>,
  nodes: readonly Node[],
  edges: readonly Edge[],
) {
  const flow = useReactFlow();
  const nodesNow = useRef(nodes);
  nodesNow.current = nodes;
  const pointer = useRef<[number, number]>([0, 0]);
  const openAdder = useCallback(
    (words?: string) => {
      const box = area.current?.getBoundingClientRect();
      if (!box) return;
      // What is added while an input has the focus feeds it.
      const row = document.activeElement?.closest<HTMLElement>("[data-input-of]");
      const { inputOf, input } = (area.current?.contains(row ?? null) && row?.dataset) || {};
      if (row && inputOf && input) {
        const { left, top } = row.getBoundingClientRect();
        const link = { address: joinAddress(inputOf, input), end: "to" as const };
        store.getState().set({ adder: { screen: [left - BESIDE, top], link, words } });
        return;
      }
      const [x, y] = pointer.current;
      const inside = x > box.left && x < box.right && y > box.top && y < box.bottom;
      store.getState().set({
        adder: { screen: inside ? [x, y] : [box.left + box.width / 2, box.top + box.height / 3], words },
      });
    },
    [store, area],
  );

  /** Where the pointer is over the graph, else the middle of what is seen of it. */
  const place = useCallback((): [number, number] => {
    const box = area.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const [x, y] = pointer.current;
    const inside = x > box.left && x < box.right && y > box.top && y < box.bottom;
    const at = flow.screenToFlowPosition(
      inside ? { x, y } : { x: box.left + box.width / 2, y: box.top + box.height / 2 },
    );
    return [at.x, at.y];
  }, [flow, area]);

  useEffect(() => {
    const onMove = (event: PointerEvent) => {
      pointer.current = [event.clientX, event.clientY];
    };
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest("input, textarea, [role=dialog], [role=listbox]")) return;
      if (event.key === "/") {
        event.preventDefault();
        openAdder();
      } else if (event.key === "Delete" || event.key === "Backspace") {
        const { opened, selected: chosen, edit } = store.getState();
        const { document } = opened;
        const links = edges.filter((edge) => edge.selected).map(linkOf);
        const noted = nodesNow.current.some((n) => n.selected && noteOf(n.id) !== null);
        if (chosen.size === 0 && links.length === 0 && !noted) return;
        event.preventDefault();
        const notes = nodesNow.current.filter((n) => n.selected).flatMap((n) => noteOf(n.id) ?? []);
        const removal = event.shiftKey
          ? removeEdit(document, chosen, links)
          : removeHealedEdit(document, chosen, links);
        edit(notes.length > 0 ? { kind: "several", edits: [removal, { kind: "remove", notes }] } : removal);
        store.getState().select([]);
      }
    };
    window.addEventListener("pointermove", onMove);
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("pointermove", onMove);
      window.removeEventListener("keydown", onKey);
    };
  }, [store, edges, openAdder]);
  return { openAdder, place };
}
