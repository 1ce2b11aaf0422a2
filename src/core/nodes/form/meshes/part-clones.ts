/** Pieces of a mesh as clones. */
import { countUp, makeColumn, withColumns } from "../../../geometry/column";
import type { Mesh } from "../../../geometry/mesh";
import { makeSites, type Shape } from "../../../geometry/shape";
import { PART, type PartFrame } from "../../../meshes/parts";

/** A clone for each piece, where it was. @param pieces each about its own middle */
export function clonesOfParts(pieces: readonly Mesh[], frames: readonly PartFrame[]): Shape {
  const numbers = countUp(pieces.length);
  const sites = makeSites(pieces.length, ({ position, rotation }) => {
    for (const [i, { middle, turn }] of frames.entries()) {
      for (let a = 0; a < 3; a++) position[a][i] = middle[a];
      for (let l = 0; l < 4; l++) rotation[l][i] = turn[l];
    }
  });
  return {
    sites: withColumns(sites, {
      source: makeColumn("integer", [numbers]),
      [PART]: makeColumn("integer", [numbers]),
    }),
    sources: pieces.map((mesh) => ({ mesh })),
  };
}
