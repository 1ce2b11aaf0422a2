"use client";
import { useEffect, useMemo, useState } from "react";
import { applyEdit } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";
import type { AnyNode } from "@/core/nodes/define";
import { Button } from "@/ui/button";
import { Dialog } from "@/ui/dialog";
import { movingPicture } from "@/ui/moving-picture";
import { THUMBNAIL_FRAMES, ThumbnailMaker } from "../../stage/thumbnail";
import { useStudioStore } from "../../state/store";
import { cardSize, portPlace } from "../cards/card-size";
import { FAMILY_TINT } from "../cards/glyphs";
import { bringIn } from "../clipboard-edits";
import { typeOf } from "../graph-edits";
import { guardedEdit } from "../guarded-edit";
import { tidyEdit } from "../layout/tidy";
import { tidyEngine } from "../layout/tidy-engine";
import { lineOf } from "../links/link-line";
import { type Place, routeOf } from "../links/link-route";
import { exampleOf, IT } from "./node-example";

interface ExampleDialogProps {
  readonly node: AnyNode;
  readonly onClose: () => void;
}

/** A node's example, over the piece: its picture, its graph, and a button that copies it into the piece. */
export function ExampleDialog({ node, onClose }: ExampleDialogProps) {
  const store = useStudioStore();
  const example = useMemo(() => exampleOf(node), [node]);
  const laid = useLaidOut(example);
  const picture = usePicture(example);
  const copy = () => {
    const { opened, graphView } = store.getState();
    const nodes = (laid ?? example).graph.nodes.filter(({ type }) => type !== "stage");
    const kept = new Set(nodes.map(({ id }) => id));
    const links = example.graph.links.filter(({ to }) => kept.has(parseAddress(to).node));
    const brought = bringIn(opened.document, { ...example, graph: { nodes, links } }, below(opened.document));
    if (!brought.ok) store.getState().set({ notice: brought.what });
    else if (guardedEdit(store, brought.edit)) {
      store.getState().select(brought.ids);
      setTimeout(() => graphView?.chosen(), 80);
    }
    onClose();
  };
  return (
    <Dialog
      open
      title={`${node.title}, an example`}
      about={node.about}
      onClose={onClose}
      className="w-[620px]"
    >
      <div className="grid gap-3">
        <div
          role="img"
          aria-label={`What the example of ${node.title} shows`}
          className="h-[190px] rounded-6 bg-[#14201b] bg-center bg-no-repeat motion-safe:[animation:strip_2.4s_infinite]"
          style={
            typeof picture === "string"
              ? { width: 285, justifySelf: "center", ...movingPicture(picture, THUMBNAIL_FRAMES) }
              : undefined
          }
        >
          {picture === null && (
            <p className="grid h-full place-content-center text-12 text-faint">
              It cannot be drawn here; its graph still shows how it is linked.
            </p>
          )}
        </div>
        {laid && <LittleGraph document={laid} />}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Close</Button>
          <Button look="accent" onClick={copy}>
            Copy it into the piece
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

/** A place under all cards. */
function below({ graph }: PieceDocument): [number, number] {
  const left = Math.min(...graph.nodes.map(({ at }) => at[0]), 0);
  return [left + 400, Math.max(...graph.nodes.map(({ at }) => at[1]), 0) + 700];
}

function useLaidOut(document: PieceDocument): PieceDocument | null {
  const [laid, setLaid] = useState<PieceDocument | null>(null);
  useEffect(() => {
    let left = false;
    void tidyEngine()
      .then((engine) => tidyEdit(engine, document, new Set(), new Map(), 2))
      .catch(() => null)
      .then((edit) => {
        if (!left) setLaid(edit ? applyEdit(document, edit).document : document);
      });
    return () => {
      left = true;
    };
  }, [document]);
  return laid;
}

/** An address of its moving picture; undefined while it is made, null when it cannot be. */
function usePicture(document: PieceDocument): string | null | undefined {
  const [address, setAddress] = useState<string | null>();
  useEffect(() => {
    let made: string | null = null;
    let maker: ThumbnailMaker | null = null;
    try {
      maker = new ThumbnailMaker();
    } catch {
      setAddress(null);
      return;
    }
    void maker
      .make(document)
      .catch(() => null)
      .then((strip) => {
        made = strip && URL.createObjectURL(strip);
        setAddress(made);
      });
    return () => {
      maker?.dispose();
      if (made) URL.revokeObjectURL(made);
    };
  }, [document]);
  return address;
}

const PAD = 24;

/** The graph as a drawing: cards with their titles, links as they would run. */
function LittleGraph({ document }: { document: PieceDocument }) {
  const { nodes, links } = document.graph;
  const boxes = nodes.map((node) => ({ x: node.at[0], y: node.at[1], ...cardSize(document, node) }));
  const [left, top] = [Math.min(...boxes.map(({ x }) => x)), Math.min(...boxes.map(({ y }) => y))];
  const right = Math.max(...boxes.map(({ x, width }) => x + width));
  const bottom = Math.max(...boxes.map(({ y, height }) => y + height));
  const end = (address: string, side: "input" | "output"): Place | null => {
    const { node: id, port } = parseAddress(address);
    const node = nodes.find((one) => one.id === id);
    const place = node && portPlace(document, node, port, side);
    return node && place ? [node.at[0] + place[0], node.at[1] + place[1]] : null;
  };
  return (
    <svg
      role="img"
      aria-label={nodes.map(({ id, type }) => typeOf(document, id)?.title ?? type).join(", ")}
      className="max-h-[250px] w-full rounded-6 border border-rule bg-ground"
      viewBox={`${left - PAD} ${top - PAD} ${right - left + 2 * PAD} ${bottom - top + 2 * PAD}`}
    >
      {links.map((link) => {
        const [from, to] = [end(link.from, "output"), end(link.to, "input")];
        return (
          from &&
          to && (
            <path
              key={`${link.from}>${link.to}`}
              d={lineOf(routeOf(from, to, boxes))}
              fill="none"
              stroke="var(--accent)"
              strokeWidth={3}
            />
          )
        );
      })}
      {nodes.map((node, i) => {
        const definition = typeOf(document, node.id);
        const { x, y, width, height } = boxes[i];
        return (
          <g key={node.id}>
            <rect
              x={x}
              y={y}
              width={width}
              height={height}
              fill="var(--panel)"
              stroke={node.id === IT ? "var(--accent)" : "var(--rule)"}
              strokeWidth={node.id === IT ? 4 : 2}
            />
            <text
              x={x + width / 2}
              y={y + height / 2 + 10}
              textAnchor="middle"
              fontSize={30}
              fill={definition ? FAMILY_TINT[definition.family] : "var(--ink)"}
            >
              {definition?.title ?? node.type}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
