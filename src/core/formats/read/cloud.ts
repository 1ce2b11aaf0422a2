/** Points with colours as sites. */
import { tick } from "../../cancelling";
import { type Domain, makeColumn, withColumns } from "../../geometry/column";
import { makeSites } from "../../geometry/shape";
import { FormatError } from "../format-error";

/**
 * @param xyz 3 numbers a point
 * @param rgba linear, 4 a point; parts that are not finite become 1
 * @throws FormatError when a position is not finite in float32
 */
export function cloudSites(xyz: ArrayLike<number>, rgba?: ArrayLike<number>): Domain {
  const count = Math.floor(xyz.length / 3);
  const sites = makeSites(count, ({ position }) => {
    for (let i = 0; i < count; i++) {
      tick();
      for (let a = 0; a < 3; a++) {
        const v = xyz[i * 3 + a];
        position[a][i] = v;
        if (!Number.isFinite(position[a][i]))
          throw new FormatError(
            `the position of point ${i + 1} is not a number${Number.isNaN(v) ? "" : " of a size that can be held"}.`,
          );
      }
    }
  });
  if (!rgba) return sites;
  const part = (v: number) => (Number.isFinite(v) ? v : 1);
  const lanes = [0, 1, 2, 3].map((l) =>
    Float32Array.from({ length: count }, (_, i) => part(rgba[i * 4 + l])),
  );
  return withColumns(sites, { color: makeColumn("color", lanes) });
}
