/**
 * Closed outlines in a plane, and the regions that they enclose. What is inside is decided by the fill rule, over outlines that may
 * cross themselves and each other (A. Johnson's Clipper2, after B. R. Vatti, 1992).
 */
import {
  Clipper,
  ClipType,
  EndType,
  FillRule,
  JoinType,
  type PathD,
  type PathsD,
  PolyTreeD,
} from "clipper2-ts";
import { tick } from "../cancelling";

/** Points as x y, x y, … */
export type Outline = readonly number[];

export const FILL_RULES = ["where it winds", "every other one", "all that is outlined"] as const;
export type FillRuleName = (typeof FILL_RULES)[number];

const RULES: Readonly<Record<FillRuleName, FillRule>> = {
  "where it winds": FillRule.NonZero,
  "every other one": FillRule.EvenOdd,
  "all that is outlined": FillRule.NonZero,
};

export const JOINS = ["mitre", "round", "bevel"] as const;
export type Join = (typeof JOINS)[number];
const JOIN_TYPES: Readonly<Record<Join, JoinType>> = {
  mitre: JoinType.Miter,
  round: JoinType.Round,
  bevel: JoinType.Bevel,
};

/** Times the distance that a mitred corner may reach; a sharper one is cut off. */
const MITRE_LIMIT = 4;
/** How far pieces of a round corner may be off it, as a part of the distance. */
const ROUNDNESS = 0.01;

/** Outlines around regions at a distance, within them where it is below 0: edges counter-clockwise, holes clockwise. */
export function offsetOutlines(regions: readonly Region[], distance: number, join: Join): Outline[] {
  if (regions.length === 0) return [];
  tick(Number.POSITIVE_INFINITY);
  const tolerance = Math.abs(distance) * ROUNDNESS;
  const type = JOIN_TYPES[join];
  return outlinesOf(
    Clipper.inflatePathsD(
      pathsOf(regions),
      distance,
      type,
      EndType.Polygon,
      MITRE_LIMIT,
      PRECISION,
      tolerance,
    ),
  );
}

export const BOOLEANS = ["union", "difference", "intersection", "either, not both"] as const;
const CLIP_TYPES: Readonly<Record<(typeof BOOLEANS)[number], ClipType>> = {
  union: ClipType.Union,
  difference: ClipType.Difference,
  intersection: ClipType.Intersection,
  "either, not both": ClipType.Xor,
};

/** Outlines of what two sets of regions have together, or apart; edges counter-clockwise, holes clockwise. */
export function combinedOutlines(
  a: readonly Region[],
  b: readonly Region[],
  how: (typeof BOOLEANS)[number],
): Outline[] {
  const [first, second] = [pathsOf(a), pathsOf(b)];
  // Clipper takes no empty list; of something and nothing the outcome is plain.
  if (second.length === 0) return how === "intersection" ? [] : outlinesOf(first);
  if (first.length === 0) return how === "union" || how === "either, not both" ? outlinesOf(second) : [];
  tick(Number.POSITIVE_INFINITY);
  return outlinesOf(Clipper.booleanOpD(CLIP_TYPES[how], first, second, FillRule.NonZero, PRECISION));
}

const pathsOf = (regions: readonly Region[]): PathsD =>
  regions.flatMap(({ edge, holes }) => [edge, ...holes]).map(pathOf);

const outlinesOf = (paths: PathsD): Outline[] =>
  paths.map((path) => path.flatMap(({ x, y }) => [x, y])).filter((outline) => outline.length >= 6);

/** A part of a plane: its edge counter-clockwise, its holes clockwise. */
export interface Region {
  readonly edge: Outline;
  readonly holes: readonly Outline[];
}

/** Places behind the point that are told apart; a millionth of a unit is seen by nobody. */
export const PRECISION = 6;

export function regionsOf(outlines: readonly Outline[], rule: FillRuleName): Region[] {
  const paths: PathsD = outlines
    .map((outline) => withoutSpikes(pathOf(outline)))
    .filter((path) => path.length > 2)
    // Which way an outline runs says nothing then.
    .map((path) => (rule === "all that is outlined" && Clipper.areaD(path) < 0 ? path.reverse() : path));
  const tree = new PolyTreeD();
  tick(Number.POSITIVE_INFINITY);
  Clipper.booleanOpDWithPolyTree(ClipType.Union, paths, null, tree, RULES[rule], PRECISION);
  const regions: Region[] = [];
  const collect = (node: PolyTreeD | ReturnType<PolyTreeD["child"]>): void => {
    for (let i = 0; i < node.count; i++) {
      const edge = node.child(i);
      const holes: Outline[] = [];
      for (let h = 0; h < edge.count; h++) {
        const hole = edge.child(h);
        holes.push(outlineOf(hole.poly, false));
        // What lies in a hole is a region of its own.
        collect(hole);
      }
      regions.push({ edge: outlineOf(edge.poly, true), holes });
    }
  };
  collect(tree);
  return regions;
}

/** An outline as Clipper takes it. */
export const pathOf = (outline: Outline): PathD =>
  Array.from({ length: outline.length / 2 }, (_, i) => ({ x: outline[i * 2], y: outline[i * 2 + 1] }));

/** Without repeated points and without places where it goes back the way that it came: Clipper may lose what is around those. */
function withoutSpikes(path: PathD): PathD {
  const kept: PathD = [];
  const isSpike = (a: PathD[number], b: PathD[number], c: PathD[number]): boolean => {
    const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, c.x - b.x, c.y - b.y];
    return ux * vy - uy * vx === 0 && ux * vx + uy * vy <= 0;
  };
  for (const point of path) {
    while (kept.length > 1 && isSpike(kept[kept.length - 2], kept[kept.length - 1], point)) kept.pop();
    const last = kept.at(-1);
    if (last?.x !== point.x || last.y !== point.y) kept.push(point);
  }
  // Where the end meets the beginning the same may be so.
  while (kept.length > 2) {
    if (isSpike(kept[kept.length - 2], kept[kept.length - 1], kept[0])) kept.pop();
    else if (isSpike(kept[kept.length - 1], kept[0], kept[1])) kept.shift();
    else return kept;
  }
  return [];
}

/** @param counterClockwise which way it is to run */
function outlineOf(path: PathD | null | undefined, counterClockwise: boolean): Outline {
  const points = path ?? [];
  const turned = Clipper.areaD(points) > 0 === counterClockwise ? points : [...points].reverse();
  return turned.flatMap(({ x, y }) => [x, y]);
}
