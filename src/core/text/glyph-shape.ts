/** A glyph as a shape in the plane z = 0: its outlines as curves, filled, or with a depth. */

import { type Outline, regionsOf } from "../geometry/outlines";
import { curvesInPlane, XY_PLANE } from "../geometry/plane";
import { EMPTY_SHAPE, type Shape } from "../geometry/shape";
import { type Depth, solidOf } from "../geometry/solid-of-regions";
import { withoutRepeats } from "../geometry/without-repeats";
import { bezierAt } from "../maths/bezier";
import type { OutlineStep } from "./font";

export interface GlyphLook extends Depth {
  /** Units that the font's size is. */
  readonly size: number;
  /** Pieces that each bend is cut into. */
  readonly detail: number;
  readonly as: "solid" | "filled" | "outlines";
}

/** The glyph about a place of its own, in sizes of the font. */
export function glyphShape(
  steps: readonly OutlineStep[],
  [x, y]: readonly [number, number],
  look: GlyphLook,
): Shape {
  const outlines = flattened(steps, look.detail).map((outline) =>
    outline.map((v, i) => (v - (i % 2 === 0 ? x : y)) * look.size),
  );
  if (outlines.length === 0) return EMPTY_SHAPE;
  if (look.as === "outlines") return { curves: curvesInPlane(XY_PLANE, outlines) };
  const depth = look.as === "filled" ? 0 : look.depth;
  return { mesh: solidOf(regionsOf(outlines, "where it winds"), { ...look, depth }) };
}

/** Outlines as points x y, x y …, each without its first point again at its end. */
export function flattened(steps: readonly OutlineStep[], detail: number): Outline[] {
  const outlines: number[][] = [];
  let now: number[] = [];
  for (const { to, points } of steps) {
    if (to === "move") {
      now = [...points];
      outlines.push(now);
      continue;
    }
    const from = now.slice(-2);
    if (to === "line") now.push(...points);
    else for (let i = 1; i <= detail; i++) now.push(...bezierAt([...from, ...points], i / detail));
  }
  return outlines.map((outline) => withoutRepeats(outline, true)).filter((outline) => outline.length >= 6);
}
