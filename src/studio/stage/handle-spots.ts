/** Places and distances of the chosen node that can be moved on the stage, and what moving them comes to. */
import { settingsAt } from "@/core/keys/track";
import { dot, minus, normalise, type Vec3 } from "@/core/maths/vector";
import type { AnyInput } from "@/core/nodes/define";
import { definitionOfNode, nodeOf, type StudioState } from "../state/store";
import { type OutlineForm, outlineOf } from "./handle-outline";
import type { PointerRay } from "./sight";

export interface HandleSpot {
  readonly node: string;
  readonly input: string;
  /** A place, or a distance from it, or a direction. */
  readonly kind: "place" | "distance" | "direction";
  readonly from: Vec3;
  readonly along: Vec3;
  readonly value: number;
  readonly min: number | undefined;
}

export interface Handles {
  readonly spots: readonly HandleSpot[];
  /** Ends of segments. */
  readonly lines: readonly number[];
}

const NONE: Handles = { spots: [], lines: [] };

/** Directions along which distances of one place are moved, so that they do not cover each other. */
const DIRECTIONS: readonly Vec3[] = [normalise([1, 0, 1]), normalise([1, 0, -1]), normalise([-1, 0, 1])];

/** Units from a place to the seed that turns a direction. */
const ARM = 1.5;

/** Those of a single chosen node whose values stand on the card and are not linked. */
export function handlesOf(state: StudioState, frame: number): Handles {
  const [id] = state.selected;
  if (state.selected.size !== 1) return NONE;
  const node = nodeOf(state, id);
  const definition = definitionOfNode(state, id);
  if (!node || !definition) return NONE;
  const inputs = Object.entries(definition.inputs as Record<string, AnyInput>);
  const settings = settingsAt(node, definition, frame);
  const settingOf = (name: string) => settings[name] ?? definition.inputs[name]?.default;
  const { links } = state.opened.document.graph;
  const isFree = (name: string, input: AnyInput) =>
    !links.some(({ to }) => to === `${id}.${name}`) &&
    (!input.shownWhen || input.shownWhen.is.includes(settingOf(input.shownWhen.input) as never));
  const spots: HandleSpot[] = [];
  const lines: number[] = [];
  for (const [name, input] of inputs) {
    if (input.handle !== "place" || !isFree(name, input)) continue;
    const from = settingOf(name) as Vec3;
    spots.push({ node: id, input: name, kind: "place", from, along: [0, 0, 0], value: 0, min: undefined });
    let distances = 0;
    for (const [other, own] of inputs) {
      if (own.handle !== name || !isFree(other, own)) continue;
      if (own.kind === "vector") {
        const along = normalise(settingOf(other) as Vec3);
        const spot = { node: id, input: other, from, along, value: ARM, min: undefined };
        spots.push({ ...spot, kind: "direction" });
        lines.push(...from, ...spotPlace({ ...spot, kind: "direction" }));
        continue;
      }
      const value = settingOf(other) as number;
      const along = DIRECTIONS[distances++ % DIRECTIONS.length];
      spots.push({ node: id, input: other, kind: "distance", from, along, value, min: own.min });
      lines.push(...outlineOf(formOf(from, settingOf), value));
    }
  }
  return { spots, lines };
}

/** What the node says of its form; a ball where it has none. */
const formOf = (middle: Vec3, settingOf: (name: string) => unknown): OutlineForm => ({
  form: (settingOf("form") as OutlineForm["form"] | undefined) ?? "ball",
  middle,
  half: (settingOf("half") as Vec3 | undefined) ?? [0, 0, 0],
  facing: (settingOf("facing") as Vec3 | undefined) ?? [0, 1, 0],
  radius: (settingOf("radius") as number | undefined) ?? 0,
  length: (settingOf("length") as number | undefined) ?? 0,
  opening: (settingOf("opening") as number | undefined) ?? 0,
});

/** Where a handle is drawn. */
export const spotPlace = ({ from, along, value }: HandleSpot): Vec3 =>
  from.map((f, a) => f + along[a] * value) as unknown as Vec3;

/** How far along a line from a place the ray comes nearest to it (C. Ericson, 2005, § 5.1.8). */
export function nearestAlong(from: Vec3, along: Vec3, { origin, direction }: PointerRay): number {
  const r = minus(from, origin);
  const [a, b, e] = [dot(along, along), dot(along, direction), dot(direction, direction)];
  const whole = a * e - b * b;
  return whole > 1e-9 ? (b * dot(direction, r) - e * dot(along, r)) / whole : 0;
}

/** Steeper than this from above, places are moved over the ground; flatter, upright before the camera. */
const FLAT = 0.3;

/**
 * A place moved so that it stays under the pointer: over the ground when seen from above, else facing the camera; straight up and
 * down when `upright`.
 */
export function movedPlace(place: Vec3, ray: PointerRay, towards: Vec3, upright: boolean): Vec3 {
  if (upright) return [place[0], place[1] + nearestAlong(place, [0, 1, 0], ray), place[2]];
  const normal: Vec3 = Math.abs(towards[1]) > FLAT ? [0, 1, 0] : towards;
  const facing = dot(ray.direction, normal);
  if (Math.abs(facing) < 1e-6) return place;
  const t = dot(minus(place, ray.origin), normal) / facing;
  return t > 0 ? (ray.origin.map((o, a) => o + ray.direction[a] * t) as unknown as Vec3) : place;
}

/** What dragging a handle comes to. */
export function draggedTo(spot: HandleSpot, ray: PointerRay, towards: Vec3, upright: boolean): number | Vec3 {
  if (spot.kind === "distance") return nearestAlong(spot.from, spot.along, ray);
  if (spot.kind === "place") return movedPlace(spot.from, ray, towards, upright);
  return turnedTo(spot, movedPlace(spotPlace(spot), ray, towards, upright));
}

/** What a step along the axes comes to. */
export function steppedBy(spot: HandleSpot, by: Vec3): number | Vec3 {
  if (spot.kind === "distance") return spot.value + by[0] - by[2] + by[1];
  const moved = spotPlace(spot).map((v, a) => v + by[a]) as unknown as Vec3;
  return spot.kind === "place" ? moved : turnedTo(spot, moved);
}

/** The direction from a place to where its seed is; as it was when both are the same. */
function turnedTo({ from, along }: HandleSpot, tip: Vec3): Vec3 {
  const to = normalise(minus(tip, from));
  return to.some((v) => v !== 0) ? to : along;
}
