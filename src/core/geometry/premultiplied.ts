/** Colours for adding up: multiplied by their alpha, so that what is clear has no say (see `alphaShare` of maths/color.ts). */
import { tick } from "../cancelling";
import type { Column, ColumnKind, Lane } from "./column";

/** Lanes to be added up: those of colours that are not all opaque multiplied by alpha, all others as they are. */
export function premultiplied({ kind, lanes }: Pick<Column, "kind" | "lanes">): readonly Lane[] {
  if (kind !== "color") return lanes;
  const alpha = lanes[3];
  if (alpha.every((a) => a === 1)) return lanes;
  return lanes.map((lane, l) => (l === 3 ? lane : Float32Array.from(lane, (v, i) => v * alpha[i])));
}

/** Turns sums of such lanes into straight colours again, in place; what is clear keeps what it has. */
export function straighten(kind: ColumnKind, lanes: readonly Lane[]): void {
  if (kind !== "color") return;
  const alpha = lanes[3];
  for (let i = 0; i < alpha.length; i++) {
    tick();
    if (alpha[i] > 0 && alpha[i] !== 1) for (let l = 0; l < 3; l++) lanes[l][i] /= alpha[i];
  }
}
