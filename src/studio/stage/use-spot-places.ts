import { type RefObject, useEffect } from "react";
import type { Vec3 } from "@/core/maths/vector";
import { projected } from "./sight";
import type { StageView } from "./stage-view";

/**
 * Children of `box` stand where `placeOf` puts the spot of the same number, in every picture that is
 * drawn, without React; those behind the camera are hidden. `placeOf` must be the same function
 * from render to render.
 */
export function useSpotPlaces<Spot>(
  view: RefObject<StageView | null>,
  box: RefObject<HTMLDivElement | null>,
  spots: readonly Spot[],
  placeOf: (spot: Spot) => Vec3,
): void {
  useEffect(() => {
    const stage = view.current;
    if (!stage || spots.length === 0) return;
    const put = () => {
      [...(box.current?.children ?? [])].forEach((child, i) => {
        const at = spots[i] && projected(stage.camera, placeOf(spots[i]));
        const style = (child as HTMLElement).style;
        style.display = at ? "" : "none";
        if (at) [style.left, style.top] = [`${at[0] * 100}%`, `${at[1] * 100}%`];
      });
    };
    put();
    return stage.whenDrawn(put);
  }, [view, box, spots, placeOf]);
}
