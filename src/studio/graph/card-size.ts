/** How large cards are, units of the graph. */
import type { AnyNode } from "@/core/nodes/define";

export const CARD_WIDTH = 224;

/** Of a card that was not drawn yet: its flap, a row for each input, the outputs. */
export const usualHeight = (definition: AnyNode | undefined): number =>
  60 + 27 * Object.keys(definition?.inputs ?? {}).length + 20 * Object.keys(definition?.outputs ?? {}).length;
