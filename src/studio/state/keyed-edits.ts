/** Values that change over time: what is set goes to the key at the frame that is shown. */
import { definitionOf } from "@/core/capsules/definitions";
import { type Edit, openCapsule } from "@/core/document/edits";
import { indexGraph, joinAddress } from "@/core/document/links";
import type { GraphNode, PieceDocument } from "@/core/document/schema";
import { canBeKeyed, valueAt, withValue } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";

/**
 * The edit with every value that is set at a keyed input made a key at the frame; with `every`, at all inputs that can have
 * keys. A keyed input that goes back to its default loses its keys.
 */
export function keyedEdit(document: PieceDocument, edit: Edit, frame: number, every: boolean): Edit {
  switch (edit.kind) {
    case "several": {
      // What a step says of keys itself stands.
      const said = new Set(edit.edits.map((part) => (part.kind === "set-track" ? addressOf(part) : "")));
      const edits = edit.edits.map((part) =>
        part.kind === "set-input" && said.has(addressOf(part))
          ? part
          : keyedEdit(document, part, frame, every),
      );
      return { ...edit, edits };
    }
    case "within": {
      if (!Object.hasOwn(document.capsules, edit.capsule)) return edit;
      return { ...edit, edit: keyedEdit(openCapsule(document, edit.capsule), edit.edit, frame, every) };
    }
    case "set-input": {
      const { node, input, value } = edit;
      const found = indexGraph(document.graph).nodes.get(node);
      const track = found?.keys?.[input];
      if (!found || (!track && !every)) return edit;
      if (value === undefined)
        return track ? { kind: "several", edits: [{ kind: "set-track", node, input }, edit] } : edit;
      const declared: AnyInput | undefined = definitionOf(document, found.type)?.inputs[input];
      if (!declared || !canBeKeyed(declared)) return edit;
      return { kind: "set-track", node, input, track: withValue(track, frame, value) };
    }
    default:
      return edit;
  }
}

/** Takes all keys of an input away and leaves it at a value. */
export const unkeyedEdit = (node: string, input: string, value: Setting): Edit => ({
  kind: "several",
  edits: [
    { kind: "set-track", node, input },
    { kind: "set-input", node, input, value },
  ],
});

const addressOf = ({ node, input }: { readonly node: string; readonly input: string }): string =>
  joinAddress(node, input);

/** What an input is set to at a frame. */
export function settingAt(
  node: GraphNode | undefined,
  name: string,
  input: AnyInput,
  frame: number,
): Setting {
  const track = node?.keys?.[name];
  return track && canBeKeyed(input) ? valueAt(track, input, frame) : (node?.set[name] ?? input.default);
}
