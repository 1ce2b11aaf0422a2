/** A glyph as a shape in the plane z = 0: its outlines as curves, filled, or with a depth. */
import { type CurveParts, makeCurves } from "../geometry/curves";
import { type Depth, type Outline, regionsOf, solidOf } from "../geometry/outlines";
import { EMPTY_SHAPE, type Shape } from "../geometry/shape";
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
  if (look.as === "outlines") return { curves: curvesOf(outlines) };
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
    else for (let i = 1; i <= detail; i++) now.push(...bendAt([...from, ...points], i / detail));
  }
  return outlines.map(withoutRepeats).filter((outline) => outline.length >= 6);
}

/** A place on a Bézier curve, from its control points (P. de Casteljau, 1959). */
function bendAt(points: readonly number[], t: number): [number, number] {
  let level = points;
  while (level.length > 2) level = level.slice(0, -2).map((v, i) => v + (level[i + 2] - v) * t);
  return [level[0], level[1]];
}

function withoutRepeats(outline: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = 0; i < outline.length; i += 2)
    if (out.length === 0 || outline[i] !== out.at(-2) || outline[i + 1] !== out.at(-1))
      out.push(outline[i], outline[i + 1]);
  const isAgain = out.length > 2 && out[0] === out.at(-2) && out[1] === out.at(-1);
  return isAgain ? out.slice(0, -2) : out;
}

function curvesOf(outlines: readonly Outline[]) {
  const curveStarts = new Int32Array(outlines.length + 1);
  for (const [i, outline] of outlines.entries()) curveStarts[i + 1] = curveStarts[i] + outline.length / 2;
  const flat = outlines.flat();
  const lane = (axis: 0 | 1) => Float32Array.from({ length: flat.length / 2 }, (_, i) => flat[i * 2 + axis]);
  const position: CurveParts["position"] = [lane(0), lane(1), new Float32Array(flat.length / 2)];
  return makeCurves({ position, curveStarts, closed: new Int32Array(outlines.length).fill(1) });
}
