/** What becomes of links that are drawn, put elsewhere, or dropped where there is no port. */
import type { Connection, Edge, FinalConnectionState } from "@xyflow/react";
import { useCallback } from "react";
import { exposeEdit, exposeOutputEdit } from "@/core/capsules/ports";
import type { Edit } from "@/core/document/edits";
import { joinAddress, parseAddress } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import type { Opened } from "../state/opened";
import type { StudioStore } from "../state/store";
import { edgeId, linkOf } from "./flow-parts";
import { canConnect, connectEdit, linkRefusal, NEW_PORT } from "./graph-edits";

export function useDrawnLinks(store: StudioStore) {
  const isValidConnection = useCallback(
    (connection: Connection | Edge) => canConnect(store.getState().opened.document, linkOf(connection)),
    [store],
  );
  const onConnect = useCallback(
    (connection: Connection) => {
      const { opened, edit, editPiece } = store.getState();
      const link = linkOf(connection);
      const grown = newPortEdit(opened, link);
      if (grown) editPiece(grown);
      else edit(connectEdit(opened.document, link));
    },
    [store],
  );
  const onReconnect = useCallback(
    (old: Edge, connection: Connection) => {
      const { opened, edit } = store.getState();
      const { document } = opened;
      const link = linkOf(connection);
      if (edgeId(link) === old.id) return;
      edit({
        kind: "several",
        edits: [{ kind: "remove", links: [linkOf(old)] }, connectAfter(document, linkOf(old), link)],
      });
    },
    [store],
  );
  const onConnectEnd = useCallback(
    (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
      if (state.isValid || !state.fromHandle) return;
      const point = "changedTouches" in event ? event.changedTouches[0] : event;
      const onto = state.toHandle;
      const address = joinAddress(state.fromHandle.nodeId, state.fromHandle.id ?? "");
      if (onto) {
        const between = betweenPorts(state.fromHandle, onto);
        const { opened, set } = store.getState();
        if (!between || onto.id === NEW_PORT || onto.nodeId === state.fromHandle.nodeId) return;
        const why = linkRefusal(opened.document, between);
        // What would feed itself is told; what is of another kind can be converted.
        if (why.kind === "ring") set({ notice: why.what });
        else
          set({
            adder: {
              screen: [point.clientX, point.clientY],
              link: { address: between.from, end: "from" },
              into: between.to,
            },
          });
        return;
      }
      store.getState().set({
        adder: {
          screen: [point.clientX, point.clientY],
          link: {
            address,
            end: state.fromHandle.type === "source" ? "from" : "to",
          },
        },
      });
    },
    [store],
  );
  return { isValidConnection, onConnect, onReconnect, onConnectEnd };
}

/** A link drawn to the free port of a capsule's border makes a port there. Null for all other links. */
function newPortEdit({ document, capsule }: Opened, { from, to }: Link): Edit | null {
  if (capsule === null) return null;
  if (parseAddress(from).port === NEW_PORT) return exposeEdit(document, capsule, to);
  return parseAddress(to).port === NEW_PORT ? exposeOutputEdit(document, capsule, from) : null;
}

interface End {
  readonly nodeId: string;
  readonly id?: string | null;
  readonly type: string;
}

/** The link that was meant, whichever end it was drawn from; null between two of a side. */
function betweenPorts(a: End, b: End): Link | null {
  if (a.type === b.type) return null;
  const [from, to] = a.type === "source" ? [a, b] : [b, a];
  return { from: joinAddress(from.nodeId, from.id ?? ""), to: joinAddress(to.nodeId, to.id ?? "") };
}

/** The link made as if the old one were gone already. */
function connectAfter(document: PieceDocument, old: Link, link: Link) {
  const links = document.graph.links.filter((l) => edgeId(l) !== edgeId(old));
  return connectEdit({ ...document, graph: { ...document.graph, links } }, link);
}
