/** How a volume of densities is seen, where nobody made a mesh of it. */

/** Colours of a look, from what is least to what is most. */
export const LOOK_COLORS = 64;

export interface VolumeLook {
  /** Which value chooses the colour, and at which value the last one stands. */
  readonly by: "density" | "heat";
  readonly most: number;
  /** LOOK_COLORS times red, green and blue, linear. */
  readonly colors: Float32Array;
  /** How much density 1 hides, a unit. */
  readonly thick: number;
  /** How much of its colour it gives off by itself, and how dark its own shadow is. */
  readonly glow: number;
  readonly shade: number;
  /** Places that are looked at along a line of sight. */
  readonly steps: number;
}

const pale = (_: unknown, i: number): number => [0.86, 0.87, 0.84][i % 3];

/** Of what nobody says anything of. */
export const USUAL_VOLUME_LOOK: VolumeLook = {
  by: "density",
  most: 1,
  colors: Float32Array.from({ length: LOOK_COLORS * 3 }, pale),
  thick: 6,
  glow: 0,
  shade: 0.8,
  steps: 48,
};
