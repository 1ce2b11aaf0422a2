/** Outlines of what is above a level, by marching squares (d3-contour; W. Lorensen and H. Cline, 1987, in the plane). */
import { contours } from "d3-contour";
import { tick } from "../cancelling";
import type { Outline } from "../geometry/outlines";
import { reversed, twiceArea } from "../maths/polygon";

/**
 * x y of each point in cells, 0 0 the top left of the first one, y downwards. What is inside lies to the left with y upwards: edges run
 * counter-clockwise, holes clockwise. Beyond the values there is nothing, so outlines close along their border.
 * @param values row by row from the top
 */
export function tracedAt(values: Float32Array, across: number, level: number): Outline[] {
  tick(values.length);
  const rows = values.length / across;
  const found = contours().size([across, rows]).contour(Array.from(values), level);
  return found.coordinates.flatMap((rings) =>
    rings.map((ring, i) => {
      // The last point is the first one again; y runs downwards.
      const flat = ring.slice(0, -1).flat();
      return twiceArea(flat) < 0 === (i === 0) ? flat : reversed(flat);
    }),
  );
}
