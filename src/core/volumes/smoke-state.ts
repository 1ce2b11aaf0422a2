/** What is kept of smoke from step to step, and what says how it moves. */
import type { Value, VectorField } from "../fields/expression";
import type { Domain } from "../geometry/column";
import type { Volume } from "../geometry/volume";
import type { Vec3 } from "../maths/vector";
import type { State } from "../simulate/state";

/** Cells: `velocity` through their lower faces, in cells a second; `density` and `heat`. */
export interface Smoke extends State {
  readonly domains: { readonly cells: Domain };
  readonly numbers: {
    readonly first: Vec3;
    readonly tiles: Vec3;
    readonly voxel: readonly [number];
    /** x, y and z of the middle of each obstacle, units. */
    readonly middles: readonly number[];
  };
}

/** Where smoke comes from. */
export interface SmokeSource {
  /** Distances. */
  readonly volume: Volume;
  /** Density and heat a second, and the speed that it leaves with (units a second), at each cell. */
  readonly fields: readonly [density: Value, heat: Value, ...velocity: VectorField];
}

export interface SmokeSettings {
  readonly voxel: number;
  readonly sources: readonly SmokeSource[];
  readonly obstacles: readonly Volume[];
  /** Units a second² by heat 1 upwards, and by density 1 downwards. */
  readonly rise: number;
  readonly weight: number;
  /** How much eddies are kept turning, from 0 on. */
  readonly swirl: number;
  /** Parts of density, heat and speed that are lost in a second. */
  readonly fade: number;
  readonly cool: number;
  readonly drag: number;
  /** Units a second², at each cell. */
  readonly push: VectorField | null;
  readonly walls: "open" | "floor" | "closed";
  /** Cells along any side of the box at most. */
  readonly most: number;
}

export const NO_SMOKE: Smoke = {
  domains: { cells: { count: 0, columns: {} } },
  numbers: { first: [0, 0, 0], tiles: [0, 0, 0], voxel: [0], middles: [] },
};
