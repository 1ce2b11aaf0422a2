"use client";
import { useMemo } from "react";
import type { Edit } from "@/core/document/edits";
import { joinAddress } from "@/core/document/links";
import type { AnyInput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { settingAt } from "../../state/keyed-edits";
import { alike, useKeyedFrame, useStudio, useStudioStore } from "../../state/store";
import { portLabel, ValueControl } from "./value-control";

interface InputControlProps {
  readonly node: string;
  readonly name: string;
  readonly input: AnyInput;
  /** The node is the piece's, whatever is open. */
  readonly ofPiece?: boolean;
}

/** The control for the value of an input that is not linked; the same on cards, in the drawer and for dials. */
export function InputControl({ node, name, input, ofPiece = false }: InputControlProps) {
  const store = useStudioStore();
  const address = joinAddress(node, name);
  const found = useStudio((s) =>
    (ofPiece ? s.document : s.opened.document).graph.nodes.find((n) => n.id === node),
  );
  const locked = useStudio((s) => s.locked.has(s.opened.prefix + address));
  const frame = useKeyedFrame(found?.keys?.[name]);
  const actions = useMemo(
    () => ({
      set: (to: Setting, dragging = false, also?: Edit) => {
        const { edit, editPiece } = store.getState();
        const nodes = ofPiece ? [node] : alike(store.getState(), node, name);
        const edits: Edit[] = nodes.map((one) => ({ kind: "set-input", node: one, input: name, value: to }));
        if (also) edits.unshift(also);
        (ofPiece ? editPiece : edit)(
          edits.length > 1 ? { kind: "several", edits } : edits[0],
          dragging ? `drag ${address}` : undefined,
        );
      },
      end: () => store.getState().endGroup(),
    }),
    [store, node, name, address, ofPiece],
  );
  return (
    <ValueControl
      input={input}
      value={settingAt(found, name, input, frame)}
      label={`${portLabel(name, input)} of ${node}`}
      limits={found?.limits?.[name]}
      locked={locked}
      onSet={actions.set}
      onEnd={actions.end}
    />
  );
}
