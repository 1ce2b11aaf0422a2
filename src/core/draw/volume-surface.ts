/** What is seen of a volume of distances that nobody made a mesh of. */
import type { Mesh } from "../geometry/mesh";
import type { Volume } from "../geometry/volume";
import { surfaceOf } from "../volumes/surface-nets";

const surfaces = new WeakMap<Volume, Mesh>();

/** Its surface, made once for each volume; null where there is none. */
export function surfaceOfVolume(volume: Volume): Mesh | null {
  const known = surfaces.get(volume);
  if (known) return known;
  const made = surfaceOf(volume, { level: 0 });
  if (made) surfaces.set(volume, made);
  return made;
}
