/** The drawn path that can be changed on the stage: where its points and handles are, and the lines between. */
import { type DrawnPath, piecesOf, placeBetween } from "@/core/maths/drawn-path";
import type { Vec3 } from "@/core/maths/vector";
import type { DRAWN_ON } from "@/core/nodes/make/drawn-path";
import type { StudioState } from "../state/store";
import { drawnInput } from "./drawn-input";
import type { PointerRay } from "./sight";

export interface StagePath {
  readonly node: string;
  readonly input: string;
  readonly path: DrawnPath;
  readonly on: (typeof DRAWN_ON)[number];
  readonly snap: number;
}

/** That of a single chosen node which has one that is not linked; null without. */
export function stagePathOf(state: StudioState, frame: number): StagePath | null {
  const found = drawnInput(state, "path", frame);
  if (!found) return null;
  const { node, input, settingOf } = found;
  return {
    node,
    input,
    path: settingOf(input) as unknown as DrawnPath,
    on: (settingOf("on") as StagePath["on"] | undefined) ?? "the ground",
    snap: (settingOf("snap") as number | undefined) ?? 0,
  };
}

export interface PathSpot {
  readonly point: number;
  /** The point, a handle of it, or the middle of the piece that begins at it. */
  readonly part: "at" | "before" | "after" | "middle";
  readonly place: Vec3;
}

/** Pieces up to which each has a spot in its middle where a point can be put in. */
const MOST_MIDDLES = 40;

/** All points; handles of the chosen one and of its neighbours; middles of pieces. */
export function pathSpots({ closed, points }: DrawnPath, chosen: number): PathSpot[] {
  const spots = points.map(({ at }, point): PathSpot => ({ point, part: "at", place: at }));
  const near =
    points.length > 0 ? [chosen - 1, chosen, chosen + 1].map((i) => (i + points.length) % points.length) : [];
  for (const point of new Set(chosen < 0 ? [] : near))
    for (const part of ["before", "after"] as const) {
      const { at, [part]: handle } = points[point];
      if (handle.some((v) => v !== 0))
        spots.push({ point, part, place: at.map((v, a) => v + handle[a]) as unknown as Vec3 });
    }
  const pieces = points.length < 2 ? 0 : closed ? points.length : points.length - 1;
  for (let point = 0; point < pieces && pieces <= MOST_MIDDLES; point++) {
    const { at } = placeBetween(points[point], points[(point + 1) % points.length], 0.5);
    spots.push({ point, part: "middle", place: at });
  }
  return spots;
}

/** Straight pieces of a bent one, as it is shown while it is drawn. */
const STEPS = 16;

/** Ends of segments: the path, and its handles as far as they are shown. */
export function pathLines(path: DrawnPath, spots: readonly PathSpot[]): Float32Array {
  const places = piecesOf(path, STEPS).map(({ at }) => at);
  const lines: number[] = [];
  for (let i = 1; i < places.length; i++) lines.push(...places[i - 1], ...places[i]);
  if (path.closed && places.length > 2) lines.push(...places[places.length - 1], ...places[0]);
  for (const { point, part, place } of spots)
    if (part === "before" || part === "after") lines.push(...path.points[point].at, ...place);
  return Float32Array.from(lines);
}

const NORMALS: Readonly<Record<StagePath["on"], Vec3>> = {
  "the ground": [0, 1, 0],
  "upright, facing z": [0, 0, 1],
  "upright, facing x": [1, 0, 0],
  "what is on the stage": [0, 1, 0],
};

/** Where a ray meets the plane through a place that is drawn on; null where it runs along it or away. */
export function placeOnPlane(
  on: StagePath["on"],
  through: Vec3,
  { origin, direction }: PointerRay,
): Vec3 | null {
  const normal = NORMALS[on];
  const facing = direction.reduce((sum, v, a) => sum + v * normal[a], 0);
  if (Math.abs(facing) < 1e-6) return null;
  const t = through.reduce((sum, v, a) => sum + (v - origin[a]) * normal[a], 0) / facing;
  return t > 0 ? (origin.map((o, a) => o + direction[a] * t) as unknown as Vec3) : null;
}
