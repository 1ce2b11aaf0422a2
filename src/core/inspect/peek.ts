/** What the stage shows of any output: a shape as it is, a field as colours on the elements it is used on. */

import type { FlatGraph } from "../capsules/flatten";
import { bentShape } from "../curves/beziers";
import type { ResultMemory } from "../evaluate/memory";
import { runValues } from "../fields/run";
import { type Column, type Domain, makeColumn, withColumns } from "../geometry/column";
import { EMPTY_SHAPE, type Shape } from "../geometry/shape";
import { rangeOf } from "../kernels/statistics";
import { type Gradient, gradientAt } from "../maths/gradient";
import type { PortKind } from "../nodes/ports";
import { carriedAt } from "./carried-values";

/** From the least number to the greatest: dark to light, told apart by those who do not see all colours. */
const SCALE: Gradient = {
  space: "oklab",
  stops: [
    { at: 0, color: "#1b2f4f" },
    { at: 0.5, color: "#5d9a8b" },
    { at: 1, color: "#fbe7a1" },
  ],
};
const SCALE_STEPS = 256;
const SCALE_COLORS = Array.from({ length: SCALE_STEPS + 1 }, (_, i) => gradientAt(SCALE, i / SCALE_STEPS));

/**
 * Null when there is nothing to show: the node has not run, or gives one value for all.
 * @param result what reached the stage; its clones are coloured where they are the elements that a field is used on
 */
export function peekShape(
  flat: FlatGraph,
  memory: ResultMemory,
  node: string,
  port: string,
  result: Shape | undefined,
): Shape | null {
  const carried = carriedAt(flat, memory, node, port);
  if (carried?.kind === "shape") return bentShape(carried.shape);
  if (carried?.kind !== "field" || !carried.domain?.columns.position) return null;
  const { domain, values, of } = carried;
  const color = colorsOf(runValues(values, domain, { onlyFinite: true }).lanes, of);
  if (result?.sites && result.sites.count === domain.count)
    return { ...result, sites: withColumns(result.sites, { color }) };
  return { ...EMPTY_SHAPE, sites: withColumns(placesOf(domain), { color }) };
}

/** Bare sites at the elements. */
function placesOf({ count, columns }: Domain): Domain {
  const { position, rotation, scale, id } = columns;
  const known = { position, rotation, scale, id };
  return {
    count,
    columns: Object.fromEntries(Object.entries(known).filter(([, column]) => column !== undefined)) as never,
  };
}

function colorsOf(lanes: readonly Float32Array[], of: PortKind): Column {
  if (of === "color") return makeColumn("color", lanes);
  const count = lanes[0].length;
  const color = Array.from({ length: 4 }, () => new Float32Array(count).fill(1));
  const shares = lanes.slice(0, 3).map((lane) => {
    const { min, max } = rangeOf(lane) ?? { min: 0, max: 1 };
    return { lane, min, per: max > min ? 1 / (max - min) : 0 };
  });
  for (let i = 0; i < count; i++) {
    const parts = shares.map(({ lane, min, per }) => (lane[i] - min) * per);
    if (parts.length > 1) parts.forEach((part, c) => void (color[c][i] = part));
    else {
      const scaled = SCALE_COLORS[Math.round(parts[0] * SCALE_STEPS)];
      for (let c = 0; c < 3; c++) color[c][i] = scaled[c];
    }
  }
  return makeColumn("color", color);
}
