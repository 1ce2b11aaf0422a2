/** What is seen of a volume that nobody made a mesh of. */
import type { Mesh } from "../geometry/mesh";
import { levelName, USUAL_DENSITY, type Volume } from "../geometry/volume";
import { surfaceOf } from "../volumes/surface-nets";

const surfaces = new WeakMap<Volume, Mesh>();

/** Its surface, made once for each volume; null where there is none. */
export function surfaceOfVolume(volume: Volume): Mesh | null {
  const known = surfaces.get(volume);
  if (known) return known;
  const made = surfaceOf(volume, { level: levelName(volume) === "distance" ? 0 : USUAL_DENSITY });
  if (made) surfaces.set(volume, made);
  return made;
}
