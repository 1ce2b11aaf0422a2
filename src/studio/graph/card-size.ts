/** How large cards are, units of the graph. */
import type { AnyNode } from "@/core/nodes/define";
import type { Box } from "./opening-view";

export const CARD_WIDTH = 224;

/** Of a card that was not drawn yet: its flap, a row for each input, the outputs. */
export const usualSize = (definition: AnyNode | undefined): Pick<Box, "width" | "height"> => ({
  width: CARD_WIDTH,
  height:
    60 +
    27 * Object.keys(definition?.inputs ?? {}).length +
    20 * Object.keys(definition?.outputs ?? {}).length,
});
