/**
 * Takes out of moving air what would press it together or tear it apart: pressures by multigrid V-cycles (A. Brandt, "Multi-level adaptive
 * solutions to boundary-value problems", 1977), with Jacobi steps whose weights are those of Chebyshev's polynomial.
 */
import { AIR, cellCount, emptyLane, type GridSize, newLane, OPEN, overRows } from "./air-grid";

/** Two steps before and two after; 1.7319 and 0.5695 leave least of the errors that coarser grids do not see. */
const WEIGHTS = [0.5695, 1.7319];
const COARSEST_STEPS = 24;
/** Cells along a side below which there is no coarser grid. */
const SMALLEST = 4;

interface Level {
  readonly size: GridSize;
  /** The square of a cell's side, in finest cells. */
  readonly square: number;
  readonly kinds: Float32Array;
  readonly openings: Float32Array;
  readonly right: Float32Array;
  p: Float32Array;
  other: Float32Array;
}

export class Pressure {
  private readonly levels: Level[] = [];

  /** @param kinds of cells, of a grid whose sides are even */
  constructor(size: GridSize, kinds: Float32Array) {
    let [cells, of, square] = [size, kinds, 1];
    for (;;) {
      const [openings, right] = [0, 1].map(() => newLane(cells));
      const [p, other] = [0, 1].map(() => emptyLane(cells));
      overRows("fluidOpenings", cells, [openings, of]);
      this.levels.push({ size: cells, square, kinds: of, openings, right, p, other });
      const inner = cells.map((n) => n - 2);
      if (inner.some((n) => n % 2 === 1 || n / 2 < SMALLEST)) break;
      const coarse = inner.map((n) => n / 2 + 2) as unknown as GridSize;
      const kindsOf = newLane(coarse);
      overRows("fluidCoarseKinds", coarse, [kindsOf, of]);
      of = kindsOf;
      cells = coarse;
      square *= 4;
    }
  }

  /** @param velocity through lower faces, changed where it stands @returns the pressures, in memory that the next call uses again */
  project(velocity: readonly Float32Array[], cycles: number): Float32Array {
    const [finest] = this.levels;
    const { size, kinds } = finest;
    overRows("fluidDivergence", size, [finest.right, ...velocity, kinds]);
    if (!kinds.includes(OPEN)) withoutMean(finest.right, kinds);
    finest.p.fill(0);
    for (let c = 0; c < cycles; c++) this.cycle(0);
    overRows("fluidProject", size, [...velocity, finest.p, kinds]);
    return finest.p;
  }

  private cycle(l: number): void {
    const level = this.levels[l];
    const coarser = this.levels[l + 1];
    if (!coarser) {
      for (let step = 0; step < COARSEST_STEPS; step++) relax(level, WEIGHTS[step % 2]);
      return;
    }
    for (const weight of WEIGHTS) relax(level, weight);
    overRows(
      "fluidResidual",
      level.size,
      [level.other, level.p, level.right, level.openings],
      [level.square],
    );
    overRows("fluidCoarsen", coarser.size, [coarser.right, level.other, coarser.kinds]);
    coarser.p.fill(0);
    this.cycle(l + 1);
    overRows("fluidRefine", level.size, [level.p, coarser.p, level.kinds]);
    for (const weight of WEIGHTS) relax(level, weight);
  }
}

function relax(level: Level, weight: number): void {
  const { size, p, other, right, openings, square } = level;
  overRows("fluidRelax", size, [other, p, right, openings], [weight, square]);
  level.p = other;
  level.other = p;
}

/** Without open sides only differences count, and as much has to leave as comes. */
function withoutMean(right: Float32Array, kinds: Float32Array): void {
  let [sum, count] = [0, 0];
  for (let i = 0; i < right.length; i++)
    if (kinds[i] === AIR) {
      sum += right[i];
      count++;
    }
  for (let i = 0; i < right.length; i++) if (kinds[i] === AIR) right[i] -= sum / count;
}

/** The mean of the squares of what is left in moving cells, for tests and for what is told. */
export function leftOf(velocity: readonly Float32Array[], size: GridSize, kinds: Float32Array): number {
  const left = newLane(size);
  overRows("fluidDivergence", size, [left, ...velocity, kinds]);
  let [sum, count] = [0, 0];
  for (let i = 0; i < cellCount(size); i++)
    if (kinds[i] === AIR) {
      sum += left[i] * left[i];
      count++;
    }
  return Math.sqrt(sum / Math.max(1, count));
}
