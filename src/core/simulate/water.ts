/**
 * Water as heights over a grid, by the wave equation ∂²h/∂t² = c² ∇²h (small waves that all go equally fast), in semi-implicit steps. Where there
 * is no water waves are thrown back.
 */
import { tick } from "../cancelling";
import { type Domain, makeColumn, makeFloats } from "../geometry/column";
import type { State } from "./state";

/** Points across and deep, x fastest, and units from one to the next. */
export interface WaterGrid {
  readonly across: number;
  readonly deep: number;
  readonly step: readonly [number, number];
}

/** Of each point how high the water is, and how fast it rises. */
export interface Water extends State {
  readonly domains: { readonly points: Domain };
}

export interface WaterSettings {
  /** Units a second. */
  readonly speed: number;
  /** Parts of the speed that are lost in a second. */
  readonly damping: number;
  /** Units a second² at each point. */
  readonly push: ArrayLike<number>;
  /** Above 0.5 where there is water; everywhere when missing. */
  readonly wet: ArrayLike<number> | null;
}

/** c Δt ÷ Δx above which heights grow without end (R. Courant, K. Friedrichs and H. Lewy, 1928), in two dimensions, with a little to spare. */
const COURANT = 0.65;
export const MOST_SUBSTEPS = 64;

export const stillWater = ({ across, deep }: WaterGrid): Water => ({
  domains: {
    points: {
      count: across * deep,
      columns: {
        height: makeColumn("number", [makeFloats(across * deep)]),
        rising: makeColumn("number", [makeFloats(across * deep)]),
      },
    },
  },
});

export const heightsOf = ({ domains: { points } }: Water): Float32Array =>
  points.columns.height.lanes[0] as Float32Array;

/** Steps that a while needs, at most MOST_SUBSTEPS. */
export const substepsFor = ({ step }: WaterGrid, speed: number, seconds: number): number =>
  Math.min(MOST_SUBSTEPS, Math.max(1, Math.ceil((speed * seconds) / (COURANT * Math.min(...step)))));

export function steppedWater(
  before: Water,
  grid: WaterGrid,
  settings: WaterSettings,
  seconds: number,
): Water {
  const { across, deep, step } = grid;
  const { damping, push, wet } = settings;
  const count = across * deep;
  const substeps = substepsFor(grid, settings.speed, seconds);
  const dt = seconds / substeps;
  // No faster than can be followed.
  const speed = Math.min(settings.speed, (COURANT * Math.min(...step)) / dt);
  const [px, pz] = step.map((d) => (speed * speed * dt) / (d * d));
  const keep = Math.max(0, 1 - damping * dt);
  const height = makeFloats(count);
  const rising = makeFloats(count);
  height.set(heightsOf(before));
  rising.set(before.domains.points.columns.rising.lanes[0]);
  const isWet = (at: number): boolean => !wet || wet[at] > 0.5;
  for (let s = 0; s < substeps; s++) {
    tick(count);
    for (let j = 0, at = 0; j < deep; j++)
      for (let i = 0; i < across; i++, at++) {
        if (!isWet(at)) continue;
        const here = height[at];
        const way = (isThere: boolean, other: number) => (isThere && isWet(other) ? height[other] - here : 0);
        const bent =
          px * (way(i > 0, at - 1) + way(i < across - 1, at + 1)) +
          pz * (way(j > 0, at - across) + way(j < deep - 1, at + across));
        rising[at] = keep * (rising[at] + bent + push[at] * dt);
      }
    for (let at = 0; at < count; at++) height[at] += rising[at] * dt;
  }
  return {
    domains: {
      points: {
        count,
        columns: { height: makeColumn("number", [height]), rising: makeColumn("number", [rising]) },
      },
    },
  };
}
