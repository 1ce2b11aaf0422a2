/** Colours of a whole shape, turned round the colour circle and lightened in Oklab. */
import { tick } from "../cancelling";
import { fromOklab, toOklab } from "../maths/color";
import { cosine, sine } from "../maths/exact";
import { type Domain, makeColumn, makeLanes, withColumns } from "./column";
import { DOMAINS, domainsOf } from "./domains";
import type { Shape } from "./shape";

/** @param turn radians; @param lighter added to the lightness of Oklab, of which 1 is the way from black to white */
export interface ColorShift {
  readonly turn: number;
  readonly lighter: number;
}

/** The shape with the colours that it has shifted, those of its sources included; what has none stays without. */
export function shiftColors(shape: Shape, shift: ColorShift): Shape {
  const { sites, sources } = shape;
  let made = shape;
  for (const [name, domain] of domainsOf(shape))
    if (domain.columns.color) made = DOMAINS[name].put(made, shifted(domain, shift));
  // A site's own colour stands for that of what is cloned.
  if (!sources || sites?.columns.color) return made;
  return { ...made, sources: sources.map((source) => shiftColors(source, shift)) };
}

/** Whether there is any colour that could be shifted. */
export const isColored = (shape: Shape): boolean =>
  [...domainsOf(shape)].some(([, { columns }]) => columns.color !== undefined) ||
  (shape.sources ?? []).some(isColored);

function shifted(domain: Domain, { turn, lighter }: ColorShift): Domain {
  const column = domain.columns.color;
  if (column?.kind !== "color") return domain;
  const [c, s] = [cosine(turn), sine(turn)];
  const lanes = makeLanes("color", domain.count);
  const from = column.lanes;
  for (let i = 0; i < domain.count; i++) {
    tick(4);
    const [l, a, b] = toOklab(from[0][i], from[1][i], from[2][i]);
    const light = Math.min(1, Math.max(0, l + lighter));
    // Colours that a screen cannot show are brought to the nearest channel values.
    fromOklab(light, a * c - b * s, a * s + b * c).forEach((v, k) => {
      lanes[k][i] = Math.min(1, Math.max(0, v));
    });
    lanes[3][i] = from[3][i];
  }
  return withColumns(domain, { color: makeColumn("color", lanes) });
}
