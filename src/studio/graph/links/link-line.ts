/** A link's way as a line that can be drawn: soft corners, and two strands that twine around it where many elements run. */
import { type Place, type Route, softReach, softRoute } from "./link-route";

/** Radius of corners, units of the graph. */
const ROUND = 12;
/** Widest distance of a strand from the middle line, and the length of one twist. */
const WIDTH = 2.2;
const TWIST = 46;
/** From one sample of a strand to the next. */
const STEP = 7;
/** At its ends the strands lie on each other, so far. */
const CALM = 24;

/** The middle line as a path of SVG. */
export function lineOf(route: Route): string {
  const [from, to] = [route[0], route[route.length - 1]];
  if (route.length === 2) {
    const reach = softReach(from, to);
    return `M${from[0]} ${from[1]}C${from[0] + reach} ${from[1]} ${to[0] - reach} ${to[1]} ${to[0]} ${to[1]}`;
  }
  let d = `M${from[0]} ${from[1]}`;
  for (let i = 1; i < route.length - 1; i++) {
    const [near, far] = [cut(route[i], route[i - 1], route, i), cut(route[i], route[i + 1], route, i)];
    d += `L${near[0]} ${near[1]}Q${route[i][0]} ${route[i][1]} ${far[0]} ${far[1]}`;
  }
  return `${d}L${to[0]} ${to[1]}`;
}

/** Where the rounding of a corner begins on the way to its neighbour. */
function cut(corner: Place, towards: Place, route: Route, i: number): Place {
  const length = (a: Place, b: Place) => Math.hypot(b[0] - a[0], b[1] - a[1]);
  const room = Math.min(length(corner, route[i - 1]), length(corner, route[i + 1])) / 2;
  const far = length(corner, towards);
  const part = far > 0 ? Math.min(ROUND, room) / far : 0;
  return [corner[0] + (towards[0] - corner[0]) * part, corner[1] + (towards[1] - corner[1]) * part];
}

/** Places along the line, about STEP apart. */
function along(route: Route): Place[] {
  if (route.length === 2) return softRoute(route[0], route[1]);
  const places: Place[] = [route[0]];
  const straight = (to: Place) => {
    const from = places[places.length - 1];
    const steps = Math.max(1, Math.round(Math.hypot(to[0] - from[0], to[1] - from[1]) / STEP));
    for (let i = 1; i <= steps; i++)
      places.push([from[0] + ((to[0] - from[0]) * i) / steps, from[1] + ((to[1] - from[1]) * i) / steps]);
  };
  for (let i = 1; i < route.length - 1; i++) {
    const [near, far] = [cut(route[i], route[i - 1], route, i), cut(route[i], route[i + 1], route, i)];
    straight(near);
    for (const t of [0.25, 0.5, 0.75, 1]) {
      const s = 1 - t;
      places.push([
        s * s * near[0] + 2 * s * t * route[i][0] + t * t * far[0],
        s * s * near[1] + 2 * s * t * route[i][1] + t * t * far[1],
      ]);
    }
  }
  straight(route[route.length - 1]);
  return places;
}

/** Two strands around the middle line, as paths of SVG. */
export function strandsOf(route: Route): readonly [string, string] {
  const places = along(route);
  const lengths = [0];
  for (let i = 1; i < places.length; i++)
    lengths.push(
      lengths[i - 1] + Math.hypot(places[i][0] - places[i - 1][0], places[i][1] - places[i - 1][1]),
    );
  const whole = lengths[lengths.length - 1];
  const turns = Math.max(1, Math.round(whole / TWIST));
  const strand = (side: number) =>
    places
      .map(([x, y], i) => {
        const [before, after] = [places[Math.max(0, i - 1)], places[Math.min(places.length - 1, i + 1)]];
        const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
        const norm = Math.hypot(dx, dy) || 1;
        const calm = Math.min(1, lengths[i] / CALM, (whole - lengths[i]) / CALM);
        const off = side * WIDTH * calm * Math.sin((turns * Math.PI * lengths[i]) / (whole || 1));
        return `${i === 0 ? "M" : "L"}${(x - (dy / norm) * off).toFixed(1)} ${(y + (dx / norm) * off).toFixed(1)}`;
      })
      .join("");
  return [strand(1), strand(-1)];
}
