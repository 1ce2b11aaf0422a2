/** The curves that nodes span surfaces over. */
import type { Curves } from "../../../geometry/curves";
import type { Shape } from "../../../geometry/shape";
import type { NodeContext } from "../../define";

/** Null, with a warning, when none arrive; single points are told. @param to what cannot be done without: "revolve" */
export function pathsOf({ curves }: Shape, to: string, context: NodeContext, input = "shape"): Curves | null {
  if (!curves || curves.points.count === 0) {
    context.warn(`No curves arrive, so there is nothing to ${to}.`, { input });
    return null;
  }
  const single = curves.curveStarts.reduce(
    (n, start, k) => n + (curves.curveStarts[k + 1] - start === 1 ? 1 : 0),
    0,
  );
  if (single > 0) context.warn(`${single} curves of a single point have no skin.`, { input });
  return curves;
}
