"use client";
import type { ReactNode } from "react";
import { useRef, useState } from "react";
import type { Link } from "@/core/document/schema";
import { definitionOfNode, useStudio, useStudioStore } from "../state/store";
import { edgeId, noteOf } from "./flow-parts";
import { InputMenuArea } from "./input-menu";
import { ActionItems, Item } from "./menu-items";

/** What lies under the pointer. */
type Spot =
  | { readonly kind: "card"; readonly node: string }
  | { readonly kind: "link"; readonly link: Link }
  | { readonly kind: "note"; readonly id: string }
  | { readonly kind: "ground" };

const CARD = [
  ["peek", "bypass", "open", "link"],
  ["duplicate", "copy", "cut", "pack", "pack-loop", "unpack"],
  ["pull", "swap", "tidy", "column", "row", "chosen-graph"],
  ["remove"],
];
const GROUND = [
  ["add", "paste", "note"],
  ["select-all", "tidy"],
  ["whole-graph", "last-view", "map", "arrange"],
  ["search"],
];

interface GraphMenuProps {
  readonly children: ReactNode;
  /** Leads a link through a place of the screen. */
  readonly onLead: (link: Link, x: number, y: number) => void;
}

/** Right-click on anything of the graph that has no menu of its own lists what can be done there. */
export function GraphMenu({ children, onLead }: GraphMenuProps) {
  const store = useStudioStore();
  const [spot, setSpot] = useState<Spot>({ kind: "ground" });
  const at = useRef<readonly [number, number]>([0, 0]);
  const title = useStudio((s) =>
    spot.kind === "card" ? (definitionOfNode(s, spot.node)?.title ?? spot.node) : null,
  );
  const find = (target: HTMLElement): Spot => {
    const { graph } = store.getState().opened.document;
    const item = target.closest<HTMLElement>(".react-flow__node")?.dataset.id;
    const note = item === undefined ? null : noteOf(item);
    if (note !== null) return { kind: "note", id: note };
    if (item !== undefined) return { kind: "card", node: item };
    const edge = target.closest(".react-flow__edge")?.getAttribute("data-id");
    const link = graph.links.find((one) => edgeId(one) === edge);
    return link ? { kind: "link", link } : { kind: "ground" };
  };
  const items = (
    <>
      {spot.kind === "card" && <ActionItems groups={CARD} />}
      {spot.kind === "ground" && <ActionItems groups={GROUND} />}
      {spot.kind === "link" && (
        <>
          <Item title="Lead it through here" run={() => onLead(spot.link, ...at.current)} />
          <Item
            title="Put a node into it"
            run={() =>
              store.getState().set({
                adder: {
                  screen: at.current,
                  link: { address: spot.link.from, end: "from" },
                  into: spot.link.to,
                },
              })
            }
          />
          <Item
            title="Take it away"
            keys="Delete"
            run={() => store.getState().edit({ kind: "remove", links: [spot.link] })}
          />
        </>
      )}
      {spot.kind === "note" && (
        <Item
          title="Take the note area away, and leave its cards"
          run={() => {
            const { opened, edit } = store.getState();
            if (opened.document.graph.notes?.some(({ id }) => id === spot.id))
              edit({ kind: "remove", notes: [spot.id] });
          }}
        />
      )}
    </>
  );
  const onOpen = (event: MouseEvent) => {
    const found = find(event.target as HTMLElement);
    at.current = [event.clientX, event.clientY];
    setSpot(found);
    // What is done to a card is done to all that are chosen with it.
    if (found.kind === "card" && !store.getState().selected.has(found.node))
      store.getState().select([found.node]);
  };
  return (
    <InputMenuArea elsewhere={{ label: title ?? `On the ${spot.kind}`, items, onOpen }}>
      {children}
    </InputMenuArea>
  );
}
