/** The input of the chosen node that is set by drawing on the stage. */
import { settingsAt } from "@/core/keys/track";
import type { AnyInput } from "@/core/nodes/define";
import type { PortKind, Setting } from "@/core/nodes/ports";
import { definitionOfNode, nodeOf, type StudioState } from "../state/store";

export interface DrawnInput {
  readonly node: string;
  readonly input: string;
  readonly settingOf: (name: string) => Setting | undefined;
}

/** The first of a kind, of a single chosen node, that is not linked; null without. */
export function drawnInput(state: StudioState, kind: PortKind, frame: number): DrawnInput | null {
  const [id] = state.selected;
  if (state.selected.size !== 1) return null;
  const node = nodeOf(state, id);
  const definition = definitionOfNode(state, id);
  if (!node || !definition) return null;
  const found = Object.entries(definition.inputs as Record<string, AnyInput>).find(
    ([, input]) => input.kind === kind,
  );
  if (!found || state.opened.document.graph.links.some(({ to }) => to === `${id}.${found[0]}`)) return null;
  const settings = settingsAt(node, definition, frame);
  return {
    node: id,
    input: found[0],
    settingOf: (name) => settings[name] ?? definition.inputs[name]?.default,
  };
}
