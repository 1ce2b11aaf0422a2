/** A mask as it is painted: touches of a brush, in order. */
import { clip } from "./clip";
import type { Vec3 } from "./vector";

export interface Dab {
  readonly at: Vec3;
  /** Units. */
  readonly radius: number;
  /** Added in the middle, less than 0 to take away. */
  readonly amount: number;
}

export interface PaintedMask {
  readonly dabs: readonly Dab[];
}

export const NOTHING_PAINTED: PaintedMask = { dabs: [] };

/** Dabs that a document may hold in one mask. */
export const MOST_DABS = 8192;

/** What is wrong with a stored mask, in words that follow its name; null when nothing is. */
export function maskFault(value: unknown): string | null {
  const mask = value as Partial<PaintedMask> | null;
  if (!mask || typeof mask !== "object" || !Array.isArray(mask.dabs)) return "must be a painted mask";
  if (mask.dabs.length > MOST_DABS) return `has more than ${MOST_DABS} touches of the brush`;
  const bad = mask.dabs.findIndex((dab) => !isDab(dab));
  return bad < 0 ? null : `touch ${bad + 1} needs a place, a radius and an amount`;
}

const isDab = (dab: unknown): boolean => {
  const { at, radius, amount } = (dab ?? {}) as Partial<Dab>;
  return (
    Array.isArray(at) &&
    at.length === 3 &&
    at.every(Number.isFinite) &&
    Number.isFinite(radius) &&
    (radius as number) > 0 &&
    Number.isFinite(amount)
  );
};

/** How the brush gets weaker towards its edge. */
export const BRUSHES = ["soft", "even", "hard"] as const;
export type Brush = (typeof BRUSHES)[number];

/** Part of a touch at a distance from its middle, as a part of its radius. */
export function brushAt(brush: Brush, away: number): number {
  const left = clip(1 - away, 0, 1);
  if (brush === "hard") return left > 0 ? 1 : 0;
  return brush === "even" ? left : left * left * (3 - 2 * left);
}
